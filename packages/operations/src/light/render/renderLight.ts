import { padIslands, type Receiver } from '@zographos/core/bake';
import { ZographosError } from '@zographos/core/errors';
import { fillBackground, parseBackground, type Image, type MapKind } from '@zographos/core/image';
import { accumulatedPerTexel, denoise, type LightWork } from '@zographos/core/light';
import type { Mesh } from '@zographos/core/mesh';
import type { Size } from '@zographos/core/math';
import { layoutFingerprint } from '@zographos/core/uv';
import { atTile, chooseTiles } from '../../bake/blocks/bakedTiles.ts';
import { refuseBeyondMemory } from '../../memoryLimit.ts';
import { factsOf } from '../../operation.ts';
import type { Finding } from '../../proof/finding.ts';
import { secondsSince, throwIfCancelled, type Canvas, type RunResources } from '../../runContext.ts';
import { namesText } from '../../wording.ts';
import { estimateLight } from '../estimate.ts';
import { LightCanvas } from './lightCanvas.ts';
import { findOnTile, lightFindings, type FoundOnTile } from './lightFindings.ts';
import { combinedAt, groupOf, measured, noiseOf, passOf } from './lightPasses.ts';
import { shutInLights } from './shutInLights.ts';
import { tileWork, traceTile, warmLightPool } from './lightTile.ts';
import { litScene, type LitScene } from '../scene/litScene.ts';
import { GROUP_KINDS, KIND_OF_PASS } from '../options.ts';
import type { LightReport } from '../report.ts';
import type { LightSettings } from '../settings.ts';

/** What a light bake is given. */
export interface LightContext extends RunResources {
  settings: LightSettings;
  receivers: readonly Mesh[];
  sources: readonly Mesh[];
  /** Of the settings' environment, where it is an image; as light. */
  environment: Image | null;
  /** Seconds it took to load all that. */
  loadSeconds?: number;
  /** Told when there is a picture to look at while a tile grows finer. */
  onCanvas?: (canvas: Canvas) => void;
  /** Takes each picture as soon as it is made, so that memory need not hold them all. */
  onPass: (pass: LitPass) => Promise<void>;
}

/** A picture that a light bake has made. */
export interface LitPass {
  /** A pass by its id, or `group-` and the name of a light group. */
  name: string;
  kind: MapKind;
  tile: number;
  image: Image;
  states: Uint8Array;
}

/** A tile that is larger is drafted first, at an eighth of its width. */
const DRAFTED = 512;
const DRAFT_SAMPLES = 8;
/** How much of a run it takes to get ready. */
const READY_SHARE = 0.05;

/**
 * Lights the receivers and makes pictures of it on their layout, tile by tile.
 * @throws input/bad-settings where there is no light at all, or the environment is none; limit/memory; input/no-uvs;
 * input/outside-tile; run/cancelled
 */
export async function renderLight(context: LightContext): Promise<LightReport> {
  const { settings, threads, cancelFlag, onProgress, receivers, sources, loadSeconds = 0 } = context;
  const started = performance.now();
  requireMemory(context);
  warmLightPool(threads);
  onProgress({ stage: 'build', share: 0, secondsLeft: null });
  const check = (): void => throwIfCancelled(cancelFlag);
  const scene = await litScene(settings, receivers, sources, context.environment, threads, check);
  const names = namesText(
    receivers.map(({ name }) => name),
    'mesh',
  );
  const { tiles, findings } = chooseTiles(scene.receiver, settings, names);
  const shutIn = shutInLights(scene, settings);
  const buildSeconds = secondsSince(started);
  const begun = performance.now();
  const total = new Totals();
  for (const [i, tile] of tiles.entries()) {
    const onShare = (share: number): void => {
      const all = (i + share) / tiles.length;
      const seconds = secondsSince(begun);
      const secondsLeft = all > 0.01 ? (seconds / all) * (1 - all) : null;
      onProgress({ stage: 'trace', share: READY_SHARE + (1 - READY_SHARE) * all, secondsLeft });
    };
    total.add(await litTile(scene, tile, context, onShare));
  }
  if (total.texels === 0) {
    throw new ZographosError(
      'input/outside-tile',
      'No texel is covered: the receiver’s UVs lie outside the tile 0 to 1. Move its islands into it, or choose another UV set.',
    );
  }
  return total.report(settings, scene, shutIn, findings, {
    load: loadSeconds,
    build: buildSeconds,
    trace: secondsSince(begun),
    total: loadSeconds + secondsSince(started),
  });
}

/** What a tile has given. */
interface LitTile {
  samples: number;
  rays: number;
  overlapping: number;
  measured: ReturnType<typeof measured>;
  /** Sum of the squares of what taking noise out has changed. */
  changed: number;
  found: FoundOnTile;
}

async function litTile(
  scene: LitScene,
  tile: number,
  context: LightContext,
  onShare: (share: number) => void,
): Promise<LitTile> {
  const { settings, cancelFlag, onProgress, onCanvas } = context;
  const { tree } = scene;
  const receiver = atTile(scene.receiver, tile);
  const canvas = onCanvas && new LightCanvas(settings.size);
  if (canvas) {
    canvas.draft = await draftOf(scene, receiver, context);
    onCanvas(canvas);
  }
  const work = tileWork(scene, receiver, settings.size, settings);
  const taken = await traceTile(work, tree, settings, context, onShare, (samples) => canvas?.show(work, samples));
  const { samples } = taken;
  const figures = measured(work, samples);
  const found = findOnTile(tile, work, samples);
  const pass = async (made: Pick<LitPass, 'name' | 'kind' | 'image'>): Promise<void> => {
    throwIfCancelled(cancelFlag);
    const { image } = made;
    const states = work.target.states.slice();
    padIslands([image], states, settings.padding === 'all' ? Infinity : settings.padding);
    const background = settings.background ? parseBackground(settings.background) : null;
    if (background) fillBackground(image, states, background);
    await context.onPass({ ...made, tile, states });
  };
  if (settings.passes.includes('noisy')) {
    await pass({ name: 'noisy', kind: KIND_OF_PASS.noisy, image: passOf('noisy', work, samples) });
  }
  const changed = denoised(work, samples, settings, () => throwIfCancelled(cancelFlag));
  canvas?.show(work, samples);
  onProgress({ stage: 'pad', share: 1, secondsLeft: null });
  for (const made of passesOf(work, samples, settings, scene.groups)) await pass(made);
  return { ...taken, measured: figures, changed, found };
}

/** A tile at a size at which it takes a moment; null where it takes but that at its own. */
async function draftOf(scene: LitScene, receiver: Receiver, context: LightContext): Promise<Canvas | null> {
  const { settings } = context;
  const { width, height } = settings.size;
  if (Math.max(width, height) <= DRAFTED) return null;
  const size: Size = { width: Math.max(16, width >> 3), height: Math.max(16, height >> 3) };
  const work = tileWork(scene, receiver, size, { ...settings, denoise: 0 });
  const samples = Math.min(settings.samples, DRAFT_SAMPLES);
  await traceTile(work, scene.tree, { samples, noise: 0 }, context);
  const draft = new LightCanvas(size);
  draft.show(work, samples);
  return draft;
}

/** Takes noise out. @returns the sum of the squares of what that has changed, per sample */
function denoised(work: LightWork, samples: number, { denoise: strength }: LightSettings, check: () => void): number {
  if (strength === 0) return 0;
  const { plan, settings, target } = work;
  const texels = plan.size.width * plan.size.height;
  const level = (i: number): number => (combinedAt(work, i, 0) + combinedAt(work, i, 1) + combinedAt(work, i, 2)) / 3;
  const before = new Float32Array(texels);
  for (let i = 0; i < texels; i++) before[i] = level(i);
  denoise(target, plan.size, accumulatedPerTexel(settings.groups), strength, check);
  let squares = 0;
  for (let i = 0; i < texels; i++) squares += ((level(i) - before[i]!) / samples) ** 2;
  return squares;
}

function* passesOf(
  work: LightWork,
  samples: number,
  { passes }: LightSettings,
  groups: readonly string[],
): Generator<Pick<LitPass, 'name' | 'kind' | 'image'>> {
  for (const pass of passes) {
    if (pass === 'noisy') continue;
    if (pass !== 'groups') {
      yield { name: pass, kind: KIND_OF_PASS[pass], image: passOf(pass, work, samples) };
      continue;
    }
    for (const [i, name] of groups.entries()) {
      yield { name: `group-${name}`, kind: GROUP_KINDS[i]!, image: groupOf(i, work, samples) };
    }
  }
}

/** Adds up what tiles have given. */
class Totals {
  texels = 0;
  private readonly tiles: LitTile[] = [];

  add(tile: LitTile): void {
    this.tiles.push(tile);
    this.texels += tile.measured.texels;
  }

  report(
    settings: LightSettings,
    { receiver, groups }: LitScene,
    shutIn: readonly number[],
    findings: readonly Finding[],
    seconds: LightReport['seconds'],
  ): LightReport {
    const { tiles, texels } = this;
    const sum = (of: (tile: LitTile) => number): number => tiles.reduce((all, tile) => all + of(tile), 0);
    const samples = Math.max(...tiles.map((tile) => tile.samples));
    const meanOf = (c: 0 | 1 | 2): number =>
      sum(({ measured }) => measured.mean[c] * measured.texels) / Math.max(1, texels);
    const mean: LightReport['mean'] = [meanOf(0), meanOf(1), meanOf(2)];
    const noise = noiseOf(
      sum(({ measured }) => measured.squares),
      texels,
      mean,
      samples,
    );
    const figures = {
      ...{ samples, texels, noise, mean },
      paths: sum((tile) => tile.samples * tile.measured.texels),
      rays: sum(({ rays }) => rays),
      overlapping: sum(({ overlapping }) => overlapping),
      moved: sum(({ found }) => found.moved),
    };
    const found = tiles.map((tile) => tile.found);
    return {
      layout: layoutFingerprint(receiver),
      ...figures,
      denoised:
        settings.denoise > 0
          ? noiseOf(
              sum(({ changed }) => changed),
              texels,
              mean,
              samples,
            )
          : null,
      groups: settings.passes.includes('groups') ? groups : [],
      seconds,
      peakMemoryBytes: process.resourceUsage().maxRSS * 1024,
      findings: [...findings, ...lightFindings(found, figures, settings, shutIn)],
    };
  }
}

function requireMemory({ settings, receivers, sources, memoryLimitBytes }: LightContext): void {
  const inputs = { receivers: receivers.map(factsOf), sources: sources.map(factsOf) };
  const { width, height } = settings.size;
  const wayOut = 'Choose a smaller size, leave denoising out, or bake fewer light groups.';
  const { memoryBytes } = estimateLight(settings, inputs);
  refuseBeyondMemory(memoryBytes, memoryLimitBytes, `Light at ${width} × ${height} px`, wayOut);
}
