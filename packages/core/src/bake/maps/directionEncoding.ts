import type { NormalSpace } from '../settings.ts';
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

  constructor(settings: NormalSpace) {
    this.settings = settings;
  }

  /**
   * @param directions x, y, z for each sample in object space; of any length, which is their weight
   * @returns false when the directions cancel out
   */
  mean(surface: Surface, from: number, to: number, directions: Float32Array, out: Float64Array): boolean {
    const { vN, vT, vector } = this;
    const { triangles } = surface.hits;
    const tangent = this.settings.space === 'tangent';
    let x = 0;
    let y = 0;
    let z = 0;
    for (let s = from; s < to; s++) {
      if (triangles[s]! < 0) continue;
      const dx = directions[s * 3]!;
      const dy = directions[s * 3 + 1]!;
      const dz = directions[s * 3 + 2]!;
      if (tangent) {
        surface.ofReceiver(surface.receiver.normals, s, vN);
        surface.tangentOf(s, vT);
        toTangentSpace(dx, dy, dz, vN, vT, surface.bitangentSign(s), vector);
        const weight = Math.sqrt(dx * dx + dy * dy + dz * dz);
        x += vector[0]! * weight;
        y += vector[1]! * weight;
        z += vector[2]! * weight;
      } else {
        x += dx;
        y += dy;
        z += dz;
      }
    }
    const length = Math.sqrt(x * x + y * y + z * z);
    if (!(length > 1e-9)) return false;
    this.store(x / length, y / length, z / length, out);
    return true;
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
    out[0] = x * 0.5 + 0.5;
    out[1] = y * (space === 'tangent' && up === 'down' ? -0.5 : 0.5) + 0.5;
    out[2] = z * 0.5 + 0.5;
  }
}
