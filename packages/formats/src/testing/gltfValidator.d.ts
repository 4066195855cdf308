declare module 'gltf-validator' {
  /** Severity 0 is an error, 1 a warning, 2 information, 3 a hint. */
  export function validateBytes(
    bytes: Uint8Array,
    options?: { externalResourceFunction: (uri: string) => Promise<Uint8Array> },
  ): Promise<{
    issues: {
      numErrors: number;
      numWarnings: number;
      messages: { code: string; message: string; severity: number; pointer: string }[];
    };
  }>;
}
