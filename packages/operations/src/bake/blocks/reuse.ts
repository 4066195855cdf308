import { createHash } from 'node:crypto';
import { BLOCK, type BakeStatistics, type BlockPlan, type Receiver } from '@zographos/core/bake';
import { TexelState, type Image } from '@zographos/core/image';
import { sharedUint8 } from '@zographos/core/shared-arrays';
import { bakeOperation } from '../operation.ts';
import type { BakeOperationSettings, BakePassSettings } from '../settings.ts';
import type { MatchedInputs } from '../../scene/matchedInputs.ts';
import type { BakedTile } from './bakedTiles.ts';

/** What a bake leaves behind of one tile, so that the next one need not bake again what has not changed. */
export interface TileRecord {
  tile: number;
  width: number;
  height: number;
  /** What each block was made from: equal names mean equal texels. Empty where there is nothing. */
  blocks: string[];
  /** What was counted in each block that was baked. */
  statistics: [block: number, counted: BakeStatistics][];
}

/** An earlier bake of the same ticket: its record, and its maps as they were stored. */
export interface EarlierBake {
  tiles: TileRecord[];
  /** @returns null where a map is gone */
  load: (kind: string, tile: number) => Promise<{ image: Image; states: Uint8Array } | null>;
}

/** The parts of a tile that need no rays. */
export interface ReusedBlocks {
  /** 1 for each block whose texels are there already. */
  done: Uint8Array;
  statistics: [block: number, counted: BakeStatistics][];
}

/**
 * Whether a bake can be told apart by blocks: only parts that see their own partners change by themselves; and mending,
 * smoothing and halving leave no texel as it was baked.
 */
export const isDivisible = ({ match, mend, occlusion, oversize, repeat, reach }: BakeOperationSettings): boolean =>
  match !== 'all' && !mend && occlusion.smooth === 0 && oversize === 1 && repeat === 'none' && reach !== 'auto';

/** A rectangle of one tile, in texels from its upper left corner. */
export interface Region {
  tile: number;
  x: number;
  y: number;
  width: number;
  height: number;
}

/** Keeps what an earlier bake has outside a rectangle, as far as it is of the same size; what is there is not baked. */
export async function keepOutside(
  region: Region,
  earlier: EarlierBake | null,
  bakedTile: BakedTile,
): Promise<ReusedBlocks> {
  const { size, maps, states } = bakedTile;
  const columns = Math.ceil(size.width / BLOCK);
  const done = sharedUint8(columns * Math.ceil(size.height / BLOCK)).fill(1);
  const last = (at: number, length: number, most: number): number =>
    Math.min(most, Math.ceil((at + length) / BLOCK)) - 1;
  for (let row = Math.floor(region.y / BLOCK); row <= last(region.y, region.height, done.length / columns); row++) {
    for (let column = Math.floor(region.x / BLOCK); column <= last(region.x, region.width, columns); column++) {
      done[row * columns + column] = 0;
    }
  }
  const stored = earlier ? await Promise.all(maps.map(({ kind }) => earlier.load(kind, bakedTile.tile))) : [];
  stored.forEach((map, m) => {
    if (map?.image.width === size.width && map.image.height === size.height) {
      copyBlocks(done, size.width, map, maps[m]!.image, states);
    }
  });
  return { done, statistics: [] };
}

/** Copies the covered texels of blocks that are done. */
function copyBlocks(
  done: Uint8Array,
  width: number,
  from: { image: Image; states: Uint8Array },
  to: Image,
  states: Uint8Array,
): void {
  const columns = Math.ceil(width / BLOCK);
  const { channels } = to;
  for (let i = 0; i < states.length; i++) {
    const block = Math.floor(Math.floor(i / width) / BLOCK) * columns + Math.floor((i % width) / BLOCK);
    const state = from.states[i]!;
    if (!done[block] || state < TexelState.covered) continue;
    states[i] = state;
    for (let c = 0; c < channels; c++) to.data[i * channels + c] = from.image.data[i * channels + c]!;
  }
}

/** A name for everything that decides the texels of each receiver. */
export function partKeys(
  { receivers, groups, occluders }: MatchedInputs,
  receiver: Receiver,
  settings: BakePassSettings,
  common: unknown,
): string[] {
  let vertex = 0;
  return receivers.map(({ input, group }) => {
    const vertices = input.mesh.positions.length / 3;
    const hash = createHash('sha256');
    hash.update(JSON.stringify({ version: bakeOperation.version, settings, common }));
    hash.update([input.hash, ...(groups[group] ?? []).map((source) => source.hash)].join());
    hash.update((occluders ?? []).map((source) => source.hash).join());
    for (const reach of [receiver.reachOut, receiver.reachIn]) {
      const own = reach.slice(vertex, vertex + vertices);
      hash.update(new Uint8Array(own.buffer, own.byteOffset, own.byteLength));
    }
    vertex += vertices;
    return hash.digest('base64url').slice(0, 16);
  });
}

/** What each block of a tile is made from: the keys of all parts that may touch it. */
export function blockKeys(
  { starts, triangles, columns, rows }: BlockPlan,
  partOf: Uint16Array,
  keys: string[],
): string[] {
  return Array.from({ length: columns * rows }, (_, block) => {
    const parts = new Set<number>();
    for (let i = starts[block]!; i < starts[block + 1]!; i++) parts.add(partOf[triangles[i]!]!);
    return [...parts]
      .sort((a, b) => a - b)
      .map((part) => keys[part])
      .join(' ');
  });
}

/** Takes over what an earlier bake has of a tile. @returns null where nothing can be taken over */
export async function takeOver(
  earlier: EarlierBake,
  bakedTile: BakedTile,
  blocks: string[],
): Promise<ReusedBlocks | null> {
  const { tile, size, maps, states } = bakedTile;
  const record = earlier.tiles.find(
    (each) => each.tile === tile && each.width === size.width && each.height === size.height,
  );
  if (!record) return null;
  const done = sharedUint8(blocks.length);
  blocks.forEach((key, block) => (done[block] = key !== '' && key === record.blocks[block] ? 1 : 0));
  if (!done.includes(1)) return null;
  const stored = await Promise.all(maps.map(({ kind }) => earlier.load(kind, tile)));
  if (stored.some((map) => map === null)) return null;
  stored.forEach((map, m) => copyBlocks(done, size.width, map!, maps[m]!.image, states));
  return { done, statistics: record.statistics.filter(([block]) => done[block]) };
}
