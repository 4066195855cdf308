import type { Size } from '../../math/size.ts';
import { planBlocks, type BlockPlan } from '../../bake/coverage/blocks.ts';
import { prepareReceiver, type Receiver } from '../../bake/receiver.ts';
import { connectedPieces } from '../../mesh/connected.ts';
import type { Mesh } from '../../mesh/mesh.ts';
import { triangleArea } from '../../mesh/triangleArea.ts';
import { weldPositions } from '../../mesh/weld.ts';
import { sharedFloat32, sharedUint16, sharedUint32 } from '../../sharedArrays.ts';
import { islandCount, islandNumbers } from '../../uv/islands/islands.ts';
import { tileOrigin } from '../../uv/udim.ts';

/** What layers lie on: meshes that share a layout, or a flat tile. All arrays are shared by threads. */
export interface LayeredSurface {
  /** Positions are in millimetres. */
  receiver: Pick<Receiver, 'positions' | 'normals' | 'uvs' | 'indices' | 'tangents'>;
  /** The first vertex at the same place of the surface, for each; opposite borders of a tile that repeats are one place. */
  welded: Uint32Array;
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
 * @param hasTangents whether normals are composed, which takes them
 * @throws input/no-uvs
 */
export function layeredMeshes(
  meshes: readonly Mesh[],
  uvSet: number,
  millimetres: number,
  hasTangents = true,
): LayeredSurface {
  const parts = meshes.map((mesh) => ({ mesh, group: 0 }));
  const receiver = prepareReceiver(parts, uvSet, 'split', hasTangents);
  const { uvs, indices, normals, tangents, partOf } = receiver;
  const positions = sharedFloat32(receiver.positions.length);
  for (let i = 0; i < positions.length; i++) positions[i] = receiver.positions[i]! * millimetres;
  const islands = shared(islandNumbers({ positions, uvs, indices }));
  const welded = shared(weldPositions(positions));
  const slots = [...new Set(meshes.flatMap((mesh) => mesh.slots))];
  const slotOf = sharedUint16(indices.length / 3);
  let triangle = 0;
  for (const mesh of meshes) {
    for (const slot of mesh.triangleSlots) slotOf[triangle++] = slots.indexOf(mesh.slots[slot]!);
  }
  return {
    receiver: { positions, normals, uvs, indices, tangents },
    welded,
    islands,
    parts: shared(connectedPieces(welded, indices)),
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

/** Squares along each side of a flat tile: so many that no two of its edges join the same two places. */
const SQUARES = 4;

/**
 * A flat tile of a material, which repeats.
 * @param width, height in millimetres
 */
export function flatSurface(width: number, height: number): LayeredSurface {
  const row = SQUARES + 1;
  const vertices = row * row;
  const receiver = {
    positions: new Float32Array(vertices * 3),
    normals: Float32Array.from({ length: vertices * 3 }, (_, i) => (i % 3 === 2 ? 1 : 0)),
    uvs: new Float32Array(vertices * 2),
    indices: new Uint32Array(SQUARES * SQUARES * 6),
    tangents: Float32Array.from({ length: vertices * 4 }, (_, i) => (i % 4 === 0 || i % 4 === 3 ? 1 : 0)),
  };
  const welded = new Uint32Array(vertices);
  for (let v = 0; v < vertices; v++) {
    const [x, y] = [v % row, Math.floor(v / row)];
    receiver.uvs.set([x / SQUARES, y / SQUARES], v * 2);
    receiver.positions.set([(width * x) / SQUARES, (height * y) / SQUARES, 0], v * 3);
    welded[v] = (y % SQUARES) * row + (x % SQUARES);
    if (x === SQUARES || y === SQUARES) continue;
    receiver.indices.set([v, v + 1, v + row + 1, v, v + row + 1, v + row], (y * SQUARES + x) * 6);
  }
  const triangles = receiver.indices.length / 3;
  return {
    receiver,
    welded,
    islands: new Uint32Array(triangles),
    parts: new Uint32Array(triangles),
    objectOf: new Uint16Array(triangles),
    slotOf: new Uint16Array(triangles),
    objects: ['tile'],
    slots: ['tile'],
    scales: Float32Array.of(width),
    scale: width,
    repeats: [width, height],
  };
}

/** The way from one place to another along an axis, over the borders of a tile that repeats where that is shorter. */
export function wayAlong(axis: number, from: number, to: number, repeats: LayeredSurface['repeats']): number {
  const way = to - from;
  if (!repeats || axis === 2) return way;
  const period = repeats[axis]!;
  return way - Math.round(way / period) * period;
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
