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

/**
 * Composes one tile of a stack. Layers go block by block; what looks at more than one texel works on whole planes between
 * them.
 * @param channels those that are wanted; their order does not matter
 * @throws missing/not-found, input/other-topology, and whatever `onProgress` throws
 * @example await composeTile(stack, ['basecolor'], tile, inputs, { doBlocks: onThisThread(tile, 'seen') })
 */
export async function composeTile(
  stack: Stack,
  channels: readonly LayerChannel[],
  tile: LayeredTile,
  inputs: LayerInputs,
  options: ComposeOptions,
): Promise<LayerPlanes> {
  const planes = barePlanes(tile, planesFor(channels));
  const made = await runPlanes(stack.layers, tile, inputs, options);
  await composeLayers(stack, planes, tile, { ...inputs, planes: new Map([...inputs.planes, ...made]) }, options);
  await layRelief(planes, channels, inputs, options);
  return planes;
}

/** The channels that have to be computed for those that are wanted: normals need the heights that layers add. */
export const planesFor = (channels: readonly LayerChannel[]): readonly LayerChannel[] =>
  channels.includes('normal') ? [...new Set([...channels, 'height' as const])] : channels;

/**
 * Lays layers onto planes, which are changed in place; heights are not turned into slopes yet, so that more layers can
 * follow.
 * @param inputs with the planes of `runPlanes`, where layers have runs
 * @throws as `composeTile`
 */
export async function composeLayers(
  { layers, mixing }: Stack,
  planes: LayerPlanes,
  tile: LayeredTile,
  inputs: LayerInputs,
  { doBlocks, onProgress = () => {} }: ComposeOptions,
): Promise<void> {
  const stages = layerPlan(layers, inputs.strokes);
  const made = new Map(inputs.planes);
  const kept = new Map<string, LayerPlanes>();
  const withPlanes = (): LayerInputs => ({ ...inputs, planes: made });
  for (const [i, stage] of stages.entries()) {
    const at = (share: number): void => onProgress((i + share) / (stages.length + 1), nameOf(stage));
    at(0);
    switch (stage.do) {
      case 'lay':
        await doBlocks({ do: 'lay', layers: stage.layers, planes }, withPlanes(), at);
        for (const layer of stage.layers) dropPlanes(made, layer);
        break;
      case 'mask': {
        const plane = sharedFloat32(tile.size.width * tile.size.height);
        const states = sharedUint8(plane.length);
        await doBlocks({ do: 'mask', layer: stage.layer, plane, states }, withPlanes(), at);
        shapeMask(plane, states, stage.layer.mask.shaping, tile);
        made.set(planeOfMask(stage.layer.id), plane);
        break;
      }
      case 'adjust':
        adjustPlanes(stage.layer, planes, tile, mixing, made);
        break;
      case 'retouch': {
        const covered = sharedFloat32(tile.size.width * tile.size.height);
        await doBlocks({ do: 'stroke', stroke: stage.stroke, plane: covered }, withPlanes(), at);
        retouch(stage.stroke, covered, planes, kept.get(stage.layer.id)!, stage.layer.channels, tile);
        break;
      }
      case 'keep':
        kept.set(stage.layer.id, copyPlanes(planes));
        break;
      case 'mix': {
        const before = kept.get(stage.layer.id)!;
        await doBlocks({ do: 'mix', layer: stage.layer, before, planes }, withPlanes(), at);
        kept.delete(stage.layer.id);
        dropPlanes(made, stage.layer);
      }
    }
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
  if (!channels.includes('normal') || !planes.relief?.some((height) => height !== 0)) return;
  await doBlocks({ do: 'relief', planes }, inputs, (share) => onProgress(0.95 + 0.05 * share, 'normals'));
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
