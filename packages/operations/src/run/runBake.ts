import {
  padIslands,
  planBlocks,
  prepareReceiver,
  sharedUint8,
  suggestReach,
  ZographosError,
  type BakeSettings,
  type BakeStatistics,
  type BakeWork,
  type Reach,
} from '@zographos/core';
import { bakeOperation, type BakeOperationSettings } from '../bake/bakeOperation.ts';
import type { RunReport } from '../report.ts';
import { BakePool } from './bakePool.ts';
import { emptyImages, measuredRange } from './bakedImages.ts';
import { throwIfCancelled, type RunContext, type RunResult } from './context.ts';
import { builtScene } from './sceneCache.ts';
import { sourceAttributes } from './sourceAttributes.ts';

const pool = new BakePool();

/** Ends the warm tracing threads, so that the process can end. */
export const closeBakePool = (): Promise<void> => pool.close();

/** Where each stage begins on the way from 0 to 1. */
const SHARE = { build: 0, trace: 0.15, pad: 0.92, end: 0.95 };

/**
 * Bakes the maps of one ticket.
 * @throws limit/memory before anything is computed; input/no-uvs, input/cage-topology, input/outside-tile,
 * run/nothing-hit, run/cancelled
 */
export async function runBake(context: RunContext<BakeOperationSettings>): Promise<RunResult> {
  const { settings, inputs, cancelFlag, onProgress } = context;
  refuseBeyondMemory(context);
  const clock = new StageClock();

  const { scene, tree, tracer } = builtScene(inputs.sources, context.threads, (share) => {
    throwIfCancelled(cancelFlag);
    onProgress({ stage: 'build', share: SHARE.build + share * (SHARE.trace - SHARE.build), secondsLeft: null });
  });
  const receiver = prepareReceiver(inputs.receiver.mesh, settings.uvSet, settings.direction, inputs.cage?.mesh);
  const reach = settings.reach === 'auto' ? suggestReach(inputs.receiver.mesh, scene, tracer) : settings.reach;
  const plan = planBlocks(receiver.uvs, receiver.indices, settings.size);
  const sources = inputs.sources.map((source) => source.mesh);
  const { attributes, legend } = sourceAttributes(sources, scene, settings);
  throwIfCancelled(cancelFlag);
  const buildSeconds = clock.lap();

  const made = emptyImages(settings, inputs.receiver.mesh, reach);
  const states = sharedUint8(settings.size.width * settings.size.height);
  context.onCanvas?.(made[0]!.image);
  const work: BakeWork = {
    scene,
    attributes,
    receiver,
    plan,
    settings: bakeSettingsOf(settings, reach),
    target: { maps: made.map(({ image }) => image.data), states },
  };
  const statistics = await pool.bake({ work, tree }, context.threads, cancelFlag, (share) =>
    onProgress({ stage: 'trace', share: along(SHARE.trace, SHARE.pad, share), secondsLeft: clock.left(share) }),
  );
  const traceSeconds = clock.lap();
  requireResult(statistics, reach, context, plan.outsideTile);

  onProgress({ stage: 'pad', share: SHARE.pad, secondsLeft: null });
  for (const each of made) {
    const range = measuredRange(each, states, settings);
    if (range) each.image.range = range;
  }
  // What a coverage map says would not be true of padding.
  const padded = made.filter(({ kind }) => kind !== 'coverage').map(({ image }) => image);
  padIslands(padded, states, settings.padding === 'all' ? Infinity : settings.padding);
  throwIfCancelled(cancelFlag);
  const padSeconds = clock.lap();
  onProgress({ stage: 'encode', share: SHARE.end, secondsLeft: null });

  const report: RunReport = {
    ...statistics,
    reach: { out: reach.out, in: reach.in },
    legend,
    seconds: {
      load: context.loadSeconds,
      build: buildSeconds,
      trace: traceSeconds,
      pad: padSeconds,
      encode: 0,
      total: context.loadSeconds + buildSeconds + traceSeconds + padSeconds,
    },
    peakMemoryBytes: process.resourceUsage().maxRSS * 1024,
    findings: findings(statistics, plan.outsideTile, context),
  };
  return { maps: made.map(({ kind, image }) => ({ kind, image, states })), report };
}

const along = (from: number, to: number, share: number): number => from + (to - from) * share;

function refuseBeyondMemory({ settings, inputs, memoryLimitBytes }: RunContext<BakeOperationSettings>): void {
  const facts = ({ mesh }: { mesh: { name: string; indices: Uint32Array; positions: Float32Array } }) => ({
    name: mesh.name,
    triangles: mesh.indices.length / 3,
    vertices: mesh.positions.length / 3,
  });
  const { memoryBytes } = bakeOperation.estimate(settings, {
    receiver: facts(inputs.receiver),
    sources: inputs.sources.map(facts),
  });
  if (memoryBytes <= memoryLimitBytes) return;
  throw new ZographosError(
    'limit/memory',
    `This bake at ${settings.size.width} × ${settings.size.height} px with ${settings.samples} × ${settings.samples} samples would need about ${gigabytes(memoryBytes)} GB; the limit is ${gigabytes(memoryLimitBytes)} GB (ZOGRAPHOS_MAX_MEMORY_MB). Choose a smaller size or fewer samples.`,
  );
}

const gigabytes = (bytes: number): string => (bytes / 1e9).toFixed(1);

function bakeSettingsOf(settings: BakeOperationSettings, reach: Reach): BakeSettings {
  const { maps, size, samples, normal, backFaces, occlusion, seed } = settings;
  return {
    maps,
    size,
    reach: { out: reach.out, in: reach.in },
    samplesPerAxis: samples,
    normal,
    backFaces,
    occlusion: { ...occlusion, distance: occlusion.distance === 'unlimited' ? Infinity : occlusion.distance },
    seed,
  };
}

/** A map without a single covered texel or hit is no result; it says why and what to do. */
function requireResult(
  statistics: BakeStatistics,
  reach: Reach,
  { inputs }: RunContext<BakeOperationSettings>,
  outsideTile: number,
): void {
  const receiver = inputs.receiver.mesh.name;
  if (statistics.texels.covered === 0) {
    throw new ZographosError(
      'input/outside-tile',
      outsideTile > 0
        ? `All UVs of “${receiver}” lie outside the tile 0 to 1, so no texel is covered. Move its islands into the tile, or choose another UV set.`
        : `The UVs of “${receiver}” have no area, so no texel is covered. Unwrap it, or choose another UV set.`,
    );
  }
  if (statistics.misses === statistics.rays) {
    const sources = inputs.sources.map((source) => `“${source.mesh.name}”`).join(' and ');
    throw new ZographosError(
      'run/nothing-hit',
      `None of ${statistics.rays} rays met ${sources} within ${reach.out} out and ${reach.in} in of “${receiver}”. Check that they lie in the same place at the same scale and that the source is not inside out, or raise the reach.`,
    );
  }
}

function findings(
  { texels, hitsFromBehind }: BakeStatistics,
  outsideTile: number,
  { inputs }: RunContext<BakeOperationSettings>,
): RunReport['findings'] {
  const found: RunReport['findings'] = [];
  const receiver = inputs.receiver.mesh.name;
  if (texels.missed > 0) {
    found.push({
      severity: 'warning',
      sentence: `${texels.missed} texels met nothing and show the receiver's own surface. Raise the reach, or look for holes in the source.`,
    });
  }
  if (texels.overlapping > 0) {
    found.push({
      severity: 'warning',
      sentence: `${texels.overlapping} texels are shared by overlapping UVs of “${receiver}”; the first triangle won. Lay its islands apart.`,
    });
  }
  if (outsideTile > 0) {
    found.push({
      severity: 'warning',
      sentence: `${outsideTile} triangles of “${receiver}” have UVs outside the tile; what lies outside was not baked.`,
    });
  }
  if (hitsFromBehind > 0) {
    found.push({ severity: 'note', sentence: `${hitsFromBehind} rays met the source from behind.` });
  }
  return found;
}

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
