import type { z } from 'zod';
import {
  apiError,
  ENDPOINTS,
  intakeResult,
  PATHS,
  pathTo,
  serverEvent,
  type ApiError,
  type Endpoint,
  type Existing,
  type IntakeResult,
  type Run,
  type ServerEvent,
} from '@zographos/contracts';

/** Whoever speaks to a server over HTTP, as the contract says. */
export class ApiClient {
  readonly address: string;

  constructor(address: string) {
    this.address = address;
  }

  /** A plain request; the path begins with a slash. */
  fetch(path: string, init?: RequestInit): Promise<Response> {
    return fetch(this.address + path, init);
  }

  /** Makes a call of the contract and checks the answer against it. Throws a Refusal for anything but success. */
  async call<E extends Endpoint>(
    endpoint: E,
    params: Record<string, string> = {},
    body?: z.input<E['body']>,
  ): Promise<z.infer<E['response']>> {
    const response = await this.fetch(pathTo(endpoint, params), {
      method: endpoint.method.toUpperCase(),
      ...(body === undefined ? {} : { body: JSON.stringify(body), headers: { 'Content-Type': 'application/json' } }),
    });
    if (!response.ok) throw await Refusal.of(response);
    const answer: unknown = response.status === 204 ? undefined : await response.json();
    return endpoint.response.parse(answer) as z.infer<E['response']>;
  }

  async send(
    projectId: string,
    files: Record<string, Uint8Array | string>,
    existing?: Existing,
  ): Promise<IntakeResult> {
    const form = new FormData();
    for (const [name, content] of Object.entries(files)) form.append('files', new Blob([content as BlobPart]), name);
    const response = await this.fetch(PATHS.files(projectId, existing), { method: 'POST', body: form });
    if (!response.ok) throw await Refusal.of(response);
    return intakeResult.parse(await response.json());
  }

  /** Follows a project's events. The generator ends with `stop`. */
  async events(projectId: string): Promise<{ next(): Promise<ServerEvent>; stop(): void }> {
    const aborter = new AbortController();
    const response = await this.fetch(PATHS.events(projectId), { signal: aborter.signal });
    const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader();
    let text = '';
    return {
      async next() {
        for (;;) {
          const end = text.indexOf('\n\n');
          if (end < 0) {
            const { value, done } = await reader.read();
            if (done) throw new Error('The events ended.');
            text += value;
            continue;
          }
          const line = text.slice(0, end);
          text = text.slice(end + 2);
          if (line.startsWith('data: ')) return serverEvent.parse(JSON.parse(line.slice(6)));
        }
      },
      stop: () => aborter.abort(),
    };
  }

  async runOf(projectId: string, runId: string): Promise<Run> {
    const { runs } = await this.call(ENDPOINTS.readProject, { id: projectId });
    return runs.find((run) => run.id === runId)!;
  }

  /** Waits until a run has ended, one way or another. */
  async ended(projectId: string, runId: string): Promise<Run> {
    for (;;) {
      const run = await this.runOf(projectId, runId);
      if (run.state !== 'queued' && run.state !== 'running') return run;
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
  }
}

/** An answer that is not a success: its status and what it says. */
export class Refusal extends Error {
  readonly status: number;
  readonly code: string;

  private constructor(status: number, { code, message }: ApiError) {
    super(message);
    this.status = status;
    this.code = code;
  }

  static async of(response: Response): Promise<Refusal> {
    return new Refusal(response.status, apiError.parse(await response.json()));
  }
}
