import { parentPort } from 'node:worker_threads';
import { fieldRows, type FieldOptions, type Size } from '@zographos/core';

/** Some rows of a field, to be written into shared memory. */
export interface FieldPart {
  options: FieldOptions;
  size: Size;
  from: number;
  to: number;
  out: Float32Array;
}

parentPort!.on('message', ({ options, size, from, to, out }: FieldPart) => {
  fieldRows(options, size, from, to, out.subarray(from * size.width, to * size.width));
  parentPort!.postMessage('done');
});
