import type { KernelTeam } from '../../kernel/kernelTeam.ts';
import { CELL_MEASURES, type Cells } from './cellularNoise.ts';
import type { Places } from '../domain.ts';

/** Places of a task, and what a thread keeps: mirrored from kernel/picture/cellularNoise.ts. */
const TASK_PLACES = 256;
const ROOM_BYTES = 96 + 2401 * 64;

/** `cellsAt` in the kernel. */
export function cellularInKernel(team: KernelTeam, options: Cells, places: Places, out: Float32Array): void {
  const { dimensions, table, cells, jitter, measure, edge } = options;
  team.within(() => {
    const result = team.take(out.byteLength);
    const numbers = [
      ...places.map((axis, k) => (k < dimensions ? team.lay(axis) : 0)),
      ...[out.length, dimensions, cells, jitter, team.lay(table), CELL_MEASURES.indexOf(measure), ...edge, result],
    ];
    team.run('cellularNoiseOfPlaces', Math.ceil(out.length / TASK_PLACES), ROOM_BYTES, numbers);
    out.set(team.floats(result, out.length));
  });
}
