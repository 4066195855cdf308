import { padIslands, reduceBaked, reduceStates, type Reduction } from '@zographos/core/bake';
import { ZographosError } from '@zographos/core/errors';
import { describeKind, TexelState, type Image } from '@zographos/core/image';
import {
  channelsOfStack,
  composeTiles,
  prepareProcesses,
  flatSurface,
  layeredMeshes,
  layeredTile,
  mapOfChannel,
  tilesTogether,
  type DoBlocks,
  type LayerChannel,
  type LayeredSurface,
  type LayeredTile,
  type LayerPlanes,
  type TileInputs,
} from '@zographos/core/layers';
import type { Size } from '@zographos/core/math';
import { sharedFloat32, sharedUint8 } from '@zographos/core/shared-arrays';
import { coveringLayout, FIRST_TILE, findOverlaps, layoutFingerprint, tilesOf } from '@zographos/core/uv';
import { withKernelTeam } from '../kernel/withKernelTeam.ts';
import { warning, type Finding } from '../proof/finding.ts';
import { secondsSince, throwIfCancelled, type HeldMap, type Run, type RunContext } from '../runContext.ts';
import { BASE_BYTES, refuseBeyondMemory } from '../memoryLimit.ts';
import { ThreadTeam } from '../threads/threadTeam.ts';
import { count } from '../wording.ts';
import type { ComposeJob } from './composeThread.ts';
import { estimateLayers } from './estimate.ts';
import { imageOfTicket } from './imageOfTicket.ts';
import { stackInputs, type InputsOfTile } from './layerInputs.ts';
import { onThreads } from './onThreads.ts';
import type { LayersReport } from './report.ts';
import type { LayersSettings } from './settings.ts';

type LayersContext = RunContext<LayersSettings>;

/** How much of a run it takes to read what layers are made of. */
const READ_SHARE = 0.1;

/**
 * Composes a stack of layers into the maps of an image set, tile by tile.
 * @throws limit/memory before anything is computed; input/bad-settings for a stack without layers, input/no-uvs,
 * input/outside-tile, input/other-topology, missing/not-found, run/cancelled, run/failed
 */
export const run: Run<LayersSettings, LayersReport> = async (context) => {
  const { settings, threads, cancelFlag } = context;
  const since = performance.now();
  requireMemory(context);
  const channels = channelsOfStack(settings);
  if (channels.length === 0) {
    throw new ZographosError('input/bad-settings', 'The stack has no layer that shows. Add a layer, or show one.');
  }
  // Its threads come up while the surface is made ready.
  const team = new ThreadTeam<ComposeJob, null>('./composeThread', import.meta.url, threads, cancelFlag);
  try {
    return { report: await composedWith(team, channels, since, context) };
  } finally {
    team.close();
  }
};

async function composedWith(
  team: ThreadTeam<ComposeJob, null>,
  channels: readonly LayerChannel[],
  since: number,
  context: LayersContext,
): Promise<LayersReport> {
  const { settings, inputs, threads, cancelFlag, onProgress, put } = context;
  const surface = surfaceOf(context, channels.includes('normal'));
  const tiles = tilesToCompose(surface, settings);
  onProgress({ stage: 'load', share: 0, secondsLeft: null });
  const inputsOfTile = await inputsOfStack(context);
  throwIfCancelled(cancelFlag);
  const processes = await prepareProcesses(settings.layers, surface, settings.size, inputsOfTile);
  const inputsOf: InputsOfTile = async (tile, size) => ({ ...(await inputsOfTile(tile, size)), processes });
  throwIfCancelled(cancelFlag);
  const heights: ({ tile: number } & HeldMap)[] = [];
  let texels = 0;
  await withKernelTeam(context, async () => {
    let done = 0;
    for (const together of tilesTogether(settings.layers, context.strokes ?? new Map(), surface, tiles)) {
      requireMemory(context, together.length);
      const doBlocks = (place: LayeredTile): DoBlocks => onThreads(team, threads, place, settings.mixing);
      const made = await composedMaps(surface, together, channels, settings, inputsOf, doBlocks, (share, note) => {
        const all = READ_SHARE + ((1 - READ_SHARE) * (done + share * together.length)) / tiles.length;
        onProgress({ stage: 'trace', share: all, secondsLeft: secondsLeft(since, all), note });
        throwIfCancelled(cancelFlag);
      });
      for (const { tile, kind, image, states } of made) {
        // Heights of all tiles get one range, which is known once all are made.
        if (kind === 'height') heights.push({ tile, image, states });
        else await put({ what: 'map', kind, tile, image, states });
        if (kind === channels[0]) texels += coveredTexels(states);
      }
      done += together.length;
    }
  });
  for (const map of inOneRange(heights)) await put({ what: 'map', kind: 'height', ...map });
  return {
    layout: inputs.receivers.length > 0 ? layoutFingerprint(surface.receiver) : null,
    texels,
    findings: overlapFindings(surface),
    seconds: secondsSince(since) + (context.loadSeconds ?? 0),
    peakMemoryBytes: process.resourceUsage().maxRSS * 1024,
  };
}

function coveredTexels(states: Uint8Array): number {
  let count = 0;
  for (let i = 0; i < states.length; i++) if (states[i] === TexelState.covered) count++;
  return count;
}

const secondsLeft = (since: number, share: number): number | null =>
  share > 0.2 ? (secondsSince(since) * (1 - share)) / share : null;

/** @param together tiles that have to be composed at the same time */
function requireMemory({ settings, memoryLimitBytes }: LayersContext, together = 1): void {
  const memoryBytes = BASE_BYTES + (estimateLayers(settings).memoryBytes - BASE_BYTES) * together;
  const { width, height } = settings.size;
  const what = `This stack at ${width} × ${height} px`;
  const why = together > 1 ? `, for strokes are cloned or smeared over ${together} tiles` : '';
  const wayOut = 'Choose a smaller size, or compose it without oversampling.';
  refuseBeyondMemory(memoryBytes, memoryLimitBytes, what, wayOut, why);
}

function surfaceOf({ settings, inputs }: LayersContext, hasNormals: boolean): LayeredSurface {
  const { uvSet, unit, tileWidth, size } = settings;
  if (inputs.receivers.length === 0) return flatSurface(tileWidth, (tileWidth * size.height) / size.width);
  return layeredMeshes(
    inputs.receivers.map(({ mesh }) => mesh),
    uvSet,
    unit,
    hasNormals,
  );
}

/** @throws input/outside-tile */
function tilesToCompose({ receiver, objects }: LayeredSurface, { tiles }: LayersSettings): number[] {
  if (tiles !== 'all') return tiles.toSorted((a, b) => a - b);
  const filled = [...tilesOf(receiver.uvs, receiver.indices).tiles.keys()];
  if (filled.length > 0) return filled;
  throw new ZographosError(
    'input/outside-tile',
    `All UVs of ${objects.join(', ')} lie outside the tiles ${FIRST_TILE} to 2000, so no texel is covered. Move its islands into a tile, or choose another UV set.`,
  );
}

/** Each image of the ticket is read once. */
function inputsOfStack({ settings, pictures = [], strokes }: LayersContext): Promise<InputsOfTile> {
  const read = new Map<number, Promise<Image>>();
  const load = (number: number): Promise<Image> => {
    const picture = pictures[number];
    if (!picture) {
      throw new ZographosError(
        'missing/not-found',
        `Image ${number + 1} of the stack is not there any more. Choose another for the layer that uses it, or remove the layer.`,
      );
    }
    const image = read.get(number) ?? imageOfTicket(picture);
    read.set(number, image);
    return image;
  };
  return stackInputs(settings, load, strokes);
}

/** The maps of tiles that are composed together, padded. */
async function composedMaps(
  surface: LayeredSurface,
  tiles: readonly number[],
  channels: readonly LayerChannel[],
  settings: LayersSettings,
  inputsOf: InputsOfTile,
  blocksOf: (place: LayeredTile) => DoBlocks,
  onShare: (share: number, note: string) => void,
): Promise<({ tile: number; kind: LayerChannel } & HeldMap)[]> {
  const { oversize } = settings;
  const size: Size = { width: settings.size.width * oversize, height: settings.size.height * oversize };
  const places: TileInputs[] = [];
  const shares = tiles.map(() => 0);
  for (const [i, number] of tiles.entries()) {
    const tile = layeredTile(surface, number, size);
    const onProgress = (share: number, note: string): void => {
      shares[i] = share;
      onShare(shares.reduce((sum, each) => sum + each, 0) / tiles.length, note);
    };
    places.push({ tile, inputs: await inputsOf(number, size), options: { doBlocks: blocksOf(tile), onProgress } });
  }
  const made = await composeTiles(settings, channels, places);
  return made.flatMap((planes, i) =>
    finishedMaps(planes, channels, size, settings).map((map) => ({ tile: tiles[i]!, ...map })),
  );
}

function finishedMaps(
  planes: LayerPlanes,
  channels: readonly LayerChannel[],
  size: Size,
  { oversize, mixing, padding }: LayersSettings,
): ({ kind: LayerChannel } & HeldMap)[] {
  let { states } = planes;
  let maps = channels.map((kind) => ({ kind, image: mapOfChannel(planes, kind, size, mixing) }));
  if (oversize > 1) {
    const smaller = sharedUint8((size.width * size.height) / 4);
    maps = maps.map(({ kind, image }) => ({ kind, image: halved(kind, image, states) }));
    reduceStates(size.width, size.height, states, smaller);
    states = smaller;
  }
  padIslands(
    maps.map(({ image }) => image),
    states,
    padding === 'all' ? Infinity : padding,
  );
  return maps.map((map) => ({ ...map, states }));
}

function halved(kind: LayerChannel, image: Image, states: Uint8Array): Image {
  const into = sharedFloat32(image.data.length / 4);
  const reduction: Reduction = describeKind(kind).values === 'direction' ? 'direction' : 'mean';
  return reduceBaked(image, states, reduction, into);
}

function inOneRange<Map extends HeldMap>(maps: readonly Map[]): Map[] {
  const spans = maps.map(({ image: { convention } }) => (convention?.of === 'height' ? convention.span : 0));
  const span = Math.max(...spans, 0);
  return maps.map((map) => ({
    ...map,
    image: {
      ...map.image,
      range: [-span / 2, span / 2] as const,
      convention: { of: 'height' as const, unit: 'mm' as const, mid: 0.5, span },
    },
  }));
}

function overlapFindings({ receiver, islands, repeats }: LayeredSurface): Finding[] {
  if (repeats) return [];
  const { pairs } = findOverlaps(coveringLayout(receiver), islands, () => false);
  if (pairs === 0) return [];
  return [
    warning(
      'overlapping',
      `${count(pairs, 'pair')} of triangles overlap in the layout: they share texels, so whatever is laid on one appears on the other. Pack the islands apart, or mark them as stacked.`,
      { remedy: { label: 'Open UV', room: 'uv' } },
    ),
  ];
}
