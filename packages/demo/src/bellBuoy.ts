import { smoothNormals, type Mesh } from '@zographos/core/mesh';
import { arcLengths, BUOY, pointAlong, type Section } from './profile.ts';
import { reliefHeight } from './relief.ts';

/** Pieces around the axis of the light and of the dense buoy. */
const LIGHT_AROUND = 48;
const DENSE_AROUND = 960;
/** Longest step along the outline of the dense buoy, in mm. */
const DENSE_STEP = 2.8;

/** Tile units for each mm: nearly the largest at which all islands fit. */
const DENSITY = 0.0006;

/** Where a section's islands lie in the tile. */
type Island =
  | { shape: 'disc'; u: number; v: number; scale: number; flip: boolean }
  | { shape: 'halves'; places: [u: number, v: number][] };

const ISLANDS: Record<Section['name'], Island> = {
  // The bottom is under water: it gets a third of the density.
  bottom: { shape: 'disc', u: 0.88, v: 0.135, scale: 0.36, flip: true },
  waist: {
    shape: 'halves',
    places: [
      [0.012, 0.012],
      [0.012, 0.186],
    ],
  },
  deck: { shape: 'disc', u: 0.265, v: 0.62, scale: 1, flip: false },
  bell: {
    shape: 'halves',
    places: [
      [0.53, 0.38],
      [0.53, 0.62],
    ],
  },
  crown: { shape: 'disc', u: 0.265, v: 0.62, scale: 0.8, flip: false },
};

/** The light buoy, about 3000 triangles, in mm; each section is an island (or two) with hard edges between. */
export function bellBuoyLight(): Mesh {
  const positions: number[] = [];
  const normals: number[] = [];
  const uvs: number[] = [];
  const indices: number[] = [];
  for (const section of BUOY) {
    const island = ISLANDS[section.name];
    const spans =
      island.shape === 'disc'
        ? [[0, LIGHT_AROUND]]
        : [
            [0, LIGHT_AROUND / 2],
            [LIGHT_AROUND / 2, LIGHT_AROUND],
          ];
    spans.forEach(([from, to], half) => {
      const base = positions.length / 3;
      const columns = to! - from! + 1;
      addGrid(section, island, half, from!, to!, positions, normals, uvs);
      for (let row = 0; row + 1 < section.points.length; row++) {
        for (let column = 0; column + 1 < columns; column++) {
          const a = base + row * columns + column;
          addQuad(indices, positions, a, a + 1, a + columns + 1, a + columns);
        }
      }
    });
  }
  return {
    name: 'Bell light',
    positions: Float32Array.from(positions),
    normals: Float32Array.from(normals),
    uvSets: [{ name: 'UV 1', coords: Float32Array.from(uvs) }],
    colors: null,
    indices: Uint32Array.from(indices),
    slots: ['painted steel'],
    triangleSlots: new Uint16Array(indices.length / 3),
  };
}

function addGrid(
  { points }: Section,
  island: Island,
  half: number,
  from: number,
  to: number,
  positions: number[],
  normals: number[],
  uvs: number[],
): void {
  const lengths = arcLengths(points);
  points.forEach(([radius, height], row) => {
    const [nr, nh] = rowNormal(points, lengths, row);
    for (let column = from; column <= to; column++) {
      const angle = (column / LIGHT_AROUND) * 2 * Math.PI;
      // Whole turns end where they began, to the last bit.
      const [c, s] = [Math.cos(angle % (2 * Math.PI)), Math.sin(angle % (2 * Math.PI))];
      positions.push(micron(radius * c), micron(height), micron(-radius * s));
      normals.push(nr * c, nh, -nr * s);
      if (island.shape === 'disc') {
        // Unrolled by length along the outline, seen from outside; the deck keeps its hole for the crown.
        const reach = discRadius(points, lengths, row) * DENSITY * island.scale;
        uvs.push(island.u + reach * c, island.v + reach * s * (island.flip ? -1 : 1));
      } else {
        const [u, v] = island.places[half]!;
        const widest = Math.max(...points.map(([r]) => r));
        const span = ((to - from) / LIGHT_AROUND) * 2 * Math.PI * widest * DENSITY;
        uvs.push(u + ((column - from) / (to - from)) * span, v + lengths[row]! * DENSITY);
      }
    }
  });
}

/** Rounds to a thousandth of a mm, so that neighbouring sections meet exactly. */
const micron = (value: number): number => Math.round(value * 1000) / 1000;

/** Distance of an outline's point from the centre of its disc: length along the outline beyond the inner end. */
function discRadius(points: Section['points'], lengths: number[], row: number): number {
  const total = lengths.at(-1)!;
  const outwards = points[0]![0] < points.at(-1)![0];
  const inner = Math.min(points[0]![0], points.at(-1)![0]);
  return inner + (outwards ? lengths[row]! : total - lengths[row]!);
}

function rowNormal(points: Section['points'], lengths: number[], row: number): [number, number] {
  const before = pointAlong(points, lengths, Math.max(0, lengths[row]! - 1e-3)).normal;
  const after = pointAlong(points, lengths, Math.min(lengths.at(-1)!, lengths[row]! + 1e-3)).normal;
  const [r, h] = [before[0] + after[0], before[1] + after[1]];
  // On the axis the normal points straight along it.
  if (points[row]![0] === 0) return [0, Math.sign(h)];
  return [r / Math.hypot(r, h), h / Math.hypot(r, h)];
}

/** Adds a quad's triangles, leaving out those that a pole makes empty. */
function addQuad(indices: number[], positions: number[], a: number, b: number, c: number, d: number): void {
  const same = (i: number, j: number): boolean =>
    [0, 1, 2].every((k) => Math.abs(positions[i * 3 + k]! - positions[j * 3 + k]!) < 1e-9);
  if (!same(a, b)) indices.push(a, b, c);
  if (!same(c, d)) indices.push(a, c, d);
}

/** The dense buoy, more than 400 000 triangles, in mm: one closed surface with all its relief. */
export function bellBuoyDense(): Mesh {
  const rings: { radius: (angle: number) => number; height: (angle: number) => number }[] = [];
  for (const section of BUOY) {
    const { points } = section;
    const lengths = arcLengths(points);
    const length = lengths.at(-1)!;
    const steps = Math.ceil(length / DENSE_STEP);
    for (let step = rings.length === 0 ? 1 : 0; step < steps; step++) {
      const along = (step / steps) * length;
      const { point, normal } = pointAlong(points, lengths, along);
      const relief = (angle: number): number =>
        reliefHeight({ section: section.name, angle, radius: Math.max(point[0], 1), along, length });
      rings.push({
        radius: (angle) => point[0] + normal[0] * relief(angle),
        height: (angle) => point[1] + normal[1] * relief(angle),
      });
    }
  }
  const around = DENSE_AROUND;
  const vertices = rings.length * around + 2;
  const positions = new Float32Array(vertices * 3);
  rings.forEach(({ radius, height }, ring) => {
    for (let column = 0; column < around; column++) {
      const angle = (column / around) * 2 * Math.PI;
      const at = (ring * around + column) * 3;
      const r = radius(angle);
      positions[at] = r * Math.cos(angle);
      positions[at + 1] = height(angle);
      positions[at + 2] = -r * Math.sin(angle);
    }
  });
  const bottom = vertices - 2;
  const top = vertices - 1;
  positions[bottom * 3 + 1] = BUOY[0]!.points[0]![1];
  positions[top * 3 + 1] = BUOY.at(-1)!.points.at(-1)![1];
  const indices: number[] = [];
  for (let column = 0; column < around; column++) {
    const next = (column + 1) % around;
    indices.push(bottom, next, column);
    for (let ring = 0; ring + 1 < rings.length; ring++) {
      const a = ring * around + column;
      const b = ring * around + next;
      indices.push(a, b, b + around, a, b + around, a + around);
    }
    const last = (rings.length - 1) * around;
    indices.push(last + column, last + next, top);
  }
  const corners = Uint32Array.from(indices);
  return {
    name: 'Bell dense',
    positions,
    normals: smoothNormals(positions, corners),
    uvSets: [],
    colors: null,
    indices: corners,
    slots: ['painted steel'],
    triangleSlots: new Uint16Array(indices.length / 3),
  };
}
