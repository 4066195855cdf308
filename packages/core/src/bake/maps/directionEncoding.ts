import { channelsOfAxes, type NormalSpace } from '../../image/convention.ts';
import type { Surface } from '../source/surface.ts';
import { CornerFrames } from '../tangents/cornerFrames.ts';

/**
 * Averages directions over a texel's samples in the space a map is asked in, and stores them as d · 0.5 + 0.5.
 * Each sample is turned into its own frame before averaging.
 */
export class DirectionEncoding {
  private readonly settings: NormalSpace;
  private readonly vN = new Float64Array(3);
  private readonly frame = new CornerFrames();
  private readonly sum = new Float64Array(3);
  /** The channel that x, y and z go into. */
  private readonly places: readonly number[];

  constructor(settings: NormalSpace) {
    this.settings = settings;
    this.places = channelsOfAxes(settings.axes);
  }

  /**
   * @param directions x, y, z for each sample in object space; of any length, which is their weight
   * @returns false when the directions cancel out
   */
  mean(surface: Surface, from: number, to: number, directions: Float32Array, out: Float64Array): boolean {
    const { sum } = this;
    sum.fill(0);
    if (this.settings.space === 'tangent') this.addInFrames(surface, from, to, directions);
    else this.add(surface, from, to, directions);
    return this.stored(sum, 0, out);
  }

  /**
   * Stores one of several directions, made a unit vector.
   * @returns false when it has no length
   */
  stored(directions: Float32Array | Float64Array, number: number, out: Float64Array): boolean {
    const x = directions[number * 3]!;
    const y = directions[number * 3 + 1]!;
    const z = directions[number * 3 + 2]!;
    const length = Math.sqrt(x * x + y * y + z * z);
    if (!(length > 1e-9)) return false;
    this.store(x / length, y / length, z / length, out);
    return true;
  }

  private add({ hits }: Surface, from: number, to: number, directions: Float32Array): void {
    for (let s = from; s < to; s++) {
      if (hits.triangles[s]! < 0) continue;
      for (let k = 0; k < 3; k++) this.sum[k]! += directions[s * 3 + k]!;
    }
  }

  /**
   * Samples on one triangle are turned together, in the frame at their middle: within a texel frames change so little
   * that it makes no difference that could be stored.
   */
  private addInFrames({ hits, samples, receiver }: Surface, from: number, to: number, directions: Float32Array): void {
    const { sum, frame } = this;
    const { triangles, weights } = samples;
    let s = from;
    while (s < to) {
      const triangle = triangles[s]!;
      let dx = 0;
      let dy = 0;
      let dz = 0;
      let wb = 0;
      let wc = 0;
      let count = 0;
      for (; s < to && triangles[s] === triangle; s++) {
        if (hits.triangles[s]! < 0) continue;
        dx += directions[s * 3]!;
        dy += directions[s * 3 + 1]!;
        dz += directions[s * 3 + 2]!;
        wb += weights[s * 2]!;
        wc += weights[s * 2 + 1]!;
        count++;
      }
      if (count === 0) continue;
      if (frame.triangle !== triangle || frame.receiver !== receiver) frame.load(receiver, triangle);
      frame.add(wb / count, wc / count, dx, dy, dz, sum);
    }
  }

  /** The receiver's own surface, for texels that met nothing: no detail rather than a hole. */
  own(surface: Surface, sample: number, out: Float64Array): void {
    if (this.settings.space === 'tangent') {
      this.store(0, 0, 1, out);
      return;
    }
    surface.ofReceiver(surface.receiver.normals, sample, this.vN);
    const [x, y, z] = [this.vN[0]!, this.vN[1]!, this.vN[2]!];
    const length = Math.sqrt(x * x + y * y + z * z) || 1;
    this.store(x / length, y / length, z / length, out);
  }

  private store(x: number, y: number, z: number, out: Float64Array): void {
    const { space, y: up } = this.settings;
    const { places } = this;
    out[places[0]!] = levelled(x) * 0.5 + 0.5;
    out[places[1]!] = levelled(y) * (space === 'tangent' && up === 'down' ? -0.5 : 0.5) + 0.5;
    out[places[2]!] = levelled(z) * 0.5 + 0.5;
  }
}

/** Less than half a step of sixteen bits: what single precision leaves of zero. */
const LEVEL = 1.5e-5;

/** So that what is flat is stored as flat: a hair below zero would round to 127 in eight bits, and not to 128. */
const levelled = (value: number): number => (value > -LEVEL && value < LEVEL ? 0 : value);
