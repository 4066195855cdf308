import type { z } from 'zod';
import { apiError, PATHS, pathTo, type Endpoint, type Existing, type IntakeResult } from '@zographos/contracts';
import { router } from '../router.ts';

/** A failure as the server (or the way to it) tells it; the message is meant for the artist. */
export class CallError extends Error {
  readonly code: string;

  constructor(code: string, message: string) {
    super(message);
    this.code = code;
  }
}

const AWAY = new CallError(
  'service/away',
  'The server does not answer. Nothing is lost; start it again with npm start, and this page reconnects automatically.',
);

/**
 * Makes a call of the contract.
 * @throws CallError with the server's own sentence
 */
export async function call<E extends Endpoint>(
  endpoint: E,
  params: Record<string, string>,
  body?: z.input<E['body']>,
): Promise<z.infer<E['response']>> {
  let response: Response;
  try {
    response = await fetch(pathTo(endpoint, params), {
      method: endpoint.method.toUpperCase(),
      ...(body === undefined ? {} : { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }),
    });
  } catch {
    throw AWAY;
  }
  if (!response.ok) {
    const error = toCallError(response.status, await response.text());
    if (error.code === 'access/passphrase') askForPassphrase();
    throw error;
  }
  // The server answers by the same contract; a client of another version shows in the type of what is missing.
  return (response.status === 204 ? undefined : await response.json()) as z.infer<E['response']>;
}

/** Sends files to where they are made something of. @throws CallError with the server's own sentence */
export async function postFiles<Answer extends z.ZodType>(
  path: string,
  files: readonly File[],
  answer: Answer,
): Promise<z.infer<Answer>> {
  const form = new FormData();
  for (const file of files) form.append('files', file, file.name);
  const response = await fetch(path, { method: 'POST', body: form }).catch(() => {
    throw AWAY;
  });
  if (!response.ok) throw toCallError(response.status, await response.text());
  return answer.parse(await response.json());
}

/** Leads to the page for signing in, and from there back to where one was. */
function askForPassphrase(): void {
  const { name, fullPath } = router.currentRoute.value;
  if (name !== 'signIn') void router.push({ name: 'signIn', query: { to: fullPath } });
}

function toCallError(status: number, text: string): CallError {
  try {
    const { code, message } = apiError.parse(JSON.parse(text));
    return new CallError(code, message);
  } catch {
    return new CallError('service/internal', `The server answered with ${status} and no reason. Load the page again.`);
  }
}

/**
 * Sends files into a project.
 * @param files with the folders that tell files of one name apart
 * @param existing what becomes of files whose name is known; they are asked about by default
 * @param onProgress told the share of bytes sent, 0 to 1
 * @returns what is known of it by server-sent events is told under `upload`
 */
export function sendFiles(
  projectId: string,
  files: readonly { file: File; path: string }[],
  onProgress: (share: number) => void,
  existing?: Existing,
): { done: Promise<IntakeResult>; cancel: () => void; upload: string } {
  const upload = crypto.randomUUID();
  const request = new XMLHttpRequest();
  const done = new Promise<IntakeResult>((resolve, reject) => {
    const form = new FormData();
    for (const { file, path } of files) form.append('files', file, path);
    request.upload.onprogress = ({ loaded, total }) => onProgress(total > 0 ? loaded / total : 0);
    request.onload = () => {
      if (request.status === 200) resolve(JSON.parse(request.responseText) as IntakeResult);
      else reject(toCallError(request.status, request.responseText));
    };
    request.onerror = () => reject(AWAY);
    request.onabort = () =>
      reject(new CallError('run/cancelled', 'The import was cancelled; files that were read before stay.'));
    request.open('POST', PATHS.files(projectId, existing, upload));
    request.send(form);
  });
  return { done, cancel: () => request.abort(), upload };
}
