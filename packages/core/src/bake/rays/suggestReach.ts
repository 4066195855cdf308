import type { Tracer } from '../../trace/rays.ts';
import type { Scene } from '../../trace/scene.ts';
import { measureGaps, type Gaps, type MeasuredSurface } from './gaps.ts';
import type { Reach } from '../settings.ts';

export interface SuggestedReach extends Reach {
  /** Share of the places measured, 0 to 1, where the source was found at all. */
  found: number;
}

/** Places on the receiver that are measured. */
const PLACES = 40_000;
/** Room beyond the measured distances. */
export const MARGIN = 1.2;
/** The least reach, as a share of the receiver's size. */
export const LEAST = 0.0005;
/** Share of the distances the reach must cover; the rest are rays that went past an edge. */
const COVERED = 0.998;

/**
 * Measures how far rays must reach so that the receiver finds the source.
 * @returns reach in mesh units; with nothing found, 1 % of the receiver's diagonal and `found` 0
 */
export function suggestReach(surface: MeasuredSurface, scene: Scene, tracers: readonly Tracer[]): SuggestedReach {
  return reachOfGaps(measureGaps(surface, scene, tracers, PLACES));
}

/** The reach that covers measured gaps. */
export function reachOfGaps({ above, below, size }: Gaps): SuggestedReach {
  const out = [...above].filter((gap) => gap >= 0);
  const inside = [...below].filter((gap) => gap >= 0);
  const found = above.length > 0 ? (out.length + inside.length) / above.length : 0;
  if (found === 0) return { out: tidy(size * 0.01), in: tidy(size * 0.01), found };
  return {
    out: tidy(Math.max(size * LEAST, quantile(out, COVERED) * MARGIN)),
    in: tidy(Math.max(size * LEAST, quantile(inside, COVERED) * MARGIN)),
    found,
  };
}

function quantile(values: number[], share: number): number {
  if (values.length === 0) return 0;
  values.sort((a, b) => a - b);
  return values[Math.min(values.length - 1, Math.ceil(values.length * share) - 1)]!;
}

/** Rounds up to two digits, so that a suggestion reads well and never falls short. */
function tidy(value: number): number {
  const step = 10 ** (Math.floor(Math.log10(value)) - 1);
  return Number((Math.ceil(value / step) * step).toPrecision(2));
}
