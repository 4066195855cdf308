import type { Size } from '@zographos/core/math';
import { fieldRows, type FieldOptions } from '@zographos/core/pattern';
import { answerJobs } from '../threads/teamThread.ts';

/** Some rows of a field, to be written into shared memory. */
export interface FieldPart {
  options: FieldOptions;
  size: Size;
  from: number;
  to: number;
  out: Float32Array;
}

answerJobs(({ options, size, from, to, out }: FieldPart): null => {
  fieldRows(options, size, from, to, out.subarray(from * size.width, to * size.width));
  return null;
});
