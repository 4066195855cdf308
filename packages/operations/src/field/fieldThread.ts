import { fieldRows, type FieldOptions } from '@zographos/core/pattern';
import { KernelTeam, useKernelTeam } from '@zographos/core/kernel';
import type { Size } from '@zographos/core/math';
import { hasKernel, newKernel } from '../kernel/loadKernel.ts';
import { answerJobs } from '../threads/teamThread.ts';

/** Some rows of a field, to be written into shared memory. */
export interface FieldPart {
  options: FieldOptions;
  size: Size;
  from: number;
  to: number;
  out: Float32Array;
}

// Each thread of a field has a kernel of its own, for patterns that the kernel does not know are drawn by the thread itself.
if (hasKernel()) useKernelTeam(new KernelTeam(newKernel(), 1));

answerJobs(({ options, size, from, to, out }: FieldPart): null => {
  fieldRows(options, size, from, to, out.subarray(from * size.width, to * size.width));
  return null;
});
