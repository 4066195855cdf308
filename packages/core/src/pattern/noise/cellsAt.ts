import { smoothStep } from '../../image/planes.ts';
import { kernelTeam } from '../../kernel/kernelTeam.ts';
import { cellularNoise, type CellDistances, type Cells } from './cellularNoise.ts';
import { cellularInKernel } from './cellularInKernel.ts';
import type { Places } from '../domain.ts';

/**
 * Values 0 to 1 of a cellular noise at a list of places. In the kernel in single precision from places near by: off by
 * less than 1e-5, but for what lies on a border between two cells.
 */
export function cellsAt(options: Cells): (places: Places, out: Float32Array) => void {
  const { table, dimensions, jitter, cells } = options;
  const distances = cellularNoise(table, dimensions, jitter);
  return (places, out) => {
    const team = kernelTeam();
    if (team) {
      cellularInKernel(team, options, places, out);
      return;
    }
    const [x, y, z, w] = places;
    for (let i = 0; i < out.length; i++) {
      out[i] = measured(options, distances(x[i]! * cells, y[i]! * cells, z[i]! * cells, w[i]! * cells));
    }
  };
}

/** What becomes of the distances of a cellular noise, 0 to 1. */
export function measured({ measure, edge }: Cells, { nearest, second, id }: CellDistances): number {
  switch (measure) {
    case 'nearest':
      return Math.min(1, nearest);
    case 'second':
      return Math.min(1, second);
    case 'border':
      return Math.min(1, second - nearest);
    case 'flat':
      return id;
    case 'cracks':
      // Half the difference is the distance to the border, as long as both points are about opposite.
      return smoothStep(edge[0], edge[1], (second - nearest) / 2);
  }
}
