import { blur } from '../../../image/filter/blur.ts';
import { unit } from '../../direction.ts';
import type { LayeredSurface, LayeredTile } from '../../layeredSurface.ts';
import type { RunsMeasure } from '../../stack.ts';
import type { SourcePlaces } from '../sources.ts';
import { Flow } from './flow.ts';

/** A drop has left all but a twentieth of what it carried when it stops. */
const LEAVES = Math.log(20);
/** What one millimetre of a run at its beginning counts in a plane of whole numbers. */
const UNITS = 256;

/**
 * Lets some of the drops of a process run, and adds what they leave on a tile to its texels. A drop leaves matter in
 * proportion to what it still carries, so that along its way s it leaves exp(−s / length). Whole numbers are added, so the
 * order of drops and the number of threads change nothing.
 * @param plane told, for each texel of the tile, what was left there: millimetres of a run at its beginning, times 256
 * @param from, to which drops run
 * @returns how far all drops went, and what they left and still carried, in the same measure: their sum is what was released
 */
export function runDrops(
  measure: RunsMeasure,
  { triangles, weights }: SourcePlaces,
  tile: LayeredTile,
  plane: Int32Array,
  from = 0,
  to = triangles.length,
): { left: number; carried: number } {
  const { length } = measure;
  const flow = flowOf(tile.surface, measure);
  const { indices } = tile.surface.receiver;
  const { uvs } = tile;
  const { width, height } = tile.size;
  // Runs are blurred to their width afterwards: a third of it is close enough.
  const finest = Math.max(0.5 * tile.texel, measure.width / 3);
  let left = 0;
  let carried = 0;
  /** What is to be added to a texel once the drop has left it. */
  let rest = 0;
  let texel = -1;
  let onWay: number;
  const flush = (next: number): void => {
    const units = Math.floor(rest);
    if (texel >= 0 && units > 0) Atomics.add(plane, texel, units);
    rest -= units;
    texel = next;
  };
  const leave = (
    triangle: number,
    fromB: number,
    fromC: number,
    toB: number,
    toC: number,
    piece: number,
    before: number,
  ): void => {
    onWay = before + piece;
    const corner = triangle * 3;
    const a = indices[corner]! * 2;
    const b = indices[corner + 1]! * 2;
    const c = indices[corner + 2]! * 2;
    const ua = uvs[a]! * width;
    const va = (1 - uvs[a + 1]!) * height;
    const ub = uvs[b]! * width - ua;
    const vb = (1 - uvs[b + 1]!) * height - va;
    const uc = uvs[c]! * width - ua;
    const vc = (1 - uvs[c + 1]!) * height - va;
    const parts = Math.max(1, Math.ceil(piece / finest));
    let carriedHere = Math.exp(-before / length);
    const fades = Math.exp(-piece / parts / length);
    for (let i = 0; i < parts; i++) {
      const share = (i + 0.5) / parts;
      const wb = fromB + (toB - fromB) * share;
      const wc = fromC + (toC - fromC) * share;
      const amount = carriedHere * (1 - fades) * length;
      carriedHere *= fades;
      left += amount;
      const x = Math.floor(ua + ub * wb + uc * wc);
      const y = Math.floor(va + vb * wb + vc * wc);
      const to = x >= 0 && y >= 0 && x < width && y < height ? y * width + x : -1;
      if (to !== texel) flush(to);
      rest += amount * UNITS;
    }
  };
  for (let i = from; i < to; i++) {
    onWay = 0;
    rest = 0;
    flow.run(triangles[i]!, weights[i * 2]!, weights[i * 2 + 1]!, length * LEAVES, leave);
    flush(-1);
    carried += Math.exp(-onWay / length) * length;
  }
  return { left, carried };
}

/** Kept as long as it is asked for again: a slider that changes how runs look need not find neighbours anew. */
let lastFlow: { of: Float32Array; key: string; flow: Flow } | null = null;

function flowOf(surface: LayeredSurface, { down, wander, wanderSize, clings, seed }: RunsMeasure): Flow {
  const settings = { down: unit(down), wander, wanderSize, clings, seed };
  const key = JSON.stringify(settings);
  const of = surface.receiver.positions;
  if (lastFlow?.of !== of || lastFlow.key !== key) lastFlow = { of, key, flow: new Flow(surface, settings) };
  return lastFlow.flow;
}

/**
 * What runs cover: the matter on each square millimetre, spread to the width of a run. Where a single one begins it covers
 * as much as `amount` says; runs that lie over each other cover more, and never more than all.
 * @param plane as `runDrops` tells it
 * @param states 0 for texels that no surface covers
 */
export function coveredByRuns(
  plane: Int32Array,
  states: Uint8Array,
  { width: wide, amount }: RunsMeasure,
  tile: LayeredTile,
): Float32Array {
  const { size, texel } = tile;
  const sigma = wide / 2.5 / texel;
  const density = { ...size, channels: 1, data: Float32Array.from(plane, (units) => units / UNITS / (texel * texel)) };
  const there = { ...size, channels: 1, data: Float32Array.from(states, (state) => (state === 0 ? 0 : 1)) };
  const spread = blur(density, sigma, 'clamp').data;
  const within = sigma > 0 ? blur(there, sigma, 'clamp').data : there.data;
  // The middle of a line that a Gaussian has spread is 1 / (√(2π) σ) of it.
  const single = Math.sqrt(2 * Math.PI) * Math.max(wide / 2.5, texel * 0.4);
  const bare = Math.log(1 - Math.min(0.999, amount));
  for (let i = 0; i < spread.length; i++) {
    spread[i] = states[i] === 0 ? 0 : 1 - Math.exp((bare * spread[i]! * single) / Math.max(0.05, within[i]!));
  }
  return spread;
}
