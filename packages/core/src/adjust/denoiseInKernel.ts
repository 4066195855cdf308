import { alongColumns, alongRows, tableOf } from '../image/filter/blurInKernel.ts';
import { boxOf, reachOf } from '../image/filter/extendedBox.ts';
import type { Border } from '../image/filter/resample.ts';
import type { Image } from '../image/image.ts';
import { wrapped } from '../image/sample.ts';
import { strideOf, type KernelTeam } from '../kernel/kernelTeam.ts';

/** Pictures of a band that are held at once. */
const HELD = 3;

/**
 * `denoise` in the kernel, in bands of rows with as many about them as all windows reach: nothing but the result leaves
 * its memory. Variances are those of single precision, as in plain code: means differ in their last bit.
 */
export function denoiseInKernel(team: KernelTeam, image: Image, sigma: number, edge: number, border: Border): Image {
  const { height, channels, data } = image;
  const box = boxOf(sigma);
  const row = image.width * channels;
  const stride = strideOf(row);
  // Two windows, one after the other.
  const about = 2 * reachOf(box);
  const most = Math.floor(team.budgetBytes / HELD / stride);
  const rows = Math.max(1, Math.min(height, Math.max(about, most - 2 * about)));
  const result = new Float32Array(data.length);
  team.within(() => {
    const [picture, gains, shifts] = Array.from({ length: HELD }, () => team.take((rows + 2 * about) * stride)) as [
      number,
      number,
      number,
    ];
    const across = tableOf(team, image.width, box, border);
    const line = (r: number): Float32Array => team.floats(picture + r * stride, row);
    for (let top = 0; top < height; top += rows) {
      const own = Math.min(rows, height - top);
      // A border that does not repeat is one of the band's as well.
      const first = border === 'repeat' ? top - about : Math.max(0, top - about);
      const end = border === 'repeat' ? top + own + about : Math.min(height, top + own + about);
      const count = end - first;
      for (let r = 0; r < count; r++) {
        const y = wrapped(first + r, height, border);
        line(r).set(data.subarray(y * row, (y + 1) * row));
      }
      team.within(() => {
        // What lies beyond the rows about the band is of no weight in it.
        const down = tableOf(team, count, box, 'clamp');
        const blurBoth = (): void => {
          for (const at of [gains, shifts]) {
            alongRows(team, at, stride, image, count, box, across);
            alongColumns(team, at, stride, row, count, box, down);
          }
        };
        team.run('squaresOfRow', count, 0, [picture, gains, shifts, stride, row]);
        blurBoth();
        team.run('gainsOfRow', count, 0, [gains, shifts, stride, row, edge * edge]);
        blurBoth();
        team.run('guidedRow', count, 0, [picture, gains, shifts, stride, row]);
      });
      for (let r = 0; r < own; r++) result.set(line(top - first + r), (top + r) * row);
    }
  });
  return { ...image, data: result };
}
