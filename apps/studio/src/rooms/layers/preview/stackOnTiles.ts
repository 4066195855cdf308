import {
  measuredKindsOf,
  onThisThread,
  prepareProcesses,
  runPlanes,
  sourceSize,
  type ComposeOptions,
  type Layer,
  type LayeredSurface,
  type LayeredTile,
  type LayerInputs,
  type PreparedProcesses,
} from '@zographos/core/layers';
import type { Size } from '@zographos/core/math';
import type { LayersAsk } from './layersMessages.ts';
import { inputsKey, inputsOfAsk, strokesOfAsk } from './previewInputs.ts';
import { placesOf, tileOf, within } from './previewSurface.ts';

/** A tile with all that layers need on it. */
export interface StackTile {
  tile: LayeredTile;
  inputs: LayerInputs;
  options: ComposeOptions;
}

/**
 * Makes ready what a stack needs on its tiles; what was found for the picture before is gone by again.
 * @param layers those that are laid on
 * @param onProgress may throw, for a picture that is not wanted any more
 */
export async function stackOnTiles(
  ask: LayersAsk,
  surface: LayeredSurface,
  layers: readonly Layer[],
  onProgress: () => void = () => {},
): Promise<(number: number) => Promise<StackTile>> {
  const { settings, side } = ask;
  const size = within(settings.size, side);
  // The images of brushes are among the inputs: strokes have to be here first.
  const strokes = await strokesOfAsk(ask);
  const processes = await processesOf(ask, surface, layers, strokes);
  const inputsOf = await inputsOfAsk(ask, size);
  return async (number) => {
    const tile = tileOf(surface, number, size);
    const options = { doBlocks: onThisThread(tile, settings.mixing, pause, placesOf(number, size)), onProgress };
    const inputs = { ...(await inputsOf(number, size)), strokes, processes };
    return { tile, options, inputs: { ...inputs, planes: await runsOf(layers, tile, inputs, options) } };
  };
}

/** Where processes begin, as it was found last; the inputs it was found by. */
let processesKnown: { key: string; processes: PreparedProcesses } = { key: '', processes: new Map() };

async function processesOf(
  ask: LayersAsk,
  surface: LayeredSurface,
  layers: readonly Layer[],
  strokes: LayerInputs['strokes'],
): Promise<PreparedProcesses> {
  const { settings } = ask;
  const size = sourceSize(settings.size);
  // Nothing but where processes begin is gone by, whatever layers are made of.
  const masks = layers.flatMap(processMasksOf);
  const kinds = measuredKindsOf(masks);
  const measured = settings.measured.filter(({ kind }) => kinds.includes(kind));
  const asked = { ...ask, settings: { ...settings, layers: masks, measured }, side: Math.max(size.width, size.height) };
  const inputsOf = await inputsOfAsk(asked, size, 'processes');
  const key = inputsKey();
  const known = processesKnown.key === key ? processesKnown.processes : undefined;
  const inputsAt = async (tile: number, at: Size) => ({ ...(await inputsOf(tile, at)), strokes });
  const processes = await prepareProcesses(layers, surface, settings.size, inputsAt, known);
  processesKnown = { key, processes };
  return processes;
}

/** A layer and those within it, as far as processes in their masks tell. */
function processMasksOf(layer: Layer): Layer[] {
  const steps = layer.mask.steps.filter(({ measure }) => measure === 'runs' || measure === 'spreading');
  const plain: Layer = { ...layer, content: 'plain', values: {}, mask: { ...layer.mask, steps } };
  return [plain, ...(layer.content === 'group' ? layer.layers.flatMap(processMasksOf) : [])];
}

/** What runs leave, by tile and size: changing other layers does not let them run again. */
const runPlanesKnown = new Map<string, { processes: PreparedProcesses; planes: Map<string, Float32Array> }>();

async function runsOf(
  layers: readonly Layer[],
  tile: LayeredTile,
  inputs: LayerInputs,
  options: ComposeOptions,
): Promise<Map<string, Float32Array>> {
  const place = nameOfTile(tile);
  const before = runPlanesKnown.get(place);
  const isSame = [...inputs.processes].every(([key, process]) => (before?.processes.get(key) ?? process) === process);
  const planes = await runPlanes(layers, tile, inputs, options, isSame ? before?.planes : undefined);
  runPlanesKnown.set(place, { processes: inputs.processes, planes });
  return planes;
}

/** Names a tile at a size. */
export const nameOfTile = ({ tile, size }: Pick<LayeredTile, 'tile' | 'size'>): string =>
  `${tile} ${size.width} ${size.height}`;

/** On another surface nothing that is kept is of use. */
export function forgetProcesses(): void {
  runPlanesKnown.clear();
  processesKnown = { key: '', processes: new Map() };
}

/** Lets newer messages be heard; a timer would wait for milliseconds. */
const channel = new MessageChannel();
export const pause = (): Promise<void> =>
  new Promise((resolve) => {
    channel.port1.onmessage = () => resolve();
    channel.port2.postMessage(null);
  });
