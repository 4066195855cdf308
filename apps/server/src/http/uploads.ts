import type { IncomingMessage } from 'node:http';
import busboy from 'busboy';
import { ZographosError } from '@zographos/core/errors';
import type { BlobStore } from '../blobs/blobStore.ts';
import type { IncomingFile } from '../intake/takeInFile.ts';

/**
 * Streams the files of a multipart request into the blob store, one after the other.
 * @throws limit/bytes for a file beyond the limit, input/bad-request for anything that is not such a request
 */
export async function receiveFiles(
  request: IncomingMessage,
  blobs: BlobStore,
  maxBytes: number,
): Promise<IncomingFile[]> {
  let parser: busboy.Busboy;
  try {
    const limits = { files: 500, fields: 0 };
    parser = busboy({ headers: request.headers, defParamCharset: 'utf8', preservePath: true, limits });
  } catch {
    throw new ZographosError('input/bad-request', 'Files are sent as multipart/form-data.');
  }
  const files: Promise<IncomingFile>[] = [];
  let turn: Promise<unknown> = Promise.resolve();
  await new Promise<void>((resolve, reject) => {
    // What storing says is told as it is: a full disk, or a database that is away.
    const fail = (error: unknown): void => {
      request.unpipe(parser);
      request.resume();
      reject(error instanceof Error ? error : unreadable());
    };
    parser.on('file', (_field, stream, { filename }) => {
      const name = nameOf(filename ?? '');
      const stored = turn.then(() => blobs.write(stream, maxBytes, `“${name}”`)).then((blob) => ({ name, blob }));
      turn = stored.catch(() => {});
      stored.catch(fail);
      files.push(stored);
    });
    parser.on('close', () => resolve());
    parser.on('error', () => fail(unreadable()));
    request.on('aborted', () => fail(unreadable()));
    request.pipe(parser);
  });
  const received = await Promise.all(files);
  if (received.length === 0) throw new ZographosError('input/bad-request', 'No file was sent. Choose at least one.');
  return received;
}

/**
 * What a file is called: with the folders it lies in, for they tell files of one name apart, but without what leads out
 * of them, and without the folders of another system.
 * @example nameOf('C:\\kit\\low.obj') // 'low.obj'
 */
function nameOf(sent: string): string {
  const own = sent.slice(sent.lastIndexOf('\\') + 1);
  const parts = own.split('/').filter((part) => part !== '' && part !== '.' && part !== '..');
  return parts.join('/') || 'unnamed';
}

const unreadable = (): ZographosError =>
  new ZographosError('input/bad-request', 'The upload broke off. Nothing was kept; send the files again.');
