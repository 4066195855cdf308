import type { Mesh } from '../mesh/mesh.ts';

/** Small meshes whose geometry is known exactly, for tests. */

/**
 * A grid over the square −half … half at height z(x, y), facing up (z), with UVs 0 to 1 over the square.
 * @param normalOf the exact normal at a place; (0, 0, 1) if left out
 */
export function reliefPlane(
  name: string,
  cells: number,
  half: number,
  z: (x: number, y: number) => number = () => 0,
  normalOf: (x: number, y: number) => [number, number, number] = () => [0, 0, 1],
): Mesh {
  const side = cells + 1;
  const positions = new Float32Array(side * side * 3);
  const normals = new Float32Array(side * side * 3);
  const coords = new Float32Array(side * side * 2);
  for (let j = 0; j < side; j++) {
    for (let i = 0; i < side; i++) {
      const v = j * side + i;
      const x = (i / cells) * 2 * half - half;
      const y = (j / cells) * 2 * half - half;
      positions.set([x, y, z(x, y)], v * 3);
      normals.set(normalOf(x, y), v * 3);
      coords.set([i / cells, j / cells], v * 2);
    }
  }
  const indices = new Uint32Array(cells * cells * 6);
  for (let j = 0, at = 0; j < cells; j++) {
    for (let i = 0; i < cells; i++, at += 6) {
      const a = j * side + i;
      indices.set([a, a + 1, a + side + 1, a, a + side + 1, a + side], at);
    }
  }
  return meshOf(name, positions, normals, indices, coords);
}

/** A closed sphere of rings and columns, facing outwards (or inwards), with UVs by longitude and latitude. */
export function sphere(name: string, radius: number, rings: number, columns: number, inwards = false): Mesh {
  const positions: number[] = [];
  const normals: number[] = [];
  const coords: number[] = [];
  for (let j = 0; j <= rings; j++) {
    for (let i = 0; i <= columns; i++) {
      const polar = (j / rings) * Math.PI;
      const turn = ((i % columns) / columns) * 2 * Math.PI;
      const sine = j === 0 || j === rings ? 0 : Math.sin(polar);
      const n = [sine * Math.cos(turn), sine * Math.sin(turn), Math.cos(polar)] as const;
      positions.push(n[0] * radius, n[1] * radius, n[2] * radius);
      normals.push(...n.map((value) => (inwards ? -value : value)));
      coords.push(i / columns, 1 - j / rings);
    }
  }
  const indices: number[] = [];
  const add = (a: number, b: number, c: number): void => {
    if (inwards) indices.push(a, c, b);
    else indices.push(a, b, c);
  };
  for (let j = 0; j < rings; j++) {
    for (let i = 0; i < columns; i++) {
      const a = j * (columns + 1) + i;
      const below = a + columns + 1;
      if (j > 0) add(a, below + 1, a + 1);
      if (j < rings - 1) add(a, below, below + 1);
    }
  }
  return meshOf(
    name,
    Float32Array.from(positions),
    Float32Array.from(normals),
    Uint32Array.from(indices),
    Float32Array.from(coords),
  );
}

/**
 * A sphere whose quads are all split in two, as modelling programs write it: at each pole there are `columns` triangles
 * without area, for a rounded sine leaves the corners of the pole all but in one place.
 */
export function splitSphere(name: string, radius: number, rings: number, columns: number): Mesh {
  const whole = sphere(name, radius, rings, columns);
  const positions = whole.positions.map((value, i) => {
    const v = Math.floor(i / 3);
    if (i % 3 === 2) return value;
    const turn = ((v % (columns + 1)) / columns) * 2 * Math.PI;
    const sine = Math.sin((Math.floor(v / (columns + 1)) / rings) * Math.PI);
    return sine * (i % 3 === 0 ? Math.cos(turn) : Math.sin(turn)) * radius;
  });
  const indices: number[] = [];
  for (let j = 0; j < rings; j++) {
    for (let i = 0; i < columns; i++) {
      const a = j * (columns + 1) + i;
      const below = a + columns + 1;
      indices.push(a, below + 1, a + 1, a, below, below + 1);
    }
  }
  return meshOf(name, positions, whole.normals, Uint32Array.from(indices), whole.uvSets[0]!.coords);
}

/** A mesh from bare arrays with one material slot. */
export function meshOf(
  name: string,
  positions: Float32Array,
  normals: Float32Array,
  indices: Uint32Array,
  coords?: Float32Array,
): Mesh {
  return {
    name,
    positions,
    normals,
    indices,
    uvSets: coords ? [{ name: 'UV 1', coords }] : [],
    colors: null,
    slots: ['default'],
    triangleSlots: new Uint16Array(indices.length / 3),
  };
}

export { randomNumbers } from '../math/randomNumbers.ts';
