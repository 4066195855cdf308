import { smoothStep } from '../../image/planes.ts';
import { fraction } from './fraction.ts';

/** Round dots, every other row pushed by half if they are staggered: 1 in a dot. */
export function dots(
  u: number,
  v: number,
  step: number,
  aspect: number,
  {
    columns,
    rows,
    size,
    staggered,
    soft,
  }: { columns: number; rows: number; size: number; staggered: boolean; soft: number },
): number {
  const row = Math.floor(v * rows);
  const x = fraction(u * columns + (staggered && row % 2 !== 0 ? 0.5 : 0)) - 0.5;
  const y = fraction(v * rows) - 0.5;
  // In tile widths.
  const far = Math.hypot(x / columns, (y / rows) * aspect);
  const radius = size / 2 / Math.max(columns, rows / aspect);
  const edge = Math.max(step, soft * radius);
  return 1 - smoothStep(radius - edge / 2, radius + edge / 2, far);
}
