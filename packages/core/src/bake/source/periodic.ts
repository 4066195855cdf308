import { ZographosError } from '../../errors.ts';
import { boundsOf, type Bounds } from '../../mesh/bounds.ts';
import type { Mesh } from '../../mesh/mesh.ts';

/**
 * How a source is repeated over the receiver's tile: in rows and columns one below the other, with every second row
 * moved by half a step, or as a hexagonal grid, whose rows follow from its columns.
 */
export interface Repeat {
  grid: 'square' | 'staggered' | 'hexagonal';
  columns: number;
  /** Even for staggered rows, or the pattern would not close; not used by the hexagonal grid. */
  rows: number;
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

/** The steps of the pattern: from one instance to its neighbour in the row, to the next row, and rows for each tile. */
function stepsOf({ grid, columns, rows }: Repeat, { u, v }: Period): { across: Vector; rows: number; half: boolean } {
  const across = u.map((value) => value / columns) as unknown as Vector;
  if (grid === 'square') return { across, rows, half: false };
  if (grid === 'staggered') return { across, rows, half: true };
  // Rows of a hexagonal grid lie √3/2 of a step apart; the nearest even number of them closes the tile.
  const wanted = Math.hypot(...v) / (Math.hypot(...across) * (Math.sqrt(3) / 2));
  return { across, rows: Math.max(2, Math.round(wanted / 2) * 2), half: true };
}

/**
 * Repeats a source so that it is periodic over a tile as far as rays can see: whatever lies within `reach` of the tile.
 * @returns one mesh of all instances
 * @throws limit/triangles, input/bad-settings for an odd number of staggered rows
 */
export function repeatMesh(mesh: Mesh, tile: Bounds, period: Period, repeat: Repeat, reach: number): Mesh {
  if (repeat.grid === 'staggered' && repeat.rows % 2 === 1) {
    throw new ZographosError(
      'input/bad-settings',
      `Staggered rows close only if their number is even; ${repeat.rows} is odd. Choose ${repeat.rows + 1}.`,
    );
  }
  const { across, rows, half } = stepsOf(repeat, period);
  const up = period.v.map((value) => value / rows);
  const own = boundsOf(mesh.positions);
  const places: Vector[] = [];
  const span = Math.ceil((reach + size(own) + size(tile)) / Math.max(1e-12, Math.hypot(...across))) + repeat.columns;
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
