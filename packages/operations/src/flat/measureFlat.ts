import { repetitionOf } from '@zographos/core/measure';
import { tileSeam } from '@zographos/core/seamless';
import type { FlatMap } from './flatMap.ts';
import type { FlatReport } from './report.ts';

/** How good flat maps are: what their borders show, and how much they show that they repeat. */
export function measureFlat(maps: readonly FlatMap[], seconds: number): FlatReport {
  const shown = maps.find(({ kind }) => kind === 'basecolor') ?? maps[0]!;
  return {
    seams: Object.fromEntries(
      maps.map(({ kind, image }) => [
        kind,
        { across: finite(tileSeam(image, 'across')), up: finite(tileSeam(image, 'up')) },
      ]),
    ),
    repetition: { of: shown.kind, ...repetitionOf(shown.image) },
    seconds,
  };
}

const finite = (value: number): number => (Number.isFinite(value) ? value : 1000);
