import type { Size } from '../math/size.ts';
import { planBlocks, type BlockPlan } from '../bake/coverage/blocks.ts';
import { prepareReceiver, type Receiver } from '../bake/receiver.ts';
import { connectedPieces } from '../mesh/connected.ts';
import type { Mesh } from '../mesh/mesh.ts';
import { triangleArea } from '../mesh/triangleArea.ts';
import { weldPositions } from '../mesh/weld.ts';
import { sharedFloat32, sharedUint16, sharedUint32 } from '../sharedArrays.ts';
import { islandCount, islandNumbers } from '../uv/islands/islands.ts';
import { tileOrigin } from '../uv/udim.ts';

/** What layers lie on: meshes that share a layout, or a flat tile. All arrays are shared by threads. */
export interface LayeredSurface {
  /** Positions are in millimetres. */
  receiver: Pick<Receiver, 'positions' | 'normals' | 'uvs' | 'indices' | 'tangents'>;
  /** The island of each triangle, the connected part of its mesh, its mesh and its material slot, all from 0. */
  islands: Uint32Array;
  parts: Uint32Array;
  objectOf: Uint16Array;
  slotOf: Uint16Array;
  objects: readonly string[];
  slots: readonly string[];
  /** Millimetres that one unit of UVs measures, for each island. */
  scales: Float32Array;
  /** The same of the whole layout. */
  scale: number;
  /** Width and height of a flat tile in millimetres, which repeats; null on a mesh. */
  repeats: readonly [width: number, height: number] | null;
}

/**
 * Makes meshes ready to be layered on one of their UV sets.
 * @param millimetres of one unit of the meshes
 * @throws input/no-uvs
 */
export function layeredMeshes(meshes: readonly Mesh[], uvSet: number, millimetres: number): LayeredSurface {
  const receiver = prepareReceiver(
    meshes.map((mesh) => ({ mesh, group: 0 })),
    uvSet,
  );
  const { uvs, indices, normals, tangents, partOf } = receiver;
  const positions = sharedFloat32(receiver.positions.length);
  for (let i = 0; i < positions.length; i++) positions[i] = receiver.positions[i]! * millimetres;
  const islands = shared(islandNumbers({ positions, uvs, indices }));
  const slots = [...new Set(meshes.flatMap((mesh) => mesh.slots))];
  const slotOf = sharedUint16(indices.length / 3);
  let triangle = 0;
  for (const mesh of meshes) {
    for (const slot of mesh.triangleSlots) slotOf[triangle++] = slots.indexOf(mesh.slots[slot]!);
  }
  return {
    receiver: { positions, normals, uvs, indices, tangents },
    islands,
    parts: shared(connectedPieces(weldPositions(positions), indices)),
    objectOf: partOf,
    slotOf,
    objects: meshes.map(({ name }) => name),
    slots,
    ...scalesOf(positions, uvs, indices, islands),
    repeats: null,
  };
}

const shared = (numbers: Uint32Array): Uint32Array => {
  const copy = sharedUint32(numbers.length);
  copy.set(numbers);
  return copy;
};

/**
 * A flat tile of a material, which repeats.
 * @param width, height in millimetres
 */
export function flatSurface(width: number, height: number): LayeredSurface {
  const receiver = {
    positions: Float32Array.of(0, 0, 0, width, 0, 0, width, height, 0, 0, height, 0),
    normals: Float32Array.of(0, 0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1),
    uvs: Float32Array.of(0, 0, 1, 0, 1, 1, 0, 1),
    indices: Uint32Array.of(0, 1, 2, 0, 2, 3),
    tangents: new Float32Array(24).map((_, i) => (i % 4 === 0 || i % 4 === 3 ? 1 : 0)),
  };
  return {
    receiver,
    islands: new Uint32Array(2),
    parts: new Uint32Array(2),
    objectOf: new Uint16Array(2),
    slotOf: new Uint16Array(2),
    objects: ['tile'],
    slots: ['tile'],
    scales: Float32Array.of(width),
    scale: width,
    repeats: [width, height],
  };
}

function scalesOf(
  positions: Float32Array,
  uvs: Float32Array,
  indices: Uint32Array,
  islands: Uint32Array,
): Pick<LayeredSurface, 'scales' | 'scale'> {
  const count = islandCount(islands);
  const surface = new Float64Array(count + 1);
  const layout = new Float64Array(count + 1);
  for (let t = 0; t < islands.length; t++) {
    const [mm2, uv2] = [triangleArea(positions, 3, indices, t), triangleArea(uvs, 2, indices, t)];
    for (const of of [islands[t]!, count]) {
      surface[of]! += mm2;
      layout[of]! += uv2;
    }
  }
  const all = Float64Array.from(surface, (mm2, i) => (layout[i]! > 0 ? Math.sqrt(mm2 / layout[i]!) : 0));
  const scales = sharedFloat32(Math.max(1, count));
  scales.set(all.subarray(0, count));
  return { scales, scale: all[count]! || 1 };
}

/** One tile of a layered surface at a size: its UVs moved so that the tile is 0 to 1, sorted into blocks. */
export interface LayeredTile {
  surface: LayeredSurface;
  tile: number;
  size: Size;
  uvs: Float32Array;
  plan: BlockPlan;
  /** Millimetres of a texel's width, in the mean of the layout. */
  texel: number;
}

/** @example layeredTile(layeredMeshes([bell], 0, 1), 1001, { width: 2048, height: 2048 }) */
export function layeredTile(surface: LayeredSurface, tile: number, size: Size): LayeredTile {
  const { uvs, indices } = surface.receiver;
  const [u0, v0] = tileOrigin(tile);
  const moved = sharedFloat32(uvs.length);
  for (let i = 0; i < uvs.length; i += 2) {
    moved[i] = uvs[i]! - u0;
    moved[i + 1] = uvs[i + 1]! - v0;
  }
  const texel = surface.scale / Math.sqrt(size.width * size.height);
  return { surface, tile, size, uvs: moved, plan: planBlocks(moved, indices, size), texel };
}
