import { srgbToLinear } from '@zographos/core/color';
import type { LayoutCheck } from '@zographos/core/uv';
import { COLD, HOT, type Heat } from './layoutPainter.ts';
import type { LaidMeshes } from './layoutWorker.ts';

/** What a layout may be coloured by: what is wrong with it, its texel density, or its stretch. */
export const HEATS = ['findings', 'density', 'stretch'] as const;
export type HeatName = (typeof HEATS)[number];
export const HEAT_LABELS: Record<HeatName, string> = { findings: 'Findings', density: 'Density', stretch: 'Stretch' };

/** From −1 to 1: half as dense to twice as dense as the mean, or not stretched to twice; findings are 0 or 1. */
export function heatOf(name: HeatName, check: LayoutCheck): Heat {
  const values = new Float32Array(check.triangles);
  if (name === 'density') {
    const { mean, ofTriangle } = check.density;
    ofTriangle.forEach((value, t) => {
      values[t] = value > 0 ? Math.max(-1, Math.min(1, Math.log2(value / mean))) : 0;
    });
  } else if (name === 'stretch') {
    check.stretch.ofTriangle.forEach((value, t) => {
      values[t] = Math.max(0, Math.min(1, value - 1));
    });
  } else {
    check.overlaps.flagged.forEach((flag, t) => {
      values[t] = flag;
    });
    for (const t of [...check.flipped, ...check.outside]) values[t] = 1;
  }
  return { values, heated: name !== 'findings' };
}

/** How much a colour counts on the model, of 255. */
const [FULL, CHOSEN] = [200, 170];

/** Colours of the triangles on the model: the heat, and over it what is chosen. */
export function tintOf({ islandOf }: LaidMeshes, chosen: ReadonlySet<number>, heat: Heat | null): Uint8Array {
  const tint = new Uint8Array(islandOf.length * 4);
  const [cold, hot, azurite] = [COLD, HOT, [0.18, 0.38, 0.72] as const].map((color) =>
    color.map((value) => Math.round(srgbToLinear(value) * 255)),
  );
  for (let t = 0; t < islandOf.length; t++) {
    const value = heat?.values[t] ?? 0;
    if (chosen.has(islandOf[t]!)) tint.set([...azurite!, CHOSEN], t * 4);
    else if (heat?.heated) tint.set([...(value < 0 ? cold : hot)!, Math.round(Math.abs(value) * FULL)], t * 4);
    else if (value > 0) tint.set([...hot!, FULL], t * 4);
  }
  return tint;
}
