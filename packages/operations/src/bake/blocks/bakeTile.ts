import {
  addStatistics,
  planBlocks,
  reduceBaked,
  reduceIslands,
  reduceStates,
  type BakeCounts,
  type BakeSettings,
  type BakeStatistics,
  type BakeWork,
  type Reduction,
  type SourceAttributes,
} from '@zographos/core/bake';
import { describeKind, isCategory, isDirection, type BakedKind, type Image } from '@zographos/core/image';
import { sharedFloat32, sharedUint8 } from '@zographos/core/shared-arrays';
import type { Scene } from '@zographos/core/trace';
import type { BakePassSettings } from '../settings.ts';
import type { BakePool, BakeTrees } from './bakePool.ts';
import type { Canvas } from '../../runContext.ts';
import {
  blockKeys,
  keepOutside,
  takeOver,
  type EarlierBake,
  type Region,
  type ReusedBlocks,
  type TileRecord,
} from './reuse.ts';
import { enlarged, type BakedTile } from './bakedTiles.ts';

/** Draft texels are so many times larger, and never fewer than this along a side. */
const DRAFT = 8;
const DRAFT_SIDE = 32;
const DRAFT_RAYS = 8;

/** What all bakedTiles of a bake have in common. */
export interface TileBake {
  pool: BakePool;
  threads: number;
  cancelFlag: Int32Array;
  scene: Scene;
  attributes: SourceAttributes;
  trees: BakeTrees;
  /** The island of each triangle of the receiver, where islands are told apart. */
  islandOf: Uint16Array | null;
  settings: BakePassSettings;
  core: Omit<BakeSettings, 'size'>;
  /** What tells blocks apart, where they can be taken over from an earlier bake. */
  reuse: { keys: string[]; earlier: EarlierBake | null } | null;
  /** The rectangle that is baked, if it is but one; the rest stays as it was. */
  region: { place: Region; earlier: EarlierBake | null } | null;
}

/** Fills a bakedTile. @returns what was counted, on the bakedTile as it is traced; and what the next bake can take over */
export async function bakeTile(
  bake: TileBake,
  bakedTile: BakedTile,
  onProgress: (share: number) => void,
): Promise<{ statistics: BakeStatistics; record: TileRecord | null; takenOver: number }> {
  const { oversize } = bake.settings;
  if (bake.region) {
    const kept = await keepOutside(bake.region.place, bake.region.earlier, bakedTile);
    return { statistics: (await trace(bake, bakedTile, bake.core, onProgress, kept)).sum, record: null, takenOver: 0 };
  }
  if (oversize === 1) {
    if (bake.reuse) return bakeDivided(bake, bake.reuse, bakedTile, onProgress);
    return { statistics: (await trace(bake, bakedTile, bake.core, onProgress)).sum, record: null, takenOver: 0 };
  }
  const large = enlarged(bakedTile, oversize, bake.settings);
  const { sum: statistics } = await trace(bake, large, bake.core, onProgress);
  shrink(large, bakedTile, oversize);
  for (const mark of Object.values(statistics.marks)) {
    for (const place of mark.places) {
      place.x = Math.floor(place.x / oversize);
      place.y = Math.floor(place.y / oversize);
    }
  }
  return { statistics, record: null, takenOver: 0 };
}

/** Fills a bakedTile, but for the blocks that an earlier bake has already made from just the same. */
async function bakeDivided(
  bake: TileBake,
  { keys, earlier }: NonNullable<TileBake['reuse']>,
  bakedTile: BakedTile,
  onProgress: (share: number) => void,
): Promise<{ statistics: BakeStatistics; record: TileRecord; takenOver: number }> {
  const { receiver, size, tile } = bakedTile;
  const plan = planBlocks(receiver.uvs, receiver.indices, size);
  const blocks = blockKeys(plan, receiver.partOf, keys);
  const reused = earlier && (await takeOver(earlier, bakedTile, blocks));
  const counts = await trace(bake, bakedTile, bake.core, onProgress, reused, plan);
  let takenOver = 0;
  for (const [, counted] of reused?.statistics ?? []) {
    takenOver += counted.texels.covered;
    addStatistics(counts.sum, counted);
  }
  const record = { tile, ...size, blocks, statistics: [...counts.blocks, ...(reused?.statistics ?? [])] };
  return { statistics: counts.sum, record, takenOver };
}

/** A coarse picture of a bakedTile's first map, quickly: what is shown until the real one has filled it. */
export async function draftOf(bake: TileBake, bakedTile: BakedTile): Promise<Canvas | null> {
  const size = {
    width: Math.max(DRAFT_SIDE, Math.ceil(bakedTile.size.width / DRAFT)),
    height: Math.max(DRAFT_SIDE, Math.ceil(bakedTile.size.height / DRAFT)),
  };
  const first = bakedTile.maps[0]!;
  if (size.width >= bakedTile.size.width || size.height >= bakedTile.size.height) return null;
  const data = sharedFloat32(size.width * size.height * describeKind(first.kind).channels);
  const image: Image = { ...first.image, ...size, data };
  const draft: BakedTile = {
    ...bakedTile,
    size,
    maps: [{ kind: first.kind, image }],
    states: sharedUint8(size.width * size.height),
    islands: null,
  };
  const { core } = bake;
  const coarse = {
    ...core,
    maps: [first.kind],
    samplesPerAxis: 1,
    prove: false,
    occlusion: { ...core.occlusion, rays: Math.min(DRAFT_RAYS, core.occlusion.rays) },
  };
  await trace(bake, draft, coarse, () => {});
  return { image, states: draft.states, draft: null };
}

function trace(
  { pool, threads, cancelFlag, scene, attributes, trees, islandOf, reuse }: TileBake,
  { size, receiver, maps, states, islands }: BakedTile,
  core: Omit<BakeSettings, 'size'>,
  onProgress: (share: number) => void,
  reused: ReusedBlocks | null = null,
  plan = planBlocks(receiver.uvs, receiver.indices, size),
): Promise<BakeCounts> {
  const work: BakeWork = {
    scene,
    attributes,
    receiver,
    plan,
    islandOf: islands && islandOf,
    settings: { ...core, size },
    target: { maps: maps.map(({ image }) => image.data), states, islands },
    done: reused?.done ?? null,
    byBlock: reuse !== null,
  };
  return pool.bake({ work, trees }, threads, cancelFlag, onProgress);
}

function shrink(large: BakedTile, bakedTile: BakedTile, times: number): void {
  let { states, islands } = large;
  let images = large.maps.map(({ image }) => image);
  for (let factor = times; factor > 1; factor /= 2) {
    const { width, height } = images[0]!;
    const last = factor === 2;
    const texels = (width * height) / 4;
    images = images.map((image, m) => {
      const into = last ? bakedTile.maps[m]!.image.data : new Float32Array(texels * image.channels);
      return reduceBaked(image, states, reductionOf(bakedTile.maps[m]!.kind), into);
    });
    if (islands) {
      const into: Uint16Array = last ? bakedTile.islands! : new Uint16Array(texels);
      reduceIslands(width, states, islands, into);
      islands = into;
    }
    const smaller = last ? bakedTile.states : new Uint8Array(texels);
    reduceStates(width, height, states, smaller);
    states = smaller;
  }
}

function reductionOf(kind: BakedKind): Reduction {
  if (isCategory(kind)) return 'first';
  return isDirection(kind) ? 'direction' : 'mean';
}
