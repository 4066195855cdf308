import type { Mesh } from './mesh.ts';
import { angleWeightedNormals } from './normals.ts';
import { weldPositions } from './weld.ts';

/**
 * Mean curvature at each vertex in one over mesh units: positive where the surface is convex, zero where it is flat
 * or a saddle is even. Each triangle's edges say how much the normal turns along them; vertices weigh their triangles
 * by area (the trace of the curvature tensor of Rusinkiewicz, "Estimating Curvatures and Their Derivatives on
 * Triangle Meshes", 2004).
 * @param radius averages over everything connected within this distance, in mesh units; 0 does not average
 */
export function meanCurvature(mesh: Pick<Mesh, 'positions' | 'indices'>, radius: number): Float32Array {
  const { positions, indices } = mesh;
  const weld = weldPositions(positions);
  // Smooth over hard edges, so that these count as the bends they are.
  const normals = angleWeightedNormals(positions, indices, weld);
  const vertices = positions.length / 3;
  const sum = new Float64Array(vertices);
  const weight = new Float64Array(vertices);
  const area = new Float64Array(1);
  for (let t = 0; t < indices.length; t += 3) {
    const turn = turnOf(positions, normals, indices[t]! * 3, indices[t + 1]! * 3, indices[t + 2]! * 3, area);
    for (let k = 0; k < 3; k++) {
      const v = weld[indices[t + k]!]!;
      sum[v]! += turn;
      weight[v]! += area[0]!;
    }
  }
  const own = new Float32Array(vertices);
  for (let v = 0; v < vertices; v++) own[v] = weight[v]! > 0 ? sum[v]! / weight[v]! : 0;
  const result = radius > 0 ? averaged(mesh, weld, own, weight, radius) : own;
  return Float32Array.from(weld, (v) => result[v]!);
}

/** Mean curvature of one triangle from how its corners' normals differ, times its area. */
function turnOf(p: Float32Array, n: Float32Array, a: number, b: number, c: number, area: Float64Array): number {
  const ux = p[b]! - p[a]!;
  const uy = p[b + 1]! - p[a + 1]!;
  const uz = p[b + 2]! - p[a + 2]!;
  const vx = p[c]! - p[a]!;
  const vy = p[c + 1]! - p[a + 1]!;
  const vz = p[c + 2]! - p[a + 2]!;
  const x = uy * vz - uz * vy;
  const y = uz * vx - ux * vz;
  const z = ux * vy - uy * vx;
  const twice = Math.sqrt(x * x + y * y + z * z);
  area[0] = twice / 2;
  if (!(twice > 0)) return 0;
  // The divergence of the normal over the triangle is the sum of n · ∇φ over its corners, φ being 1 at a corner and
  // 0 along the edge across: ∇φ is that edge turned inwards, over twice the area. The mean curvature is half of it.
  const turn = (at: number, ex: number, ey: number, ez: number): number =>
    n[at]! * (y * ez - z * ey) + n[at + 1]! * (z * ex - x * ez) + n[at + 2]! * (x * ey - y * ex);
  const sum = turn(a, vx - ux, vy - uy, vz - uz) - turn(b, vx, vy, vz) + turn(c, ux, uy, uz);
  return sum / (twice * 4);
}

/** Area-weighted mean over the vertices that edges reach within the radius. */
function averaged(
  { positions, indices }: Pick<Mesh, 'positions' | 'indices'>,
  weld: Uint32Array,
  own: Float32Array,
  weight: Float64Array,
  radius: number,
): Float32Array {
  const neighbours = edgesOf(indices, weld, own.length);
  const result = new Float32Array(own.length);
  const seen = new Int32Array(own.length).fill(-1);
  const queue = new Int32Array(own.length);
  for (let v = 0; v < own.length; v++) {
    if (weld[v] !== v || weight[v] === 0) continue;
    let sum = 0;
    let total = 0;
    let end = 0;
    queue[end++] = v;
    seen[v] = v;
    for (let at = 0; at < end; at++) {
      const here = queue[at]!;
      sum += own[here]! * weight[here]!;
      total += weight[here]!;
      for (let i = neighbours.starts[here]!; i < neighbours.starts[here + 1]!; i++) {
        const next = neighbours.ends[i]!;
        if (seen[next] === v) continue;
        seen[next] = v;
        if (distance(positions, v, next) <= radius) queue[end++] = next;
      }
    }
    result[v] = sum / total;
  }
  return result;
}

function distance(p: Float32Array, a: number, b: number): number {
  const x = p[a * 3]! - p[b * 3]!;
  const y = p[a * 3 + 1]! - p[b * 3 + 1]!;
  const z = p[a * 3 + 2]! - p[b * 3 + 2]!;
  return Math.sqrt(x * x + y * y + z * z);
}

/** The welded vertices that each welded vertex shares an edge with; an edge of two triangles is listed twice. */
function edgesOf(
  indices: Uint32Array,
  weld: Uint32Array,
  vertices: number,
): { starts: Uint32Array; ends: Uint32Array } {
  const starts = new Uint32Array(vertices + 1);
  const each = (tell: (from: number, to: number) => void): void => {
    for (let t = 0; t < indices.length; t += 3) {
      for (let k = 0; k < 3; k++) {
        const from = weld[indices[t + k]!]!;
        const to = weld[indices[t + ((k + 1) % 3)]!]!;
        if (from === to) continue;
        tell(from, to);
        tell(to, from);
      }
    }
  };
  each((from) => starts[from + 1]!++);
  for (let v = 0; v < vertices; v++) starts[v + 1]! += starts[v]!;
  const next = starts.slice(0, vertices);
  const ends = new Uint32Array(starts[vertices]!);
  each((from, to) => (ends[next[from]!++] = to));
  return { starts, ends };
}
