import { joinMeshes, smoothNormals, type Mesh } from '@zographos/core/mesh';

export type Vector = readonly [number, number, number];

/**
 * A piece of a body's skin, wound about a line: `s` runs along it and `t` once around, both 0 to 1. Its ends are points,
 * or meet the next piece.
 */
export interface Skin {
  at: (s: number, t: number) => Vector;
  /** How far the dense body stands out, in mm. */
  relief: (s: number, t: number) => number;
  /** The piece's rectangle in the layout. */
  island: { u: number; v: number; width: number; height: number };
  /** Cells of the light body, along and around. */
  light: readonly [along: number, around: number];
  /** Cells of the dense one. */
  dense: readonly [along: number, around: number];
  slot: string;
}

const STEP = 1e-4;

/** The light body: smooth normals within each piece, hard edges between them, one island for each. */
export function lightBody(name: string, skins: readonly Skin[]): Mesh {
  return together(
    name,
    skins.map((skin) => {
      const [along, around] = skin.light;
      const { positions, indices } = grid(skin, along, around, () => 0, true);
      const columns = around + 1;
      const coords = new Float32Array((along + 1) * columns * 2);
      const { u, v, width, height } = skin.island;
      for (let i = 0; i < (along + 1) * columns; i++) {
        coords[i * 2] = u + ((i % columns) / around) * width;
        coords[i * 2 + 1] = v + (Math.floor(i / columns) / along) * height;
      }
      return piece(skin, positions, seamless(positions, indices, along, around), indices, coords);
    }),
  );
}

/** The dense body with all its relief. */
export function denseBody(name: string, skins: readonly Skin[]): Mesh {
  return together(
    name,
    skins.map((skin) => {
      const { positions, indices } = grid(skin, ...skin.dense, skin.relief, false);
      return piece(skin, positions, smoothNormals(positions, indices), indices);
    }),
  );
}

function together(name: string, pieces: Mesh[]): Mesh {
  return { ...(pieces.length === 1 ? pieces[0]! : joinMeshes(name, pieces)), name };
}

function piece(
  { slot }: Skin,
  positions: Float32Array,
  normals: Float32Array,
  indices: Uint32Array,
  coords?: Float32Array,
): Mesh {
  return {
    name: slot,
    positions,
    normals,
    uvSets: coords ? [{ name: 'UV 1', coords }] : [],
    colors: null,
    indices,
    slots: [slot],
    triangleSlots: new Uint16Array(indices.length / 3),
  };
}

/** @param split whether the first and the last column are vertices of their own, as a cut layout needs them */
function grid(
  { at }: Skin,
  along: number,
  around: number,
  relief: Skin['relief'],
  split: boolean,
): { positions: Float32Array; indices: Uint32Array } {
  const columns = split ? around + 1 : around;
  const positions = new Float32Array((along + 1) * columns * 3);
  const turned = turnedInside(at);
  for (let i = 0; i <= along; i++) {
    for (let j = 0; j < columns; j++) {
      const [s, t] = [i / along, (j % around) / around];
      const height = relief(s, t);
      const point = at(s, t);
      const normal = height === 0 ? [0, 0, 0] : normalAt(at, s, t, turned);
      for (let k = 0; k < 3; k++) {
        positions[(i * columns + j) * 3 + k] = Math.round((point[k]! + normal[k]! * height) * 1e4) / 1e4;
      }
    }
  }
  const indices: number[] = [];
  const same = (a: number, b: number): boolean => [0, 1, 2].every((k) => positions[a * 3 + k] === positions[b * 3 + k]);
  const add = (a: number, b: number, c: number): void => {
    if (!same(a, b) && !same(b, c) && !same(c, a)) indices.push(...(turned ? [a, c, b] : [a, b, c]));
  };
  for (let i = 0; i < along; i++) {
    for (let j = 0; j < around; j++) {
      const a = i * columns + j;
      const b = i * columns + (split ? j + 1 : (j + 1) % around);
      add(a, b, b + columns);
      add(a, b + columns, a + columns);
    }
  }
  return { positions, indices: Uint32Array.from(indices) };
}

/** Smooth normals of a light piece; the two sides of its cut have the same. */
function seamless(positions: Float32Array, indices: Uint32Array, along: number, around: number): Float32Array {
  const closed = indices.map((v) => (v % (around + 1) === around ? v - around : v));
  const normals = smoothNormals(positions, closed);
  for (let i = 0; i <= along; i++) {
    const first = i * (around + 1) * 3;
    normals.copyWithin(first + around * 3, first, first + 3);
  }
  return normals;
}

/** Whether the skin's own way round has its normal point inwards, seen from the middle of each ring. */
function turnedInside(at: Skin['at']): boolean {
  let outward = 0;
  for (const s of [0.15, 0.4, 0.6, 0.85]) {
    const ring = Array.from({ length: 8 }, (_, i) => at(s, i / 8));
    const centre = [0, 1, 2].map((k) => ring.reduce((sum, point) => sum + point[k]! / 8, 0));
    ring.forEach((point, i) => {
      const normal = normalAt(at, s, i / 8, false);
      for (let k = 0; k < 3; k++) outward += normal[k]! * (point[k]! - centre[k]!);
    });
  }
  return outward < 0;
}

function normalAt(at: Skin['at'], s: number, t: number, turned: boolean): Vector {
  const from = at(Math.max(0, s - STEP), t);
  const to = at(Math.min(1, s + STEP), t);
  const before = at(s, (t - STEP + 1) % 1);
  const after = at(s, (t + STEP) % 1);
  const u = [0, 1, 2].map((k) => after[k]! - before[k]!) as unknown as Vector;
  const v = [0, 1, 2].map((k) => to[k]! - from[k]!) as unknown as Vector;
  const n = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
  const length = Math.hypot(...n) * (turned ? -1 : 1) || 1;
  return n.map((value) => value / length) as unknown as Vector;
}

/** Rises smoothly from 0 at `outer` to 1 at `inner`. */
export function rise(distance: number, inner: number, outer: number): number {
  const share = Math.max(0, Math.min(1, (outer - distance) / (outer - inner)));
  return share * share * (3 - 2 * share);
}

/** A round bump, 1 high in its middle. */
export const bump = (share: number): number => (Math.abs(share) < 1 ? Math.sqrt(1 - share * share) : 0);
