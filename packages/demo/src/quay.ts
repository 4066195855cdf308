import { joinMeshes, type Mesh } from '@zographos/core/mesh';
import { bellBuoyLight } from './bellBuoy.ts';
import { bollardLight } from './bollard.ts';

type Vector = readonly [number, number, number];

/** What the quay is made of, as MTL has it: fractions of light. */
export const QUAY_MATERIALS = [
  'newmtl stone\nKd 0.34 0.32 0.29',
  'newmtl plank\nKd 0.3 0.22 0.15',
  'newmtl iron\nKd 0.05 0.05 0.055',
  'newmtl paint\nKd 0.42 0.09 0.06',
  '',
].join('\n');

/** Where things stand on the deck, in mm: the buoy is drawn ashore, the bollard to the east of it. */
const BUOY: Vector = [0, 190, 0];
const BOLLARD: Vector = [1000, 0, 180];
/** Where the lantern hangs from its post. */
export const LANTERN: Vector = [560, 1250, -420];

/** The quay about the buoy, and about the bollard: everything but that, in the object's own coordinates. */
export function quayScenes(): Mesh[] {
  const place = [...deck(), ...wall(), ...lantern()];
  const buoy = plain(bellBuoyLight(), BUOY, 'paint');
  const bollard = plain(bollardLight(), BOLLARD, 'iron');
  return [
    moved(joinMeshes('Quay by the buoy', [...place, bollard]), negative(BUOY)),
    moved(joinMeshes('Quay by the bollard', [...place, buoy]), negative(BOLLARD)),
  ];
}

/** A place of the quay in the coordinates of the buoy, or of the bollard. */
export const seenFrom = (object: 'buoy' | 'bollard', place: Vector): [number, number, number] => {
  const origin = object === 'buoy' ? BUOY : BOLLARD;
  return [place[0] - origin[0], place[1] - origin[1], place[2] - origin[2]];
};

const PLANKS = 14;

/** Planks with gaps, on a slab of stone. */
function deck(): Mesh[] {
  const planks = Array.from({ length: PLANKS }, (_, i) => {
    const z = -1500 + (i + 0.5) * (3000 / PLANKS);
    // No two lie quite alike.
    const sunk = ((i * 7) % 5) * 1.5;
    return box('plank', [300, -20 - sunk, z], [3400, 40, 3000 / PLANKS - 8]);
  });
  return [...planks, box('stone', [300, -90, 0], [3600, 80, 3200])];
}

/** Courses of stone to the north, each block a little before or behind the next. */
function wall(): Mesh[] {
  return Array.from({ length: 5 }, (_, course) =>
    Array.from({ length: 7 }, (__, i) => {
      const shift = course % 2 === 0 ? 0 : 250;
      const out = ((i * 5 + course * 3) % 4) * 9;
      return box('stone', [-1350 + i * 520 + shift, 150 + course * 300, -900 - out], [510, 290, 220]);
    }),
  ).flat();
}

/** A post with an arm, a roof and four bars about the light. */
function lantern(): Mesh[] {
  const [x, y, z] = LANTERN;
  const bars = [
    [-1, -1],
    [1, -1],
    [-1, 1],
    [1, 1],
  ].map(([i, j]) => box('iron', [x + i! * 70, y, z + j! * 70], [12, 200, 12]));
  return [
    box('iron', [x, 760, z - 300], [60, 1540, 60]),
    box('iron', [x, y + 230, z - 150], [30, 30, 330]),
    box('iron', [x, y + 112, z], [190, 24, 190]),
    box('iron', [x, y - 106, z], [160, 12, 160]),
    ...bars,
  ];
}

/** A mesh of one material that stands somewhere, without a layout: it carries no maps. */
function plain(mesh: Mesh, at: Vector, slot: string): Mesh {
  const whole = { ...mesh, slots: [slot], triangleSlots: new Uint16Array(mesh.triangleSlots.length), uvSets: [] };
  return moved(whole, at);
}

const negative = ([x, y, z]: Vector): Vector => [-x, -y, -z];

const moved = (mesh: Mesh, by: Vector): Mesh => ({
  ...mesh,
  positions: mesh.positions.map((value, i) => Math.round((value + by[i % 3]!) * 1e4) / 1e4),
});

/** A box about a middle, with a hard edge all around. */
function box(slot: string, middle: Vector, size: Vector): Mesh {
  const positions: number[] = [];
  const normals: number[] = [];
  const indices: number[] = [];
  for (let axis = 0; axis < 3; axis++) {
    for (const side of [-1, 1]) {
      const first = positions.length / 3;
      const [a, b] = [(axis + 1) % 3, (axis + 2) % 3];
      for (const [s, t] of [
        [-1, -1],
        [1, -1],
        [1, 1],
        [-1, 1],
      ] as const) {
        const corner = [...middle];
        corner[axis]! += (side * size[axis]!) / 2;
        corner[a]! += (s * side * size[a]!) / 2;
        corner[b]! += (t * size[b]!) / 2;
        positions.push(...corner);
        const normal = [0, 0, 0];
        normal[axis] = side;
        normals.push(...normal);
      }
      indices.push(first, first + 1, first + 2, first, first + 2, first + 3);
    }
  }
  return {
    ...{ name: slot, positions: Float32Array.from(positions), normals: Float32Array.from(normals), uvSets: [] },
    ...{ colors: null, indices: Uint32Array.from(indices), slots: [slot] },
    triangleSlots: new Uint16Array(indices.length / 3),
  };
}
