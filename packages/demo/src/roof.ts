import { smoothNormals, type Mesh } from '@zographos/core/mesh';

/** The tile that the roof's map covers, in mm, and how many scales lie across and up it. */
const SIDE = 600;
export const SCALES = { columns: 6, rows: 8 };

const WIDTH = SIDE / SCALES.columns;
const STEP = SIDE / SCALES.rows;
/** A scale reaches over two rows and a little more, so that no gap shows. */
const LENGTH = STEP * 2.3;

/** A flat square that carries one tile of the roof. */
export function roofPlane(): Mesh {
  const indices = Uint32Array.of(0, 1, 2, 0, 2, 3);
  const half = SIDE / 2;
  const positions = Float32Array.of(-half, -half, 0, half, -half, 0, half, half, 0, -half, half, 0);
  return {
    name: 'Roof plane',
    positions,
    normals: smoothNormals(positions, indices),
    uvSets: [{ name: 'UV 1', coords: Float32Array.of(0, 0, 1, 0, 1, 1, 0, 1) }],
    colors: null,
    indices,
    slots: ['slate'],
    triangleSlots: new Uint16Array(2),
  };
}

/** How high a scale stands at a place of it: tilted over the next, domed, rounded at its lower end, with chisel marks. */
function heightAt(across: number, up: number): number {
  const tilt = 16 * (1 - up);
  const dome = 3 * (1 - across * across);
  const chisel = 0.5 * Math.sin(up * 70 + 6 * Math.sin(across * 4)) * (1 - Math.abs(across));
  return tilt + dome + chisel;
}

/** One slate of the roof, cut like the scale of a fish. */
export function fishScale(): Mesh {
  const [columns, rows] = [90, 150];
  const positions: number[] = [];
  for (let j = 0; j <= rows; j++) {
    const up = j / rows;
    // The lower end is a half circle as wide as the scale.
    const round = Math.min(1, (up * LENGTH) / (WIDTH / 2));
    const half = (WIDTH / 2) * 0.97 * Math.sqrt(Math.max(0.0004, 1 - (1 - round) ** 2));
    for (let i = 0; i <= columns; i++) {
      const across = (i / columns) * 2 - 1;
      const edge = Math.min(1, (1 - Math.abs(across)) * half * 0.5, up * LENGTH * 0.5);
      const height = heightAt((across * half) / (WIDTH / 2), up) - 3 * (1 - edge) ** 2;
      positions.push(across * half - SIDE / 2 + WIDTH / 2, up * LENGTH - SIDE / 2, height);
    }
  }
  const indices: number[] = [];
  for (let j = 0; j < rows; j++) {
    for (let i = 0; i < columns; i++) {
      const a = j * (columns + 1) + i;
      indices.push(a, a + 1, a + columns + 2, a, a + columns + 2, a + columns + 1);
    }
  }
  const corners = Uint32Array.from(indices);
  const points = Float32Array.from(positions);
  return {
    name: 'Fish scale',
    positions: points,
    normals: smoothNormals(points, corners),
    uvSets: [],
    colors: null,
    indices: corners,
    slots: ['slate'],
    triangleSlots: new Uint16Array(indices.length / 3),
  };
}
