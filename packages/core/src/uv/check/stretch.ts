import { triangleArea } from '../../mesh/triangleArea.ts';
import type { Layout } from '../layout.ts';

/** How a layout stretches what is painted on it (Sander, Snyder, Gortler, Hoppe 2001). */
export interface Stretch {
  /** Root mean square stretch over the surface and all directions; 1 is none. */
  l2: number;
  /** The greatest stretch anywhere; 1 is none. */
  linf: number;
  /** L2 of each triangle, against the layout's own mean scale; infinite where it has no area in the layout. */
  ofTriangle: Float32Array;
}

/**
 * Measures stretch with the layout scaled to the surface's own area, so that 1 means a map that keeps lengths.
 * Triangles without area on the surface do not count; those without area in the layout make L2 and L∞ infinite.
 * Source of the formulas: Sander et al., "Texture Mapping Progressive Meshes", SIGGRAPH 2001, section 3.
 */
export function measureStretch(layout: Layout): Stretch {
  const { positions, uvs, indices } = layout;
  const triangles = indices.length / 3;
  let inSpace = 0;
  let inLayout = 0;
  for (let t = 0; t < triangles; t++) {
    const area = triangleArea(positions, 3, indices, t);
    if (area === 0) continue;
    inSpace += area;
    inLayout += triangleArea(uvs, 2, indices, t);
  }
  const scale = Math.sqrt(inLayout / inSpace);
  const ofTriangle = new Float32Array(triangles);
  const singular = new Float64Array(2);
  let squares = 0;
  let linf = 0;
  for (let t = 0; t < triangles; t++) {
    const area = triangleArea(positions, 3, indices, t);
    if (area === 0) {
      ofTriangle[t] = 1;
      continue;
    }
    singularValues(layout, t, singular);
    const greatest = singular[0]! * scale;
    const least = singular[1]! * scale;
    const square = (greatest * greatest + least * least) / 2;
    ofTriangle[t] = Math.sqrt(square);
    squares += square * area;
    linf = Math.max(linf, greatest);
  }
  return { l2: inSpace > 0 ? Math.sqrt(squares / inSpace) : 1, linf: inSpace > 0 ? linf : 1, ofTriangle };
}

/** The greatest and the least length on the surface of a unit vector in the layout. */
function singularValues({ positions, uvs, indices }: Layout, t: number, out: Float64Array): void {
  const [a, b, c] = [indices[t * 3]!, indices[t * 3 + 1]!, indices[t * 3 + 2]!];
  const s1 = uvs[b * 2]! - uvs[a * 2]!;
  const t1 = uvs[b * 2 + 1]! - uvs[a * 2 + 1]!;
  const s2 = uvs[c * 2]! - uvs[a * 2]!;
  const t2 = uvs[c * 2 + 1]! - uvs[a * 2 + 1]!;
  const twice = s1 * t2 - s2 * t1;
  if (twice === 0) {
    out.fill(Infinity);
    return;
  }
  let [ss, tt, st] = [0, 0, 0];
  for (let k = 0; k < 3; k++) {
    const p = positions[b * 3 + k]! - positions[a * 3 + k]!;
    const q = positions[c * 3 + k]! - positions[a * 3 + k]!;
    const alongS = (p * t2 - q * t1) / twice;
    const alongT = (q * s1 - p * s2) / twice;
    ss += alongS * alongS;
    tt += alongT * alongT;
    st += alongS * alongT;
  }
  const root = Math.sqrt((ss - tt) ** 2 + 4 * st * st);
  out[0] = Math.sqrt((ss + tt + root) / 2);
  out[1] = Math.sqrt(Math.max(0, (ss + tt - root) / 2));
}
