import type { HitBatch } from '../../trace/rays.ts';
import type { Scene } from '../../trace/scene.ts';
import type { BlockSamples } from '../coverage/coverage.ts';
import type { MaterialReader } from './sourceMaterials.ts';

/** What samples have met, whose normals are bent. */
interface Met {
  samples: BlockSamples;
  hits: HitBatch;
  scene: Scene;
  normals: Float32Array;
  /** Told the bent normals. */
  shading: Float32Array;
  behind: Uint8Array;
}

/** Bends the source's normals by its own normal pictures, as a MikkTSpace shader would (Mikkelsen 2008). */
export class NormalBend {
  private readonly bent: BentNormal;
  private readonly logWidths: Float32Array;

  constructor(reader: MaterialReader) {
    this.bent = new BentNormal(reader);
    this.logWidths = reader.logWidths;
  }

  bend({ samples, hits, scene, normals, shading, behind }: Met): void {
    const { bent } = this;
    shading.set(normals.subarray(0, samples.count * 3));
    for (let s = 0; s < samples.count; s++) {
      const triangle = hits.triangles[s]!;
      if (triangle < 0) continue;
      if (
        !bent.at(
          scene,
          triangle,
          hits.weights[s * 2]!,
          hits.weights[s * 2 + 1]!,
          this.logWidths[samples.triangles[s]!]!,
        )
      )
        continue;
      const turn = turnedOver(normals, s, bent.unbent, behind[s]!) ? -1 : 1;
      for (let k = 0; k < 3; k++) shading[s * 3 + k] = bent.normal[k]! * turn;
    }
  }
}

/** The normal of a surface as its normal picture bends it, place by place. */
export class BentNormal {
  /** Of the place asked for last: the unit normal, and the one that is not bent, of any length. */
  readonly normal = new Float64Array(3);
  readonly unbent = new Float64Array(3);
  private readonly reader: MaterialReader;
  private readonly picture = new Float64Array(3);
  private readonly tangent = new Float64Array(3);

  constructor(reader: MaterialReader) {
    this.reader = reader;
  }

  /**
   * @param wb, wc weights of the triangle's second and third corner
   * @param logWidth of the sample, which says how finely the picture is seen
   * @returns whether there is a picture that bends anything here
   */
  at({ normals: n, indices }: Scene, triangle: number, wb: number, wc: number, logWidth: number): boolean {
    const { picture, reader, unbent, tangent, normal } = this;
    const space = reader.readNormal(triangle, wb, wc, logWidth, picture);
    if (!space) return false;
    const t = reader.tangents;
    const wa = 1 - wb - wc;
    const a = indices[triangle * 3]! * 3;
    const b = indices[triangle * 3 + 1]! * 3;
    const c = indices[triangle * 3 + 2]! * 3;
    const f = triangle * 12;
    for (let k = 0; k < 3; k++) {
      unbent[k] = n[a + k]! * wa + n[b + k]! * wb + n[c + k]! * wc;
      tangent[k] = t[f + k]! * wa + t[f + 4 + k]! * wb + t[f + 8 + k]! * wc;
    }
    if (space === 'object') normal.set(picture);
    else {
      const sign = t[f + 3]!;
      for (let k = 0; k < 3; k++) {
        const next = (k + 1) % 3;
        const last = (k + 2) % 3;
        const bitangent = sign * (unbent[next]! * tangent[last]! - unbent[last]! * tangent[next]!);
        normal[k] = tangent[k]! * picture[0]! + bitangent * picture[1]! + unbent[k]! * picture[2]!;
      }
    }
    const length = Math.sqrt(normal[0]! ** 2 + normal[1]! ** 2 + normal[2]! ** 2);
    if (!(length > 0)) return false;
    for (let k = 0; k < 3; k++) normal[k]! /= length;
    return true;
  }
}

/** Whether a surface met from behind counts as turned over. */
function turnedOver(normals: Float32Array, s: number, unbent: Float64Array, behind: number): boolean {
  if (!behind) return false;
  return normals[s * 3]! * unbent[0]! + normals[s * 3 + 1]! * unbent[1]! + normals[s * 3 + 2]! * unbent[2]! < 0;
}
