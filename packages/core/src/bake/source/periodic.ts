import { ZographosError } from '../../errors.ts';
import { boundsOf, type Bounds } from '../../mesh/bounds.ts';
import type { Mesh } from '../../mesh/mesh.ts';

/**
 * How a source is repeated over the receiver's tile: in rows and columns one below the other, with every second row
 * moved by half a step, or as a hexagonal grid, whose neighbours lie equally far in all six directions.
 */
export interface Repeat {
  grid: 'square' | 'staggered' | 'hexagonal';
  columns: number;
  /** Even for grids whose rows are moved, or the pattern would not close; `follow` keeps the proportions of the grid. */
  rows: number | 'follow';
}

/** A repeated pattern as it comes to lie on a tile. */
export interface Lattice {
  columns: number;
  rows: number;
  /**
   * How much farther apart rows lie than in the regular grid, 1 for regular: as far as columns, and √3/2 of that in a
   * hexagonal grid.
   */
  stretch: number;
}

type Vector = readonly [number, number, number];

/** What one step of the tile means in space. */
export interface Period {
  u: Vector;
  v: Vector;
}

/** Instances beyond this are refused. */
const MOST_TRIANGLES = 20e6;
/** How far a receiver may be from flat, as a share of its tile. */
const FLAT = 0.01;

/**
 * The way across one tile of a flat receiver, along u and along v, by least squares over its vertices.
 * @throws input/not-flat when its UVs are not laid flat over it
 */
export function periodOf(name: string, positions: Float32Array, uvs: Float32Array): Period {
  const count = positions.length / 3;
  const mean = [0, 0, 0, 0, 0];
  for (let i = 0; i < count; i++) {
    for (let k = 0; k < 3; k++) mean[k]! += positions[i * 3 + k]! / count;
    for (let k = 0; k < 2; k++) mean[3 + k]! += uvs[i * 2 + k]! / count;
  }
  let [uu, uv, vv] = [0, 0, 0];
  const up = [0, 0, 0];
  const vp = [0, 0, 0];
  for (let i = 0; i < count; i++) {
    const [u, v] = [uvs[i * 2]! - mean[3]!, uvs[i * 2 + 1]! - mean[4]!];
    uu += u * u;
    uv += u * v;
    vv += v * v;
    for (let k = 0; k < 3; k++) {
      const p = positions[i * 3 + k]! - mean[k]!;
      up[k]! += u * p;
      vp[k]! += v * p;
    }
  }
  const determinant = uu * vv - uv * uv;
  const axis = (a: number[], b: number[], own: number): Vector =>
    [0, 1, 2].map((k) => (a[k]! * own - b[k]! * uv) / determinant) as unknown as Vector;
  const period = { u: axis(up, vp, vv), v: axis(vp, up, uu) };
  let worst = 0;
  for (let i = 0; i < count; i++) {
    for (let k = 0; k < 3; k++) {
      const laid = mean[k]! + period.u[k]! * (uvs[i * 2]! - mean[3]!) + period.v[k]! * (uvs[i * 2 + 1]! - mean[4]!);
      worst = Math.max(worst, Math.abs(laid - positions[i * 3 + k]!));
    }
  }
  if (!(determinant > 0) || worst > FLAT * Math.max(Math.hypot(...period.u), Math.hypot(...period.v))) {
    throw new ZographosError(
      'input/not-flat',
      `A pattern repeats only over a flat receiver whose UVs are laid straight over it; “${name}” is bent or its UVs are. Bake onto a plane, or do not repeat the source.`,
    );
  }
  return period;
}

/** How far apart rows of a regular grid lie, in steps of a row. */
const ROW_HEIGHT = { square: 1, staggered: 1, hexagonal: Math.sqrt(3) / 2 };

/**
 * The columns and rows of a pattern on a tile. Rows that follow are as many as leave the grid least stretched, and even
 * where every second one is moved.
 * @throws input/bad-settings for an odd number of rows of which every second is moved
 * @example latticeOf({ grid: 'hexagonal', columns: 7, rows: 'follow' }, period) // on a square: 8 rows, stretch 1.01
 */
export function latticeOf({ grid, columns, rows }: Repeat, { u, v }: Period): Lattice {
  const isMoved = grid !== 'square';
  if (isMoved && rows !== 'follow' && rows % 2 === 1) {
    throw new ZographosError(
      'input/bad-settings',
      `Rows that are moved by half a step close only if their number is even; ${rows} is odd. Choose ${rows + 1}, or let rows follow from columns.`,
    );
  }
  const regular = Math.hypot(...v) / ((Math.hypot(...u) / columns) * ROW_HEIGHT[grid]);
  const count = rows === 'follow' ? nearestCount(regular, isMoved ? 2 : 1) : rows;
  return { columns, rows: count, stretch: regular / count };
}

/** The multiple of a step whose ratio to a number is nearest to one; the smaller of two that are as near. */
function nearestCount(regular: number, step: number): number {
  const below = Math.max(step, Math.floor(regular / step) * step);
  return regular / below <= ((below + step) / regular) * (1 + 1e-9) ? below : below + step;
}

/**
 * Repeats a source so that it is periodic over a tile as far as rays can see: whatever lies within `reach` of the tile.
 * @returns one mesh of all instances
 * @throws limit/triangles, input/bad-settings as `latticeOf`
 */
export function repeatMesh(mesh: Mesh, tile: Bounds, period: Period, repeat: Repeat, reach: number): Mesh {
  const { columns, rows } = latticeOf(repeat, period);
  const half = repeat.grid !== 'square';
  const across = period.u.map((value) => value / columns);
  const up = period.v.map((value) => value / rows);
  const own = boundsOf(mesh.positions);
  const places: Vector[] = [];
  const span = Math.ceil((reach + size(own) + size(tile)) / Math.max(1e-12, Math.hypot(...across))) + columns;
  const high = Math.ceil((reach + size(own) + size(tile)) / Math.max(1e-12, Math.hypot(...up))) + rows;
  for (let j = -high; j <= high; j++) {
    const shift = half && j % 2 !== 0 ? 0.5 : 0;
    for (let i = -span; i <= span; i++) {
      const move = [0, 1, 2].map((k) => across[k]! * (i + shift) + up[k]! * j) as unknown as Vector;
      const near = [0, 1, 2].every(
        (k) => own.max[k]! + move[k]! >= tile.min[k]! - reach && own.min[k]! + move[k]! <= tile.max[k]! + reach,
      );
      if (near) places.push(move);
    }
  }
  const triangles = (mesh.indices.length / 3) * places.length;
  if (triangles > MOST_TRIANGLES) {
    throw new ZographosError(
      'limit/triangles',
      `Repeating “${mesh.name}” ${places.length} times gives ${triangles} triangles; the limit is ${MOST_TRIANGLES}. Use a lighter source, fewer repeats or a shorter reach.`,
    );
  }
  return instances(mesh, places);
}

const size = ({ min, max }: Bounds): number => Math.hypot(...max.map((high, k) => high - min[k]!));

function instances(mesh: Mesh, places: readonly Vector[]): Mesh {
  const vertices = mesh.positions.length / 3;
  const times = <T extends Float32Array | Uint16Array>(array: T, of: new (length: number) => T): T => {
    const all = new of(array.length * places.length);
    for (let i = 0; i < places.length; i++) all.set(array, i * array.length);
    return all;
  };
  const positions = times(mesh.positions, Float32Array);
  const indices = new Uint32Array(mesh.indices.length * places.length);
  places.forEach((move, i) => {
    for (let p = 0; p < mesh.positions.length; p++) positions[i * mesh.positions.length + p]! += move[p % 3]!;
    for (let c = 0; c < mesh.indices.length; c++)
      indices[i * mesh.indices.length + c] = mesh.indices[c]! + i * vertices;
  });
  return {
    ...mesh,
    positions,
    indices,
    normals: times(mesh.normals, Float32Array),
    uvSets: mesh.uvSets.map(({ name, coords }) => ({ name, coords: times(coords, Float32Array) })),
    colors: mesh.colors && times(mesh.colors, Float32Array),
    triangleSlots: times(mesh.triangleSlots, Uint16Array),
  };
}
