import { blur } from '../../../image/filter/blur.ts';
import { unit } from '../../surface/direction.ts';
import type { LayeredSurface, LayeredTile } from '../../surface/layeredSurface.ts';
import type { RunsMeasure } from '../../stack.ts';
import type { SourcePlaces } from '../sources.ts';
import { after, before, Flow, type Way } from './flow.ts';

/** A drop has left all but a twentieth of what it carried when it stops. */
const LEAVES = Math.log(20);
/** What one millimetre of a run at its beginning counts in a plane of whole numbers. */
const UNITS = 256;

/** What some drops have left, on whatever tile, and what they still carried: together what was released. */
export interface DropsRun {
  left: number;
  carried: number;
}

/**
 * Makes the drops of a process ready to run over a tile. A drop leaves matter in proportion to what it still carries, so that
 * along its way s it leaves exp(−s / length). Whole numbers are added, so the order of drops and the number of threads change
 * nothing.
 * @param plane told, for each texel of the tile, what was left there: millimetres of a run at its beginning, times 256
 * @returns lets the drops of a range run, and adds what they leave to the plane
 * @example dropsOnTile(measure, starts, tile, plane)(0, starts.triangles.length);
 */
export function dropsOnTile(
  measure: RunsMeasure,
  { triangles, weights }: SourcePlaces,
  tile: LayeredTile,
  plane: Int32Array,
): (from: number, to: number) => DropsRun {
  const flow = flowOf(tile.surface, measure);
  const trail = new Trail(measure, tile, plane);
  return (from, to) => {
    let carried = 0;
    for (let i = from; i < to; i++) {
      const [triangle, b, c] = [triangles[i]!, weights[i * 2]!, weights[i * 2 + 1]!];
      trail.begin(triangle, b, c);
      flow.run(triangle, b, c, measure.length * LEAVES, trail);
      carried += trail.end();
    }
    return { left: (to - from) * measure.length - carried, carried };
  };
}

/** What one drop after the other leaves on a tile. */
class Trail implements Way {
  /** Where each corner of a triangle lies on the tile, in texels: x and y. */
  private readonly texels: Float32Array;
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
    this.texels = texelsOfTriangles(tile);
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
    this.texel = this.texelAt(triangle, 0, b, c);
    this.strides = this.onWay = this.rest = 0;
  }

  leave(
    triangle: number,
    first: number,
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
      const next = this.texelAt(triangle, first, fromB + (toB - fromB) * share, fromC + (toC - fromC) * share);
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
  private texelAt(triangle: number, first: number, b: number, c: number): number {
    const { texels, width, height } = this;
    const p = triangle * 6 + first * 2;
    const q = triangle * 6 + after(first) * 2;
    const r = triangle * 6 + before(first) * 2;
    const a = 1 - b - c;
    const x = texels[p]! * a + texels[q]! * b + texels[r]! * c;
    const y = texels[p + 1]! * a + texels[q + 1]! * b + texels[r + 1]! * c;
    return x >= 0 && y >= 0 && x < width && y < height ? (y | 0) * width + (x | 0) : -1;
  }
}

function texelsOfTriangles({ uvs, size: { width, height }, surface: { receiver } }: LayeredTile): Float32Array {
  const { indices } = receiver;
  const texels = new Float32Array(indices.length * 2);
  for (let corner = 0; corner < indices.length; corner++) {
    const vertex = indices[corner]!;
    texels[corner * 2] = uvs[vertex * 2]! * width;
    texels[corner * 2 + 1] = (1 - uvs[vertex * 2 + 1]!) * height;
  }
  return texels;
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
 * @param plane as `dropsOnTile` fills it
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
