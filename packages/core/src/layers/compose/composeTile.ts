import { padIslands } from '../../bake/finish/padding.ts';
import { sharedFloat32, sharedUint8 } from '../../sharedArrays.ts';
import type { BlockWork } from './blockComposer.ts';
import { channelsOf, everyLayer, shapesNeighbours, type Layer, type Stack } from '../stack.ts';
import { LAYER_CHANNELS, widthOf, type LayerChannel } from '../channels.ts';
import { adjustedPlane, planeOfAdjustment } from '../content/adjustmentContent.ts';
import type { LayeredTile } from '../surface/layeredSurface.ts';
import type { LayerInputs } from '../inputs/layerInputs.ts';
import { layerPlan, type LayerStage } from './layerPlan.ts';
import { barePlanes, copyPlanes, type LayerPlanes } from './layerPlanes.ts';
import { planeOfMask } from '../mask/layerMask.ts';
import { retouch } from '../painting/retouch.ts';
import type { RetouchedTile } from '../painting/retouchedTiles.ts';
import { runPlanes } from '../process/prepareProcesses.ts';
import { shapeMask } from '../mask/shapedMask.ts';

/** Does a piece of work to all blocks of a tile: on this thread, or on several. */
export type DoBlocks = (work: BlockWork, inputs: LayerInputs, onShare: (share: number) => void) => Promise<void>;

export interface ComposeOptions {
  doBlocks: DoBlocks;
  /** Told the share that is done, 0 to 1, and what is being done. May throw, for one that is to stop. */
  onProgress?: (share: number, what: string) => void;
}

/** The channels that a stack makes. Where heights are added there are normals too. */
export function channelsOfStack({ layers }: Pick<Stack, 'layers'>): LayerChannel[] {
  const written = new Set<LayerChannel>();
  for (const layer of layers) if (layer.visible && layer.opacity > 0) for (const c of channelsOf(layer)) written.add(c);
  if ([...everyLayer(layers)].some((layer) => layer.content !== 'maps' && channelsOf(layer).includes('height'))) {
    if (written.has('height')) written.add('normal');
  }
  return LAYER_CHANNELS.filter((channel) => written.has(channel));
}

/** A tile that is composed, with what layers are made of there. */
export interface TileInputs {
  tile: LayeredTile;
  inputs: LayerInputs;
  options: ComposeOptions;
}

/**
 * Composes one tile of a stack. Layers go block by block; what looks at more than one texel works on whole planes between
 * them.
 * @param channels those that are wanted; their order does not matter
 * @throws missing/not-found, input/other-topology, and whatever `onProgress` throws
 * @example await composeTile(stack, ['basecolor'], { tile, inputs, options: { doBlocks: onThisThread(tile, 'seen') } })
 */
export async function composeTile(
  stack: Stack,
  channels: readonly LayerChannel[],
  tile: TileInputs,
): Promise<LayerPlanes> {
  const [planes] = await composeTiles(stack, channels, [tile]);
  return planes!;
}

/** Composes tiles that strokes go over together; see `tilesTogether`. @throws as `composeTile` */
export async function composeTiles(
  stack: Stack,
  channels: readonly LayerChannel[],
  tiles: readonly TileInputs[],
): Promise<LayerPlanes[]> {
  const composed: TilePlanes[] = [];
  for (const { tile, inputs, options } of tiles) {
    const made = await runPlanes(stack.layers, tile, inputs, options);
    const planes = barePlanes(tile, planesFor(channels));
    composed.push({ tile, planes, options, inputs: { ...inputs, planes: new Map([...inputs.planes, ...made]) } });
  }
  await composeLayers(stack, composed);
  for (const { planes, inputs, options } of composed) await layRelief(planes, channels, inputs, options);
  return composed.map(({ planes }) => planes);
}

/** The channels that have to be computed for those that are wanted: normals need the heights that layers add. */
export const planesFor = (channels: readonly LayerChannel[]): readonly LayerChannel[] =>
  channels.includes('normal') ? [...new Set([...channels, 'height' as const])] : channels;

/** A tile with the planes that layers are laid onto. */
export interface TilePlanes extends TileInputs {
  planes: LayerPlanes;
}

/**
 * Lays layers onto the planes of tiles, which are changed in place; heights are not turned into slopes yet, so that more
 * layers can follow.
 * @param tiles with the planes of `runPlanes` among their inputs, where layers have runs
 * @throws as `composeTile`
 */
export async function composeLayers({ layers, mixing }: Stack, tiles: readonly TilePlanes[]): Promise<void> {
  const stages = layerPlan(layers, tiles[0]!.inputs.strokes);
  const states = tiles.map((composed) => new TileStages(composed, mixing));
  for (const [i, stage] of stages.entries()) {
    const share = (within: number): number => (i + within) / (stages.length + 1);
    if (stage.do !== 'retouch') {
      for (const state of states) await state.go(stage, share);
      continue;
    }
    const covered: RetouchedTile[] = [];
    for (const state of states) covered.push(await state.covered(stage, share));
    retouch(stage.stroke, covered, stage.layer.channels);
  }
}

/** One tile on its way through the stages of a stack. */
class TileStages {
  private readonly composed: TilePlanes;
  private readonly mixing: Stack['mixing'];
  private readonly made: Map<string, Float32Array>;
  private readonly kept = new Map<string, LayerPlanes>();

  constructor(composed: TilePlanes, mixing: Stack['mixing']) {
    this.composed = composed;
    this.mixing = mixing;
    this.made = new Map(composed.inputs.planes);
  }

  private doBlocks(work: BlockWork, onShare: (share: number) => void = () => {}): Promise<void> {
    const { inputs, options } = this.composed;
    return options.doBlocks(work, { ...inputs, planes: this.made }, onShare);
  }

  /** @param shareOf turns the share of a stage that is done into that of all */
  async go(stage: Exclude<LayerStage, { do: 'retouch' }>, shareOf: (share: number) => number): Promise<void> {
    const { tile, planes, options } = this.composed;
    const { made, kept, mixing } = this;
    const at = (share: number): void => options.onProgress?.(shareOf(share), nameOf(stage));
    at(0);
    switch (stage.do) {
      case 'lay':
        await this.doBlocks({ do: 'lay', layers: stage.layers, planes }, at);
        for (const layer of stage.layers) dropPlanes(made, layer);
        break;
      case 'mask': {
        const plane = sharedFloat32(tile.size.width * tile.size.height);
        const states = sharedUint8(plane.length);
        await this.doBlocks({ do: 'mask', layer: stage.layer, plane, states }, at);
        shapeMask(plane, states, stage.layer.mask.shaping, tile);
        made.set(planeOfMask(stage.layer.id), plane);
        break;
      }
      case 'adjust':
        adjustPlanes(stage.layer, planes, tile, mixing, made);
        break;
      case 'keep':
        kept.set(stage.layer.id, copyPlanes(planes));
        break;
      case 'mix': {
        const before = kept.get(stage.layer.id)!;
        await this.doBlocks({ do: 'mix', layer: stage.layer, before, planes }, at);
        kept.delete(stage.layer.id);
        dropPlanes(made, stage.layer);
      }
    }
  }

  /** What a stroke covers here, to be retouched with the other tiles. */
  async covered(
    stage: Extract<LayerStage, { do: 'retouch' }>,
    shareOf: (share: number) => number,
  ): Promise<RetouchedTile> {
    const { tile, planes, options } = this.composed;
    const covered = sharedFloat32(tile.size.width * tile.size.height);
    await this.doBlocks({ do: 'stroke', stroke: stage.stroke, plane: covered }, (share) =>
      options.onProgress?.(shareOf(share), nameOf(stage)),
    );
    return { tile, covered, planes, before: this.kept.get(stage.layer.id)! };
  }
}

/**
 * Lays layers on again where something of them is another, on what is kept of all that lies beneath them.
 * @param base what lies beneath, as it was when `planes` were composed
 * @param changed the channels that are another; what layers do to one never hangs on those of another
 * @param options.doBlocks of the blocks that change, with those around them where heights or normals do
 * @returns false where a layer looks at more than one texel, so that all has to be composed again; nothing is changed then
 * @throws as `composeTile`
 */
export async function layAgain(
  { layers }: Pick<Stack, 'layers'>,
  base: LayerPlanes,
  planes: LayerPlanes,
  changed: readonly LayerChannel[],
  inputs: LayerInputs,
  { doBlocks, onProgress = () => {} }: ComposeOptions,
): Promise<boolean> {
  const stages = layerPlan(layers, inputs.strokes);
  if (stages.some((stage) => stage.do !== 'lay')) return false;
  const laid = stages.flatMap((stage) => (stage.do === 'lay' ? stage.layers : []));
  const work = { do: 'lay', layers: laid, planes: only(planes, changed), from: only(base, changed) } as const;
  await doBlocks(work, inputs, (share) => onProgress(share, 'layers'));
  return true;
}

/** Whether slopes have to be found again where these channels are another. */
export const hasRelief = (channels: readonly LayerChannel[]): boolean =>
  channels.includes('height') || channels.includes('normal');

/** The planes of some channels; where slopes are found again, of what they are found from too. */
function only({ channels, relief, states }: LayerPlanes, changed: readonly LayerChannel[]): LayerPlanes {
  const wanted = new Set(changed);
  if (hasRelief(changed)) wanted.add('height').add('normal');
  const kept = Object.entries(channels).filter(([channel]) => wanted.has(channel as LayerChannel));
  return { channels: Object.fromEntries(kept), relief: wanted.has('height') ? relief : null, states };
}

/** Turns the heights that layers have added into slopes of the normals, once all layers are laid on. */
export async function layRelief(
  planes: LayerPlanes,
  channels: readonly LayerChannel[],
  inputs: LayerInputs,
  { doBlocks, onProgress = () => {} }: ComposeOptions,
): Promise<void> {
  if (!channels.includes('normal') || !planes.relief || isLevel(planes.relief)) return;
  await doBlocks({ do: 'relief', planes }, inputs, (share) => onProgress(0.95 + 0.05 * share, 'normals'));
}

function isLevel(heights: Float32Array): boolean {
  for (let i = 0; i < heights.length; i++) if (heights[i] !== 0) return false;
  return true;
}

const nameOf = (stage: LayerStage): string =>
  stage.do === 'lay'
    ? stage.layers.length === 1
      ? stage.layers[0]!.name
      : `${stage.layers.length} layers`
    : stage.layer.name;

function dropPlanes(made: Map<string, Float32Array>, { id }: Layer): void {
  made.delete(planeOfMask(id));
  for (const channel of LAYER_CHANNELS) made.delete(planeOfAdjustment(id, channel));
}

/** Everything beneath a layer, adjusted as a picture; islands are padded first, so that nothing bleeds in between them. */
function adjustPlanes(
  layer: Extract<LayerStage, { do: 'adjust' }>['layer'],
  planes: LayerPlanes,
  { size, surface, texel }: LayeredTile,
  mixing: Stack['mixing'],
  made: Map<string, Float32Array>,
): void {
  // Radii of adjustments are shares of the width; those of layers are millimetres.
  const steps = layer.steps.map((step) =>
    'radius' in step ? { ...step, radius: step.radius / (texel * size.width) } : step,
  );
  for (const channel of layer.channels) {
    const plane = planes.channels[channel];
    if (!plane) continue;
    const image = { ...size, channels: widthOf(channel), data: plane.slice() };
    padIslands([image], planes.states.slice(), PADDED);
    const done = adjustedPlane(image, channel, steps, mixing, surface.repeats ? 'repeat' : 'clamp').data;
    const shared = sharedFloat32(done.length);
    shared.set(done);
    made.set(planeOfAdjustment(layer.id, channel), shared);
  }
}

/** Texels that islands are padded by before they are filtered. */
const PADDED = 64;

/** Whether a stack needs whole planes beside its channels, for whoever estimates memory. */
export const needsPlanes = ({ layers }: Pick<Stack, 'layers'>): boolean =>
  [...everyLayer(layers)].some(({ mask }) => shapesNeighbours(mask.shaping));
