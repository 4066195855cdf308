import { randomNumbers } from '../../math/randomNumbers.ts';
import type { Size } from '../../math/size.ts';
import { triangleArea } from '../../mesh/triangleArea.ts';
import { tileOfTriangle } from '../../uv/udim.ts';
import { layeredTile, type LayeredSurface } from '../surface/layeredSurface.ts';
import type { LayerInputs } from '../inputs/layerInputs.ts';
import { maskSteps } from '../mask/layerMask.ts';
import { PLAIN_SHAPING, type SourceStep } from '../stack.ts';
import { TEXELS, TexelBlock } from '../surface/texelBlock.ts';

/** Places on a surface: the triangle of each, and the weights of its second and third corner. */
export interface SourcePlaces {
  triangles: Uint32Array;
  weights: Float32Array;
}

/** Tells what layers are made of on a tile at a size. */
export type InputsAt = (tile: number, size: Size) => Promise<LayerInputs>;

/** Longest side of the maps that sources are found by, whatever the size of the stack: so they are the same at every size. */
const SOURCE_SIDE = 1024;

/** The size that maps are asked for at, to find sources by. */
export function sourceSize({ width, height }: Size): Size {
  const scale = SOURCE_SIDE / Math.max(width, height);
  return { width: Math.max(1, Math.round(width * scale)), height: Math.max(1, Math.round(height * scale)) };
}

/** Places that are looked at for each one that is wanted, at most. */
const MOST_TRIES = 64;
/** Enough to find a rivet by, and the most that is tried. */
const [FEWEST_PLACES, MOST_PLACES] = [200_000, 8_000_000];
/** Places that are looked at together. */
const ROUND = 65_536;

/**
 * Finds places on a surface where something begins: evenly by area, taken with the probability that a mask tells there. The
 * places depend on the surface, the mask and the seed alone.
 * @param steps of the mask; everywhere without any
 * @param count how many are wanted; fewer are found where the mask is small
 * @throws as `composeTile`
 */
export async function findSources(
  { from: steps, count, seed }: { from: readonly SourceStep[]; count: number; seed: number },
  surface: LayeredSurface,
  size: Size,
  inputsAt: InputsAt,
): Promise<SourcePlaces> {
  const draw = evenPlaces(surface, seed);
  const accept = randomNumbers(seed ^ 0x51ed270b);
  const asks = await askers(steps, surface, sourceSize(size), inputsAt);
  const triangles = new Uint32Array(count);
  const weights = new Float32Array(count * 2);
  const round: SourcePlaces = { triangles: new Uint32Array(ROUND), weights: new Float32Array(ROUND * 2) };
  const chances = new Float32Array(ROUND);
  const most = Math.min(MOST_PLACES, Math.max(FEWEST_PLACES, count * MOST_TRIES));
  let found = 0;
  for (let tried = 0; tried < most && found < count; tried += ROUND) {
    draw(round);
    await asks(round, chances);
    for (let i = 0; i < ROUND && found < count; i++) {
      if (accept() >= chances[i]!) continue;
      triangles[found] = round.triangles[i]!;
      weights[found * 2] = round.weights[i * 2]!;
      weights[found * 2 + 1] = round.weights[i * 2 + 1]!;
      found++;
    }
  }
  const places = { triangles: triangles.subarray(0, found), weights: weights.subarray(0, found * 2) };
  return inOrderOfTriangles(places, surface.receiver.indices.length / 3);
}

/** What follows them stays in the same part of memory. @param count of all triangles */
function inOrderOfTriangles({ triangles, weights }: SourcePlaces, count: number): SourcePlaces {
  const begins = new Uint32Array(count + 1);
  for (const triangle of triangles) begins[triangle + 1]!++;
  for (let t = 0; t < count; t++) begins[t + 1]! += begins[t]!;
  const sorted: SourcePlaces = {
    triangles: new Uint32Array(triangles.length),
    weights: new Float32Array(weights.length),
  };
  triangles.forEach((triangle, i) => {
    const to = begins[triangle]!++;
    sorted.triangles[to] = triangle;
    sorted.weights[to * 2] = weights[i * 2]!;
    sorted.weights[to * 2 + 1] = weights[i * 2 + 1]!;
  });
  return sorted;
}

/** Draws places evenly by area (Turk, "Generating random points in triangles", Graphics Gems, 1990). */
function evenPlaces({ receiver }: LayeredSurface, seed: number): (places: SourcePlaces) => void {
  const { positions, indices } = receiver;
  const ends = new Float64Array(indices.length / 3);
  let area = 0;
  for (let t = 0; t < ends.length; t++) ends[t] = area += triangleArea(positions, 3, indices, t);
  const random = randomNumbers(seed);
  return ({ triangles, weights }) => {
    for (let i = 0; i < triangles.length; i++) {
      triangles[i] = firstAbove(ends, random() * area);
      const root = Math.sqrt(random());
      const second = random();
      weights[i * 2] = root * (1 - second);
      weights[i * 2 + 1] = root * second;
    }
  };
}

function firstAbove(ends: Float64Array, value: number): number {
  let [low, high] = [0, ends.length - 1];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (ends[middle]! > value) high = middle;
    else low = middle + 1;
  }
  return low;
}

/** Asks a mask at places that lie anywhere over the tiles. */
async function askers(
  steps: readonly SourceStep[],
  surface: LayeredSurface,
  size: Size,
  inputsAt: InputsAt,
): Promise<(places: SourcePlaces, chances: Float32Array) => Promise<void>> {
  if (steps.length === 0) {
    return (_places, chances) => {
      chances.fill(1);
      return Promise.resolve();
    };
  }
  const { uvs, indices } = surface.receiver;
  const tileOf = Uint16Array.from({ length: indices.length / 3 }, (_, t) => tileOfTriangle(surface.receiver, t) ?? 0);
  const tiles = new Map<number, { block: TexelBlock; mask: ReturnType<typeof maskSteps> }>();
  for (const number of new Set(tileOf)) {
    if (number === 0 || uvs.length === 0) continue;
    const tile = layeredTile(surface, number, size);
    const mask = maskSteps({ steps, shaping: PLAIN_SHAPING }, tile, await inputsAt(number, size));
    tiles.set(number, { block: new TexelBlock(tile), mask });
  }
  const values = new Float32Array(TEXELS);
  return ({ triangles, weights }, chances) => {
    chances.fill(0);
    const byTile = new Map<number, number[]>();
    triangles.forEach((triangle, i) => {
      const tile = tileOf[triangle]!;
      const places = byTile.get(tile) ?? [];
      places.push(i);
      byTile.set(tile, places);
    });
    for (const [number, places] of byTile) {
      const there = tiles.get(number);
      for (let from = 0; there && from < places.length; from += TEXELS) {
        const some = places.slice(from, from + TEXELS);
        there.block.standOn(
          Uint32Array.from(some, (i) => triangles[i]!),
          Float64Array.from({ length: some.length * 2 }, (_, k) => weights[some[k >> 1]! * 2 + (k & 1)]!),
        );
        there.mask?.(there.block, values);
        some.forEach((i, k) => (chances[i] = there.mask ? values[k]! : 1));
      }
    }
    return Promise.resolve();
  };
}
