import { smoothStep } from '../../image/planes.ts';
import { fraction } from './fraction.ts';

/** Lines of a grid: 1 on a line. */
export function grid(
  u: number,
  v: number,
  step: number,
  { columns, rows, line, soft }: { columns: number; rows: number; line: number; soft: number },
): number {
  const across = lineAt(u * columns, line, Math.max(step * columns, soft * line));
  return Math.max(across, lineAt(v * rows, line, Math.max(step * rows, soft * line)));
}

function lineAt(place: number, line: number, edge: number): number {
  const far = 0.5 - Math.abs(fraction(place) - 0.5);
  return 1 - smoothStep(line / 2 - edge / 2, line / 2 + edge / 2, far);
}
