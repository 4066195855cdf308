/** What is nearest to the eye in each pixel of a square view. */
export interface ZBuffer {
  /** As told of the corners; −Infinity where nothing is. */
  depth: Float32Array;
  triangles: Uint32Array;
  /** Barycentric weights of the second and third corner. */
  weights: Float64Array;
}

/**
 * Draws triangles into a z-buffer, sampled in the middle of each pixel (Catmull, "A Subdivision Algorithm for Computer
 * Display of Curved Surfaces", 1974).
 * @param seen of each vertex x and y in pixels from the upper left, and a depth that is larger nearer to the eye and linear
 * over the view; NaN for one that is not before the eye, whose triangles are left out
 */
export function nearestTriangles(seen: Float32Array, indices: Uint32Array, side: number): ZBuffer {
  const depth = new Float32Array(side * side).fill(-Infinity);
  const triangles = new Uint32Array(side * side);
  const weights = new Float64Array(side * side * 2);
  for (let t = 0; t * 3 < indices.length; t++) {
    const [a, b, c] = [indices[t * 3]! * 3, indices[t * 3 + 1]! * 3, indices[t * 3 + 2]! * 3];
    const [ax, ay] = [seen[a]!, seen[a + 1]!];
    const [bx, by] = [seen[b]! - ax, seen[b + 1]! - ay];
    const [cx, cy] = [seen[c]! - ax, seen[c + 1]! - ay];
    const area = bx * cy - by * cx;
    if (area === 0 || Number.isNaN(area)) continue;
    const left = Math.max(0, Math.ceil(ax + Math.min(0, bx, cx) - 0.5));
    const last = Math.min(side - 1, Math.floor(ax + Math.max(0, bx, cx) - 0.5));
    const top = Math.max(0, Math.ceil(ay + Math.min(0, by, cy) - 0.5));
    const bottom = Math.min(side - 1, Math.floor(ay + Math.max(0, by, cy) - 0.5));
    for (let y = top; y <= bottom; y++) {
      for (let x = left; x <= last; x++) {
        const [px, py] = [x + 0.5 - ax, y + 0.5 - ay];
        const wb = (px * cy - py * cx) / area;
        const wc = (bx * py - by * px) / area;
        if (wb < 0 || wc < 0 || wb + wc > 1) continue;
        const z = seen[a + 2]! * (1 - wb - wc) + seen[b + 2]! * wb + seen[c + 2]! * wc;
        const at = y * side + x;
        if (z <= depth[at]!) continue;
        depth[at] = z;
        triangles[at] = t;
        weights[at * 2] = wb;
        weights[at * 2 + 1] = wc;
      }
    }
  }
  return { depth, triangles, weights };
}
