import type { Size } from '../../math/size.ts';
import { triangleArea } from '../../mesh/triangleArea.ts';
import type { Layout } from '../layout.ts';

/** Texels for each mesh unit of the surface. */
export interface TexelDensity {
  /** Mean over the surface. */
  mean: number;
  min: number;
  max: number;
  /** Of each triangle; 0 for one without area on the surface. */
  ofTriangle: Float32Array;
}

/** @param size of the map that lies on the layout's tile */
export function measureTexelDensity({ positions, uvs, indices }: Layout, { width, height }: Size): TexelDensity {
  const triangles = indices.length / 3;
  const ofTriangle = new Float32Array(triangles);
  let [weighted, total, min, max] = [0, 0, Infinity, 0];
  for (let t = 0; t < triangles; t++) {
    const area = triangleArea(positions, 3, indices, t);
    if (area === 0) continue;
    const density = Math.sqrt((triangleArea(uvs, 2, indices, t) * width * height) / area);
    ofTriangle[t] = density;
    weighted += density * area;
    total += area;
    min = Math.min(min, density);
    max = Math.max(max, density);
  }
  return total > 0 ? { mean: weighted / total, min, max, ofTriangle } : { mean: 0, min: 0, max: 0, ofTriangle };
}
