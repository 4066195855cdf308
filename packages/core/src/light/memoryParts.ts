/** What is laid into memory one after the other, each part at a round number. */
export class MemoryParts {
  bytes = 0;
  private readonly parts: { at: number; values: ArrayBufferView }[] = [];

  /** Values that may change until they are laid. @returns where they lie from the first part on */
  add(values: ArrayBufferView): number {
    this.parts.push({ at: this.bytes, values });
    return this.reserve(values.byteLength);
  }

  /** Leaves room, with 16 bytes to spare behind it. @returns where it lies from the first part on */
  reserve(bytes: number): number {
    const at = this.bytes;
    this.bytes = Math.ceil((at + bytes + 16) / 64) * 64;
    return at;
  }

  /** @param from the address of the first part */
  layInto(buffer: ArrayBufferLike, from: number): void {
    for (const { at, values } of this.parts) {
      const bytes = new Uint8Array(values.buffer, values.byteOffset, values.byteLength);
      new Uint8Array(buffer, from + at, values.byteLength).set(bytes);
    }
  }
}
