import type { BlockValues } from '../inputs/fieldAt.ts';
import type { LayeredTile } from '../surface/layeredSurface.ts';
import type { LayerInputs } from '../inputs/layerInputs.ts';
import { breakUp } from '../process/breakUp.ts';
import { shapesNeighbours, type LayerMask, type MaskCombine, type MaskShaping } from '../stack.ts';
import { TEXELS } from '../surface/texelBlock.ts';
import { fromPlane, maskStep } from './maskStep.ts';

/**
 * A mask before what looks at more than one texel: its steps laid onto each other, with levels and contrast.
 * @returns null where it is 1 everywhere
 */
export function maskSteps({ steps, shaping }: LayerMask, tile: LayeredTile, inputs: LayerInputs): BlockValues | null {
  const measures = steps.map((step) => ({ ...step, at: maskStep(step, tile, inputs) }));
  const { levels, contrast } = shaping;
  const isShaped = levels[0] !== 0 || levels[1] !== 1 || contrast !== 1;
  if (measures.length === 0 && !isShaped) return null;
  const value = new Float32Array(TEXELS);
  return (block, out) => {
    const { count } = block;
    out.fill(measures[0] && STARTS_AT_ZERO.has(measures[0].combine) ? 0 : 1, 0, count);
    for (const { at, combine, invert, strength } of measures) {
      at(block, value);
      if (invert) for (let i = 0; i < count; i++) value[i] = 1 - value[i]!;
      combineValues(combine, out, value, strength, count);
    }
    if (isShaped) shape(shaping, out, count);
  };
}

const STARTS_AT_ZERO: ReadonlySet<MaskCombine> = new Set(['add', 'most', 'screen', 'replace']);

/** Lays values onto a mask: m + (combined − m) · strength, kept within 0 to 1. */
function combineValues(
  combine: MaskCombine,
  mask: Float32Array,
  value: Float32Array,
  strength: number,
  count: number,
): void {
  const combined = COMBINE[combine];
  for (let i = 0; i < count; i++) {
    const m = mask[i]!;
    mask[i] = Math.max(0, Math.min(1, m + (combined(m, value[i]!) - m) * strength));
  }
}

const COMBINE: Readonly<Record<MaskCombine, (mask: number, value: number) => number>> = {
  multiply: (m, v) => m * v,
  add: (m, v) => m + v,
  subtract: (m, v) => m - v,
  least: (m, v) => Math.min(m, v),
  most: (m, v) => Math.max(m, v),
  screen: (m, v) => m + v - m * v,
  replace: (_m, v) => v,
};

function shape({ levels: [low, high], contrast }: MaskShaping, mask: Float32Array, count: number): void {
  const scale = 1 / (high - low || 1e-6);
  for (let i = 0; i < count; i++) {
    const stretched = Math.max(0, Math.min(1, (mask[i]! - low) * scale));
    mask[i] = Math.max(0, Math.min(1, (stretched - 0.5) * contrast + 0.5));
  }
}

/**
 * The whole mask of a layer.
 * @param planes has the mask under `planeOfMask(id)` after growing and blurring, where it is shaped so
 * @returns null where it is 1 everywhere
 */
export function layerMask(
  { id, mask }: { id: string; mask: LayerMask },
  tile: LayeredTile,
  inputs: LayerInputs,
): BlockValues | null {
  const { shaping } = mask;
  const before = shapesNeighbours(shaping)
    ? fromPlane(inputs.planes.get(planeOfMask(id)))
    : maskSteps(mask, tile, inputs);
  const broken = breakUp(shaping.breakup, tile);
  if (!before && !shaping.invert) return null;
  return (block, out) => {
    if (before) before(block, out);
    else out.fill(1, 0, block.count);
    broken?.(block, out);
    if (shaping.invert) for (let i = 0; i < block.count; i++) out[i] = 1 - out[i]!;
  };
}

export const planeOfMask = (layerId: string): string => `mask ${layerId}`;
