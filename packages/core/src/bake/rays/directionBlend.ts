import type { Image } from '../../image/image.ts';
import { bilinear } from '../../image/sample.ts';
import { boundsOf, diagonal } from '../../mesh/bounds.ts';
import { eachSharedEdge, nextCorner } from '../../mesh/edges.ts';
import { sharedCopyFloat32, sharedCopyUint32, sharedUint32 } from '../../sharedArrays.ts';

/**
 * Where rays leave along smooth normals (weight 0) and where along the mesh's own (weight 1), so that flat faces do
 * not get skewed detail and hard edges no gap: by the distance from the nearest hard edge, or by a painted mask.
 */
export type DirectionBlend = EdgeBlend | { kind: 'mask'; mask: Image };

export interface EdgeBlend {
  kind: 'edges';
  /** Mesh units from a hard edge to where a ray is wholly its face's own. */
  width: number;
  /** Both ends of each hard edge. */
  segments: Float32Array;
  /** Where the edges near each triangle begin in `near`; one more entry than triangles. */
  starts: Uint32Array;
  near: Uint32Array;
}

interface Surface {
  positions: Float32Array;
  normals: Float32Array;
  indices: Uint32Array;
}

/** Normals that differ by less than this along an edge are one. */
const SAME_NORMAL = 1e-3;

/**
 * Finds the hard edges of a mesh (where normals differ from one side to the other) and those near each triangle.
 * @param width mesh units
 */
export function edgeBlend(surface: Surface, width: number): EdgeBlend {
  const segments = hardEdges(surface);
  const { positions, indices } = surface;
  const triangles = indices.length / 3;
  const cells = new Cells(Math.max(width, diagonal(boundsOf(positions)) / 128));
  const box = new Float64Array(6);
  for (let e = 0; e < segments.length / 6; e++) {
    boxAround(segments, [e * 6, e * 6 + 3], 0, box);
    cells.each(box, (key) => cells.put(key, e));
  }
  const starts = sharedUint32(triangles + 1);
  const near: number[] = [];
  for (let t = 0; t < triangles; t++) {
    boxAround(positions, [indices[t * 3]! * 3, indices[t * 3 + 1]! * 3, indices[t * 3 + 2]! * 3], width, box);
    const found = new Set<number>();
    cells.each(box, (key) => cells.at(key).forEach((e) => found.add(e)));
    near.push(...[...found].sort((a, b) => a - b));
    starts[t + 1] = near.length;
  }
  return { kind: 'edges', width, segments, starts, near: sharedCopyUint32(near) };
}

function boxAround(values: Float32Array, points: number[], margin: number, box: Float64Array): void {
  for (let k = 0; k < 3; k++) {
    box[k] = Math.min(...points.map((at) => values[at + k]!)) - margin;
    box[3 + k] = Math.max(...points.map((at) => values[at + k]!)) + margin;
  }
}

/** What lies in each cube of a grid through space. */
class Cells {
  private readonly side: number;
  private readonly content = new Map<number, number[]>();

  constructor(side: number) {
    this.side = side;
  }

  each(box: Float64Array, visit: (key: number) => void): void {
    const [x0, y0, z0, x1, y1, z1] = [...box].map((value) => Math.floor(value / this.side)) as [
      number,
      number,
      number,
      number,
      number,
      number,
    ];
    for (let x = x0; x <= x1; x++)
      for (let y = y0; y <= y1; y++) for (let z = z0; z <= z1; z++) visit((x * 4096 + y) * 4096 + z);
  }

  put(key: number, value: number): void {
    const there = this.content.get(key);
    if (there) there.push(value);
    else this.content.set(key, [value]);
  }

  at(key: number): number[] {
    return this.content.get(key) ?? [];
  }
}

function hardEdges({ positions, normals, indices }: Surface): Float32Array {
  const hard: number[] = [];
  const differ = (a: number, b: number): boolean =>
    [0, 1, 2].some((k) => Math.abs(normals[a * 3 + k]! - normals[b * 3 + k]!) > SAME_NORMAL);
  eachSharedEdge(positions, indices, (here, there) => {
    const a = indices[here]!;
    const b = indices[nextCorner(here)]!;
    if (!differ(a, indices[nextCorner(there)]!) && !differ(b, indices[there]!)) return;
    hard.push(...positions.subarray(a * 3, a * 3 + 3), ...positions.subarray(b * 3, b * 3 + 3));
  });
  return sharedCopyFloat32(hard);
}

/**
 * How much a ray follows its face's own normal, 0 to 1.
 * @param triangle the triangle it leaves from
 * @param x, y, z the place, and `u`, `v` the place in the layout
 */
export function blendWeight(
  blend: DirectionBlend,
  triangle: number,
  x: number,
  y: number,
  z: number,
  u: number,
  v: number,
): number {
  if (blend.kind === 'mask') return bilinear(blend.mask, u, v, 0);
  const { segments, starts, near, width } = blend;
  let nearest = width * width;
  for (let i = starts[triangle]!; i < starts[triangle + 1]!; i++) {
    const e = near[i]! * 6;
    const ex = segments[e + 3]! - segments[e]!;
    const ey = segments[e + 4]! - segments[e + 1]!;
    const ez = segments[e + 5]! - segments[e + 2]!;
    const px = x - segments[e]!;
    const py = y - segments[e + 1]!;
    const pz = z - segments[e + 2]!;
    const along = Math.max(0, Math.min(1, (px * ex + py * ey + pz * ez) / (ex * ex + ey * ey + ez * ez || 1)));
    const dx = px - ex * along;
    const dy = py - ey * along;
    const dz = pz - ez * along;
    nearest = Math.min(nearest, dx * dx + dy * dy + dz * dz);
  }
  const share = Math.min(1, Math.sqrt(nearest) / width);
  // Smooth at both ends, so that no crease shows where the blend begins.
  return share * share * (3 - 2 * share);
}
