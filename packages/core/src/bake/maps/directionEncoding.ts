import { channelsOfAxes, type NormalSpace } from '../settings.ts';
import type { Surface } from '../surface.ts';
import { toTangentSpace } from '../tangentSpace.ts';

/**
 * Averages directions over a texel's samples in the space a map is asked in, and stores them as d · 0.5 + 0.5.
 * Each sample is turned into its own frame before averaging.
 */
export class DirectionEncoding {
  private readonly settings: NormalSpace;
  private readonly vN = new Float64Array(3);
  private readonly vT = new Float64Array(3);
  private readonly vector = new Float64Array(3);
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
    const x = sum[0]!;
    const y = sum[1]!;
    const z = sum[2]!;
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

  private addInFrames({ hits, samples, receiver }: Surface, from: number, to: number, directions: Float32Array): void {
    const { vN, vT, vector, sum } = this;
    const { indices, normals: n, tangents: t } = receiver;
    for (let s = from; s < to; s++) {
      if (hits.triangles[s]! < 0) continue;
      const corner = samples.triangles[s]! * 3;
      const a = indices[corner]! * 3;
      const b = indices[corner + 1]! * 3;
      const c = indices[corner + 2]! * 3;
      const f = corner * 4;
      const wb = samples.weights[s * 2]!;
      const wc = samples.weights[s * 2 + 1]!;
      const wa = 1 - wb - wc;
      vN[0] = n[a]! * wa + n[b]! * wb + n[c]! * wc;
      vN[1] = n[a + 1]! * wa + n[b + 1]! * wb + n[c + 1]! * wc;
      vN[2] = n[a + 2]! * wa + n[b + 2]! * wb + n[c + 2]! * wc;
      vT[0] = t[f]! * wa + t[f + 4]! * wb + t[f + 8]! * wc;
      vT[1] = t[f + 1]! * wa + t[f + 5]! * wb + t[f + 9]! * wc;
      vT[2] = t[f + 2]! * wa + t[f + 6]! * wb + t[f + 10]! * wc;
      const dx = directions[s * 3]!;
      const dy = directions[s * 3 + 1]!;
      const dz = directions[s * 3 + 2]!;
      toTangentSpace(dx, dy, dz, vN, vT, t[f + 3]!, vector);
      const weight = Math.sqrt(dx * dx + dy * dy + dz * dz);
      sum[0]! += vector[0]! * weight;
      sum[1]! += vector[1]! * weight;
      sum[2]! += vector[2]! * weight;
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
    out[places[0]!] = x * 0.5 + 0.5;
    out[places[1]!] = y * (space === 'tangent' && up === 'down' ? -0.5 : 0.5) + 0.5;
    out[places[2]!] = z * 0.5 + 0.5;
  }
}
