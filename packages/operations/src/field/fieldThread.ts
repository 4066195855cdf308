import { fieldDrawer, type FieldDrawer, type FieldOptions } from '@zographos/core/pattern';
import { KernelTeam, useKernelTeam } from '@zographos/core/kernel';
import type { Size } from '@zographos/core/math';
import { hasKernel, newKernel } from '../kernel/loadKernel.ts';
import { answerJobs } from '../threads/teamThread.ts';

/** Some rows of a field, to be written into shared memory. */
export interface FieldPart {
  /** The same for all parts that a thread draws. */
  options: FieldOptions;
  size: Size;
  from: number;
  to: number;
  /** Values of the whole field, and numbers of its elements where they are asked for. */
  values: Float32Array;
  elements: Uint32Array | null;
}

// Each thread of a field has a kernel of its own, for patterns that the kernel does not know are drawn by the thread itself.
if (hasKernel()) useKernelTeam(new KernelTeam(newKernel(), 1));

let drawer: FieldDrawer | null = null;

answerJobs(({ options, size, from, to, values, elements }: FieldPart): null => {
  // What a pattern prepares, as the strokes of fibres, is prepared once.
  drawer ??= fieldDrawer(options, size);
  const [begin, end] = [from * size.width, to * size.width];
  drawer.values(from, to, values.subarray(begin, end));
  if (elements) drawer.elements(from, to, elements.subarray(begin, end));
  return null;
});
