import { ZographosError } from '../../errors.ts';
import type { BlockValues } from '../inputs/fieldAt.ts';
import type { LayeredSurface } from '../surface/layeredSurface.ts';
import type { MaskMeasure } from '../stack.ts';

type Picked = Extract<MaskMeasure, { measure: 'slot' | 'object' | 'part' | 'island' | 'faces' }>;

/** 1 on the triangles that were picked. @throws input/other-topology for faces of a mesh that had other triangles */
export function pickedTriangles(pick: Picked, surface: LayeredSurface): BlockValues {
  const chosen = trianglesOf(pick, surface);
  return (block, out) => {
    for (let i = 0; i < block.count; i++) out[i] = chosen[block.triangles[i]!]!;
  };
}

function trianglesOf(pick: Picked, surface: LayeredSurface): Uint8Array {
  const { islands, parts, slotOf, slots, objectOf, objects } = surface;
  switch (pick.measure) {
    case 'slot':
      return among(slotOf, numbersOf(pick.slots, slots));
    case 'object':
      return among(objectOf, numbersOf(pick.objects, objects));
    case 'part':
      return among(parts, new Set(pick.triangles.map((t) => parts[t]!)));
    case 'island':
      return among(islands, new Set(pick.triangles.map((t) => islands[t]!)));
    case 'faces': {
      if (pick.of !== islands.length) {
        throw new ZographosError(
          'input/other-topology',
          `Faces were picked on a mesh of ${pick.of} triangles; it now has ${islands.length}. Pick them again, or bring back the earlier mesh.`,
        );
      }
      const chosen = new Uint8Array(islands.length);
      for (const [from, to] of pick.ranges) chosen.fill(1, from, to);
      return chosen;
    }
  }
}

const numbersOf = (names: readonly string[], all: readonly string[]): Set<number> =>
  new Set(all.flatMap((name, number) => (names.includes(name) ? [number] : [])));

const among = (ofTriangle: ArrayLike<number>, wanted: ReadonlySet<number>): Uint8Array =>
  Uint8Array.from(ofTriangle, (number) => (wanted.has(number) ? 1 : 0));
