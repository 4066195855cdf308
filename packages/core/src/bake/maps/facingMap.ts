import { triangleFace } from '../../mesh/triangleFace.ts';
import type { MapBaker } from './mapBaker.ts';

/** The way the source's faces look, without any smoothing: object space, d · 0.5 + 0.5. */
export function facingMap(): MapBaker {
  const face = new Float64Array(9);
  const sum = new Float64Array(3);
  const store = (out: Float64Array): void => {
    const length = Math.hypot(sum[0]!, sum[1]!, sum[2]!) || 1;
    for (let k = 0; k < 3; k++) out[k] = (sum[k]! / length) * 0.5 + 0.5;
  };
  return {
    channels: 3,
    texel(surface, from, to, out) {
      sum.fill(0);
      for (let s = from; s < to; s++) {
        const triangle = surface.hits.triangles[s]!;
        if (triangle < 0) continue;
        triangleFace(surface.scene, triangle, face);
        const length = Math.hypot(face[6]!, face[7]!, face[8]!) || 1;
        for (let k = 0; k < 3; k++) sum[k]! += face[6 + k]! / length;
      }
      store(out);
    },
    missed(surface, sample, out) {
      surface.ofReceiver(surface.receiver.normals, sample, sum);
      store(out);
    },
  };
}
