import { NO_TWIN, sharedTriangles } from '@zographos/core/bake';
import { ZographosError } from '@zographos/core/errors';
import type { Mesh } from '@zographos/core/mesh';
import { sceneOf } from '@zographos/core/trace';

/**
 * The meshes of a light bake: what is looked at first, then all else that sends, reflects or blocks light. Of a triangle
 * that stands in both places there is one; it is made of what the source is made of where the receiver says nothing.
 * @throws input/bad-settings where nothing is left
 */
export function litMeshes(receivers: readonly Mesh[], sources: readonly Mesh[]): Mesh[] {
  if (sources.length === 0) return [...receivers];
  const scene = sceneOf(sources);
  const taken = new Uint8Array(scene.indices.length / 3);
  const lit = receivers.map((receiver) => {
    const twins = sharedTriangles(receiver, scene);
    const found = Int32Array.from(twins, (twin) => (twin === NO_TWIN ? -1 : Math.floor(twin / 3)));
    for (const triangle of found) if (triangle >= 0) taken[triangle] = 1;
    return receiver.materials?.some(({ lit: own }) => own) || receiver.materials?.length
      ? receiver
      : madeOf(receiver, found, sources);
  });
  let first = 0;
  const others: Mesh[] = [];
  for (const source of sources) {
    const triangles = source.indices.length / 3;
    const left = taken.subarray(first, first + triangles);
    first += triangles;
    if (!left.includes(1)) others.push(source);
    else if (left.includes(0)) others.push(without(source, left));
  }
  if (lit.length === 0) throw new ZographosError('input/bad-settings', 'There is no receiver to light. Choose a mesh.');
  return [...lit, ...others];
}

/** A mesh whose triangles are made of what their twins are, where they have one. */
function madeOf(receiver: Mesh, twins: Int32Array, sources: readonly Mesh[]): Mesh {
  if (!twins.some((twin) => twin >= 0)) return receiver;
  const materials = [...(receiver.materials ?? [])];
  const slots = [...receiver.slots];
  const pictures = [...(receiver.pictures ?? [])];
  const triangleSlots = receiver.triangleSlots.slice();
  let first = 0;
  for (const source of sources) {
    const count = source.indices.length / 3;
    const numbers = new Map<number, number>();
    // Pictures lie on the source's own layout, which the receiver may not have: plain values are taken alone.
    twins.forEach((twin, t) => {
      if (twin < first || twin >= first + count) return;
      const slot = source.triangleSlots[twin - first]!;
      const material = source.materials?.[slot];
      if (!material) return;
      let number = numbers.get(slot);
      if (number === undefined) {
        number = slots.push(source.slots[slot]!) - 1;
        materials[number] = { ...material, pictures: {} };
        numbers.set(slot, number);
      }
      triangleSlots[t] = number;
    });
    first += count;
  }
  return { ...receiver, slots, triangleSlots, pictures, ...(materials.length > 0 ? { materials } : {}) };
}

function without(mesh: Mesh, isTaken: Uint8Array): Mesh {
  const kept = Array.from(isTaken.keys()).filter((t) => isTaken[t] === 0);
  const indices = new Uint32Array(kept.length * 3);
  kept.forEach((t, i) => indices.set(mesh.indices.subarray(t * 3, t * 3 + 3), i * 3));
  return { ...mesh, indices, triangleSlots: Uint16Array.from(kept, (t) => mesh.triangleSlots[t]!) };
}
