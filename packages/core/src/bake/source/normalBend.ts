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
  private readonly reader: MaterialReader;
  private readonly picture = new Float64Array(3);

  constructor(reader: MaterialReader) {
    this.reader = reader;
  }

  bend({ samples, hits, scene, normals, shading, behind }: Met): void {
    const { picture, reader } = this;
    const t = reader.tangents;
    const { normals: n, indices } = scene;
    shading.set(normals.subarray(0, samples.count * 3));
    for (let s = 0; s < samples.count; s++) {
      const triangle = hits.triangles[s]!;
      if (triangle < 0) continue;
      const wb = hits.weights[s * 2]!;
      const wc = hits.weights[s * 2 + 1]!;
      const wa = 1 - wb - wc;
      const space = reader.readNormal(triangle, wb, wc, samples.triangles[s]!, picture);
      if (!space) continue;
      const a = indices[triangle * 3]! * 3;
      const b = indices[triangle * 3 + 1]! * 3;
      const c = indices[triangle * 3 + 2]! * 3;
      const f = triangle * 12;
      const vN = [0, 1, 2].map((k) => n[a + k]! * wa + n[b + k]! * wb + n[c + k]! * wc) as Vector;
      const vT = [0, 1, 2].map((k) => t[f + k]! * wa + t[f + 4 + k]! * wb + t[f + 8 + k]! * wc) as Vector;
      const sign = t[f + 3]!;
      const bitangent: Vector = [
        sign * (vN[1] * vT[2] - vN[2] * vT[1]),
        sign * (vN[2] * vT[0] - vN[0] * vT[2]),
        sign * (vN[0] * vT[1] - vN[1] * vT[0]),
      ];
      const bent = (
        space === 'object'
          ? [...picture]
          : [0, 1, 2].map((k) => vT[k]! * picture[0]! + bitangent[k]! * picture[1]! + vN[k]! * picture[2]!)
      ) as Vector;
      const length = Math.hypot(...bent);
      if (!(length > 0)) continue;
      const turn = turnedOver(normals, s, vN, behind[s]!) ? -1 : 1;
      for (let k = 0; k < 3; k++) shading[s * 3 + k] = (bent[k]! / length) * turn;
    }
  }
}

type Vector = [number, number, number];

/** Whether a surface met from behind counts as turned over. */
function turnedOver(normals: Float32Array, s: number, vN: Vector, behind: number): boolean {
  if (!behind) return false;
  return normals[s * 3]! * vN[0] + normals[s * 3 + 1]! * vN[1] + normals[s * 3 + 2]! * vN[2] < 0;
}
