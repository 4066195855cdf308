import {
  addStatistics,
  emptyStatistics,
  NO_TWIN,
  OPEN_SKY,
  USUAL_SUN,
  padIslands,
  sharedTriangles,
  smoothOcclusion,
  type BakeSettings,
  type BakeStatistics,
  type Reach,
  type Receiver,
} from '@zographos/core/bake';
import { ZographosError } from '@zographos/core/errors';
import { describeKind, type Image, type MapKind } from '@zographos/core/image';
import { islandsOf, layoutFingerprint } from '@zographos/core/uv';
import { refuseBeyondMemory } from '../memoryLimit.ts';
import { estimateBake } from './estimate.ts';
import type { BakePassSettings } from './settings.ts';
import { factsOf, type OperationInputs } from '../operation.ts';
import type { BakeReport } from './report.ts';
import { BakePool, type BakeTrees } from './blocks/bakePool.ts';
import { bakeTile, draftOf, type TileBake } from './blocks/bakeTile.ts';
import { emptyImages, writeMeaning } from './blocks/bakedImages.ts';
import { throwIfCancelled, type Canvas, type HeldMap, type ProofDetails, type RunResources } from '../runContext.ts';
import { likenessOf } from '../proof/likenessOf.ts';
import { listed, matchInputs } from '../scene/matchedInputs.ts';
import { boxOf, preflight, scaleMismatch } from '../proof/preflight.ts';
import { occlusionNoise, proofFindings, type Proven } from '../proof/proveBake.ts';
import { decideReach, isBetterWithMoreReach, receiverOf } from '../scene/receiverOf.ts';
import { repeatLattice, repeatSources } from '../scene/repeatSources.ts';
import type { RunMesh } from '../scene/runMesh.ts';
import { scaleSources } from '../scene/scaleSources.ts';
import { isDivisible, partKeys, type EarlierBake, type Region, type TileRecord } from './blocks/reuse.ts';
import { builtScene, type BuiltScene } from '../scene/sceneCache.ts';
import { placeBeside } from '../scene/sceneTree.ts';
import { proveSeams } from '../proof/seams.ts';
import { chooseTiles, emptyTile, type BakedTile } from './blocks/bakedTiles.ts';
import { sourceAttributes } from '../scene/sourceAttributes.ts';
import { lengthText } from '../wording.ts';

/** What a bake is given. */
export interface BakeContext<Settings = BakePassSettings> extends RunResources {
  settings: Settings;
  inputs: OperationInputs<RunMesh>;
  /** The picture that says where rays follow the receiver's own normals, and what it is named by. */
  mask?: Image | null;
  maskHash?: string | null;
  /** Seconds it took to load the inputs. */
  loadSeconds: number;
  /** An earlier bake of the same ticket, of which what has not changed is taken over. */
  earlier?: EarlierBake | null;
  /** The one rectangle to bake; outside it `earlier` stays. */
  region?: Region | null;
  onCanvas?: (canvas: Canvas) => void;
}

export interface BakeResult {
  maps: ({ kind: MapKind; tile: number } & HeldMap)[];
  proof: ProofDetails;
  /** What the next bake can take over; empty where a bake cannot be divided. */
  records: TileRecord[];
  /** `seconds.encode` is 0 and `total` counts up to here; whoever encodes adds its share. */
  report: BakeReport;
}

const pool = new BakePool();

/** Ends the warm tracing threads, so that the process can end. */
export const closeBakePool = (): Promise<void> => pool.close();

/** Where each stage begins on the way from 0 to 1. */
const SHARE = { build: 0, trace: 0.15, pad: 0.92, end: 0.95 };

/**
 * Bakes the maps of one ticket.
 * @throws limit/memory before anything is computed; input/no-uvs, input/cage-topology, input/no-partner,
 * input/not-flat, input/outside-tile, run/nothing-hit, run/cancelled
 */
export async function runBake(context: BakeContext): Promise<BakeResult> {
  requireMemory(context);
  const clock = new StageClock();
  const { threads, cancelFlag, onProgress } = context;
  pool.warmUp(threads);
  const { region } = context;
  const given = scaleSources(context.inputs, context.settings);
  const { inputs, settings } = repeatSources(given, region ? within(context.settings, region) : context.settings);
  const matched = matchInputs(inputs, settings);
  const names = listed(inputs.receivers.map(({ mesh }) => mesh.name));
  const findings = [...preflight(given, context.settings), ...matched.findings];

  const onBuild = (share: number): void => {
    throwIfCancelled(cancelFlag);
    onProgress({ stage: 'build', share: along(SHARE.build, SHARE.trace, share), secondsLeft: null });
  };
  const built = builtScene(matched.groups, threads, onBuild);
  const occluders = matched.occluders && needsFans(settings) ? builtScene([matched.occluders], threads) : null;
  const receiver = receiverOf(matched, inputs.cage, context.mask ?? null, settings);
  if (settings.aim === 'shared') receiver.twins = twinsOf(receiver, built, names);
  const reach = decideReach(receiver, built, settings);
  const { tiles, findings: aboutTiles } = chooseTiles(receiver, settings, names);
  findings.push(...aboutTiles);
  const sources = matched.groups.flat().map(({ mesh }) => mesh);
  const { attributes, legend } = await sourceAttributes(sources, built.scene, settings);
  const box = boxOf(inputs.receivers);
  throwIfCancelled(cancelFlag);
  const buildSeconds = clock.lap();

  const withIslands = settings.prove || settings.occlusion.smooth > 0;
  const bake: TileBake = {
    pool,
    threads,
    cancelFlag,
    scene: built.scene,
    attributes,
    trees: treesOf(built, occluders, receiver, settings),
    islandOf: withIslands ? islandsOf(receiver.positions, receiver.uvs, receiver.indices) : null,
    settings,
    core: coreSettings(settings, reach),
    region: region ? { place: region, earlier: context.earlier ?? null } : null,
    reuse:
      isDivisible(settings) && !region
        ? {
            keys: partKeys(matched, receiver, settings, {
              mask: context.maskHash ?? null,
              legend,
              extent: needsExtent(settings) && attributes.extent,
            }),
            earlier: context.earlier ?? null,
          }
        : null,
  };
  const records: TileRecord[] = [];
  let texelsTaken = 0;
  const proven: Proven[] = [];
  for (const [i, tile] of tiles.entries()) {
    const bakedTile = emptyTile(
      receiver,
      tile,
      settings,
      (size) => emptyImages(size, settings, box, reach),
      withIslands,
    );
    const draft = region || !context.onCanvas ? null : await draftOf({ ...bake, reuse: null }, bakedTile);
    context.onCanvas?.({ image: bakedTile.maps[0]!.image, states: bakedTile.states, draft });
    const { statistics, record, takenOver } = await bakeTile(bake, bakedTile, (share) => {
      const all = (i + share) / tiles.length;
      onProgress({ stage: 'trace', share: along(SHARE.trace, SHARE.pad, all), secondsLeft: clock.left(all) });
    });
    if (record) records.push(record);
    texelsTaken += takenOver;
    proven.push({ bakedTile, statistics });
  }
  const traceSeconds = clock.lap();
  const bakedTiles = proven.map(({ bakedTile }) => bakedTile);
  const statistics = emptyStatistics();
  for (const each of proven) addStatistics(statistics, each.statistics);
  requireResult(statistics, reach, given, names, tiles);

  onProgress({ stage: 'pad', share: SHARE.pad, secondsLeft: null });
  const noise = occlusionNoise(proven, settings);
  finish(bakedTiles, settings, noise);
  throwIfCancelled(cancelFlag);
  const { seams, details } =
    settings.prove || settings.mend ? proveSeams(receiver, bakedTiles, settings) : { seams: {}, details: {} };
  if (settings.prove) {
    const moreReachHelps = (): boolean => isBetterWithMoreReach(receiver, built, reach);
    findings.push(...proofFindings(proven, receiver, settings, { reach, noise, moreReachHelps }));
  }
  const proof: ProofDetails = {
    seams: details,
    likeness: settings.prove ? likenessOf(built, receiver, bakedTiles, settings) : [],
  };
  throwIfCancelled(cancelFlag);
  const padSeconds = clock.lap();
  onProgress({ stage: 'encode', share: SHARE.end, secondsLeft: null });

  const { rays, misses, hitsFromBehind, texels, hitDistances } = statistics;
  const report: BakeReport = {
    repeat: repeatLattice(given, context.settings),
    layout: layoutFingerprint(receiver),
    ...{ rays, misses, hitsFromBehind, texels, hitDistances },
    takenOver: texelsTaken,
    aim: settings.aim,
    reach,
    legend,
    noise,
    seams,
    likeness: proof.likeness.map(({ from, ssim }) => ({ from: [...from] as [number, number, number], ssim })),
    seconds: {
      load: context.loadSeconds,
      build: buildSeconds,
      trace: traceSeconds,
      pad: padSeconds,
      encode: 0,
      total: context.loadSeconds + buildSeconds + traceSeconds + padSeconds,
    },
    peakMemoryBytes: process.resourceUsage().maxRSS * 1024,
    findings,
  };
  const maps = settings.maps.flatMap((kind, m) =>
    bakedTiles.map(({ tile, maps: images, states }) => ({ kind, tile, image: images[m]!.image, states })),
  );
  return { maps, proof, records, report };
}

const along = (from: number, to: number, share: number): number => from + (to - from) * share;

/** Settings for baking one rectangle: of its tile alone, and as it is seen, without what changes texels all over. */
const within = (settings: BakePassSettings, { tile }: Region): BakePassSettings => ({
  ...settings,
  tiles: [tile],
  oversize: 1,
  mend: false,
  occlusion: { ...settings.occlusion, smooth: 0 },
});

/** Whether texels depend on how large the whole scene is. */
const needsExtent = ({ maps }: BakePassSettings): boolean => maps.includes('curvature') || maps.includes('thickness');

const needsFans = ({ maps }: BakePassSettings): boolean =>
  maps.some((kind) => ['above', 'sky'].includes(describeKind(kind).fans ?? ''));

/** @throws input/no-shared-triangles when receiver and source have none in common */
function twinsOf(receiver: Receiver, { scene }: BuiltScene, names: string): Int32Array {
  const twins = sharedTriangles(receiver, scene);
  if (twins.some((twin) => twin !== NO_TWIN)) return twins;
  throw new ZographosError(
    'input/no-shared-triangles',
    `${names} and the source share no triangles (none has the same corner positions), so maps cannot be transferred through shared triangles. Use rays or the nearest surface point.`,
  );
}

function treesOf(
  built: BuiltScene,
  occluders: BuiltScene | null,
  receiver: Receiver,
  { aim }: BakePassSettings,
): BakeTrees {
  return {
    projection: built.tree,
    occluders: occluders && occluders.tree,
    nearest: aim === 'nearest' ? built.nearest() : [],
    receiver: placeBeside(built.tree, receiver),
  };
}

/** What is done to a bakedTile once it is traced: smoothing, ranges, padding. */
function finish(bakedTiles: readonly BakedTile[], settings: BakePassSettings, noise: number | null): void {
  settings.maps.forEach((kind, m) => {
    if (kind === 'ao' && settings.occlusion.smooth > 0) {
      for (const { maps, states, islands } of bakedTiles) {
        smoothOcclusion(maps[m]!.image, states, islands!, settings.occlusion.smooth, noise ?? 0);
      }
    }
    const tiles = bakedTiles.map(({ maps, states }) => ({ image: maps[m]!.image, states }));
    writeMeaning(kind, tiles, settings);
  });
  for (const { maps, states, islands, size } of bakedTiles) {
    const padded = maps.filter(({ kind }) => describeKind(kind).isPadded).map(({ image }) => image);
    const planes = [...padded, ...(islands ? [{ ...size, channels: 1, data: islands }] : [])];
    padIslands(planes, states, settings.padding === 'all' ? Infinity : settings.padding);
  }
}

function requireMemory({ settings, inputs, memoryLimitBytes }: BakeContext): void {
  const { size, samples } = settings;
  const facts = (mesh: RunMesh) => factsOf(mesh.mesh);
  const { memoryBytes } = estimateBake(settings, {
    receivers: inputs.receivers.map(facts),
    sources: inputs.sources.map(facts),
  });
  const what = `This bake at ${size.width} × ${size.height} px with ${samples} × ${samples} samples`;
  refuseBeyondMemory(memoryBytes, memoryLimitBytes, what, 'Choose a smaller size or fewer samples.');
}

function coreSettings(settings: BakePassSettings, reach: Reach): Omit<BakeSettings, 'size'> {
  const { maps, samples, normal, backFaces, occlusion, seed, aim, gradient, sky, sun, prove } = settings;
  const { rays, spread, fallOff, twoSided, distance } = occlusion;
  return {
    maps,
    reach,
    aim,
    samplesPerAxis: samples,
    normal,
    backFaces,
    occlusion: { rays, spread, fallOff, twoSided, distance: distance === 'unlimited' ? Infinity : distance },
    gradient: unitOf(gradient),
    sky: sky ? { ...sky, up: unitOf(sky.up) } : OPEN_SKY,
    sun: sun ? { ...sun, up: unitOf(sun.up), north: levelNorth(sun) } : USUAL_SUN,
    seed,
    prove,
  };
}

/** North made level, for it is as good as chosen by hand; where it is upright, another axis is. */
function levelNorth({ up, north }: NonNullable<BakePassSettings['sun']>): [number, number, number] {
  const [x, y, z] = unitOf(up);
  const level = (v: readonly [number, number, number]): [number, number, number] => {
    const along = v[0] * x + v[1] * y + v[2] * z;
    return [v[0] - along * x, v[1] - along * y, v[2] - along * z];
  };
  const candidates = [north, [0, 0, -1], [0, 1, 0]] as const;
  return unitOf(candidates.map(level).find((v) => Math.hypot(...v) > 1e-6)!);
}

function unitOf(vector: readonly [number, number, number]): [number, number, number] {
  const length = Math.hypot(...vector);
  return vector.map((value) => value / length) as [number, number, number];
}

/** A map without a single covered texel or hit is no result; it says why and what to do. */
function requireResult(
  statistics: BakeStatistics,
  reach: Reach,
  inputs: OperationInputs<RunMesh>,
  names: string,
  tiles: number[],
): void {
  if (statistics.texels.covered === 0) {
    const where = tiles.length === 1 && tiles[0] === 1001 ? 'the tile 0 to 1' : `the tiles ${tiles.join(', ')}`;
    throw new ZographosError(
      'input/outside-tile',
      `No texel is covered: the UVs of ${names} have no area, or lie outside ${where}. Unwrap it, bake its other tiles, or choose another UV set.`,
    );
  }
  if (statistics.misses === statistics.rays) {
    const sources = listed(inputs.sources.map(({ mesh }) => mesh.name));
    const scale = scaleMismatch(boxOf(inputs.receivers), boxOf(inputs.sources));
    throw new ZographosError(
      scale ? 'input/scale' : 'run/nothing-hit',
      scale
        ? `No ray hit ${sources}, which ${scale.sentence}`
        : `No ray hit ${sources} within ${lengthText(reach.out, MESH_UNIT)} outside and ${lengthText(reach.in, MESH_UNIT)} inside ${names}. Check that both are in the same place and at the same scale, and that the source’s normals are not flipped; or increase the reach.`,
    );
  }
}

/** A run knows meshes by their numbers alone; what unit these are in is a property of the asset. */
const MESH_UNIT = 'units';

class StageClock {
  private since = performance.now();

  /** Seconds since the last lap. */
  lap(): number {
    const now = performance.now();
    const seconds = (now - this.since) / 1000;
    this.since = now;
    return seconds;
  }

  /** Seconds left in this stage if it goes on as it did, or null while it is too early to tell. */
  left(share: number): number | null {
    const passed = (performance.now() - this.since) / 1000;
    return share > 0.02 ? (passed * (1 - share)) / share : null;
  }
}
