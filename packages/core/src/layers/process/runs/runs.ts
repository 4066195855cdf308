import { blur } from '../../../image/filter/blur.ts';
import { unit } from '../../surface/direction.ts';
import type { LayeredSurface, LayeredTile } from '../../surface/layeredSurface.ts';
import type { RunsMeasure } from '../../stack.ts';
import type { SourcePlaces } from '../sources.ts';
import { Flow, type Way } from './flow.ts';

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
 * @returns what all left, on whatever tile, and what they still carried, in the same measure: their sum is what was released
 */
export function runDrops(
  measure: RunsMeasure,
  { triangles, weights }: SourcePlaces,
  tile: LayeredTile,
  plane: Int32Array,
  from = 0,
  to = triangles.length,
): { left: number; carried: number } {
  const flow = flowOf(tile.surface, measure);
  const trail = new Trail(measure, tile, plane);
  let carried = 0;
  for (let i = from; i < to; i++) {
    const [triangle, b, c] = [triangles[i]!, weights[i * 2]!, weights[i * 2 + 1]!];
    trail.begin(triangle, b, c);
    flow.run(triangle, b, c, measure.length * LEAVES, trail);
    carried += trail.end();
  }
  return { left: (to - from) * measure.length - carried, carried };
}

/** What one drop after the other leaves on a tile. */
class Trail implements Way {
  private readonly indices: Uint32Array;
  private readonly uvs: Float32Array;
  private readonly width: number;
  private readonly height: number;
  private readonly plane: Int32Array;
  private readonly length: number;
  private readonly stride: number;
  /** What is left on each stride of the way, in units. */
  private readonly portions: Float64Array;
  private strides = 0;
  private onWay = 0.1;
  private texel = -1;
  /** What is to be added to the texel once the drop has left it, in units. */
  private rest = 0.1;

  constructor({ length, width }: RunsMeasure, tile: LayeredTile, plane: Int32Array) {
    this.indices = tile.surface.receiver.indices;
    this.uvs = tile.uvs;
    this.width = tile.size.width;
    this.height = tile.size.height;
    this.plane = plane;
    this.length = length;
    // Runs are blurred to their width afterwards, with a deviation of 0.4 of it: half of it is close enough.
    this.stride = Math.max(0.5 * tile.texel, width / 2);
    const count = Math.ceil((length * LEAVES) / this.stride) + 1;
    this.portions = Float64Array.from({ length: count }, (_, i) => this.carries(i) - this.carries(i + 1));
  }

  /** What a drop still carries after so many strides, in units. */
  private carries(strides: number): number {
    return UNITS * this.length * Math.exp((-strides * this.stride) / this.length);
  }

  begin(triangle: number, b: number, c: number): void {
    this.texel = this.texelAt(triangle, b, c);
    this.strides = this.onWay = this.rest = 0;
  }

  leave(
    triangle: number,
    fromB: number,
    fromC: number,
    toB: number,
    toC: number,
    length: number,
    before: number,
  ): void {
    const { stride, portions } = this;
    const onWay = before + length;
    this.onWay = onWay;
    // What is left on a stride lies at its middle.
    for (let middle = (this.strides + 0.5) * stride; middle <= onWay; middle += stride) {
      const share = (middle - before) / length;
      const next = this.texelAt(triangle, fromB + (toB - fromB) * share, fromC + (toC - fromC) * share);
      if (next !== this.texel) this.moveTo(next);
      this.rest += portions[this.strides++]!;
    }
  }

  /** @returns what the drop still carries, in millimetres of a run at its beginning */
  end(): number {
    const carries = this.carries(this.onWay / this.stride);
    // The last stride may have been cut short, before its middle or beyond it.
    this.rest = Math.max(0, this.rest + this.carries(this.strides) - carries);
    this.moveTo(-1);
    return carries / UNITS;
  }

  private moveTo(next: number): void {
    const units = Math.floor(this.rest);
    if (this.texel >= 0 && units > 0) Atomics.add(this.plane, this.texel, units);
    this.rest -= units;
    this.texel = next;
  }

  /** −1 on other tiles. */
  private texelAt(triangle: number, b: number, c: number): number {
    const { uvs, indices, width, height } = this;
    const corner = triangle * 3;
    const i = indices[corner]! * 2;
    const j = indices[corner + 1]! * 2;
    const k = indices[corner + 2]! * 2;
    const a = 1 - b - c;
    const u = (uvs[i]! * a + uvs[j]! * b + uvs[k]! * c) * width;
    const v = (1 - (uvs[i + 1]! * a + uvs[j + 1]! * b + uvs[k + 1]! * c)) * height;
    return u >= 0 && v >= 0 && u < width && v < height ? (v | 0) * width + (u | 0) : -1;
  }
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
  const density = { ...size, channels: 1, data: new Float32Array(plane.length) };
  const there = { ...size, channels: 1, data: new Float32Array(plane.length) };
  for (let i = 0; i < plane.length; i++) {
    density.data[i] = plane[i]! / UNITS / (texel * texel);
    there.data[i] = states[i] === 0 ? 0 : 1;
  }
  const edges = tile.surface.repeats ? 'repeat' : 'clamp';
  const spread = blur(density, sigma, edges).data;
  const within = sigma > 0 ? blur(there, sigma, edges).data : there.data;
  // The middle of a line that a Gaussian has spread is 1 / (√(2π) σ) of it.
  const single = Math.sqrt(2 * Math.PI) * Math.max(wide / 2.5, texel * 0.4);
  const bare = Math.log(1 - Math.min(0.999, amount));
  for (let i = 0; i < spread.length; i++) {
    spread[i] = states[i] === 0 ? 0 : 1 - Math.exp((bare * spread[i]! * single) / Math.max(0.05, within[i]!));
  }
  return spread;
}
