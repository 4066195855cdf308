import { sharedInt32 } from '../../sharedArrays.ts';

interface Surface {
  positions: Float32Array;
  indices: Uint32Array;
}

/** No triangle of the source stands where one of the receiver does. */
export const NO_TWIN = -1;

/**
 * Finds the triangle of a source that stands just where each of a receiver does: the same three places in the same
 * order, whichever comes first. Both may have any UVs, so that what lies on one layout is carried over to the other
 * without a ray.
 * @returns for each triangle of the receiver three times its twin's number plus the corner of the twin at which the
 * receiver's first one lies; or NO_TWIN. Of twins with the same places each is taken once, as long as there are some.
 */
export function sharedTriangles(receiver: Surface, source: Surface): Int32Array {
  const places = new Map<string, number[]>();
  const keyOf = ({ positions, indices }: Surface, t: number, first: number): string => {
    let key = '';
    for (let c = 0; c < 3; c++) {
      const v = indices[t * 3 + ((first + c) % 3)]! * 3;
      key += `${positions[v]! + 0},${positions[v + 1]! + 0},${positions[v + 2]! + 0};`;
    }
    return key;
  };
  const twins = sharedInt32(receiver.indices.length / 3).fill(NO_TWIN);
  // Most often both are the same mesh in the same order, and no search is needed.
  const inOrder = (t: number): boolean => {
    for (let c = 0; c < 3; c++) {
      const a = receiver.indices[t * 3 + c]! * 3;
      const b = source.indices[t * 3 + c]! * 3;
      for (let k = 0; k < 3; k++) if (receiver.positions[a + k] !== source.positions[b + k]) return false;
    }
    return true;
  };
  const isSame = receiver.indices.length === source.indices.length && twins.every((_, t) => inOrder(t));
  if (isSame) {
    for (let t = 0; t < twins.length; t++) twins[t] = t * 3;
    return twins;
  }
  for (let t = 0; t < source.indices.length / 3; t++) {
    const key = keyOf(source, t, 0);
    const known = places.get(key);
    if (known) known.push(t);
    else places.set(key, [t]);
  }
  for (let t = 0; t < twins.length; t++) {
    for (let first = 0; first < 3; first++) {
      const found = places.get(keyOf(receiver, t, first));
      if (!found) continue;
      const twin = found.length > 1 ? found.shift()! : found[0]!;
      // The receiver's corner `first` is the twin's corner 0.
      twins[t] = twin * 3 + ((3 - first) % 3);
      break;
    }
  }
  return twins;
}
