import {
  barePlanes,
  channelsOf,
  histogramOf,
  layerById,
  layersBeneath,
  widthOf,
  channelsOfStack,
  composeLayers,
  copyPlanes,
  everyLayer,
  materialsOf,
  layRelief,
  mapOfChannel,
  middleOf,
  picturesOf,
  PLAIN_SHAPING,
  POINT,
  planesFor,
  sectionOf,
  strokesOf,
  tilesTogether,
  TEXELS,
  viewOf,
  wholeProcesses,
  type Layer,
  type LayerChannel,
  type LayeredSurface,
  type LayerPlanes,
  type Stratum,
  type TileInputs,
  type TilePlanes,
} from '@zographos/core/layers';
import { padIslands, pictureLevels } from '@zographos/core/bake';
import { FIRST_TILE } from '@zographos/core/uv';
import { strokeOfRecord, type LayersSettings } from '@zographos/operations';
import { usePreviewKernel } from '../../../preview/previewKernel.ts';
import { screenPixels } from '../../../preview/screenPixels.ts';
import { layerPlacedAt } from '../placing/decalPlace.ts';
import { byPlace, OfferPictures, type SeenTile } from './offerPictures.ts';
import { PenPatches, type ComposedTile } from './penPatches.ts';
import { UNDER_PEN } from './underPen.ts';
import type {
  HistogramOf,
  LayersAsk,
  LayeredPicture,
  FoundPlace,
  LayersMessage,
  LayersTold,
  OffersAsk,
  PenAsk,
  SectionLine,
} from './layersMessages.ts';
import { facesFor, factsOf, placeInTile, placesByTile, weightsOf, type ShownInputs } from './placeFacts.ts';
import { inputsKey, inputsOfAsk, strokes, strokesOfAsk } from './previewInputs.ts';
import { knownSurface, placesOf, surfaceOf, tilesToShow, within } from './previewSurface.ts';
import { sound } from './soundLayers.ts';
import { forgetProcesses, nameOfTile, pause, stackOnTiles } from './stackOnTiles.ts';

/** The live preview of a stack: the same computation as the server's, at the size of the screen, away from the page. */

const tell = (told: LayersTold, moved: Transferable[] = []): void => self.postMessage(told, { transfer: moved });

void usePreviewKernel();

let newest = 0;
let working: Promise<void> = Promise.resolve();

self.onmessage = ({ data }: MessageEvent<LayersMessage>): void => {
  if (data.what === 'done') {
    tell(data);
    return;
  }
  if (data.what === 'triangle') {
    const surface = knownSurface()?.surface;
    const found = surface && placeInTile(surface, data);
    // A pen goes on without waiting for what masks could go by.
    if (found && data.pressure === null) void tellPlace(found);
    else if (found) tell({ what: 'triangle', ...found });
    return;
  }
  if (data.what === 'facts') {
    void tellPlace(data.found);
    return;
  }
  if (data.what === 'faces' || data.what === 'grow' || data.what === 'lasso') {
    const surface = knownSurface()?.surface;
    if (surface) tell(facesFor(data, surface));
    return;
  }
  if (data.what === 'pen') {
    working = working.then(() => answerPen(data));
    return;
  }
  if (data.what === 'offers') {
    working = working.then(() => showOffers(data)).catch(() => {});
    return;
  }
  newest = data.turn;
  // What was asked before stops at its next pause.
  working = working.then(() => answer(data));
};

/** The inputs of the picture that is shown. */
let shownInputs: ShownInputs | null = null;

/** Tells a place that was clicked, with what masks can go by there. */
async function tellPlace(found: FoundPlace): Promise<void> {
  const surface = knownSurface()?.surface;
  const facts = surface ? await factsOf(surface, found.triangle, found.place, shownInputs) : null;
  tell({ what: 'triangle', ...found, ...(facts ? { facts } : {}) });
}

/** Thrown where something newer has been asked for. */
class Overtaken extends Error {}

const goOnUnlessOvertaken = (turn: number): void => {
  if (turn !== newest) throw new Overtaken();
};

/** Hears whether there is something newer. */
async function pauseUnlessOvertaken(turn: number): Promise<void> {
  await pause();
  goOnUnlessOvertaken(turn);
}

async function answer(ask: LayersAsk): Promise<void> {
  const { turn } = ask;
  try {
    goOnUnlessOvertaken(turn);
    await compose(ask);
  } catch (error) {
    if (error instanceof Overtaken) return;
    tell({ what: 'failed', turn, message: error instanceof Error ? error.message : String(error) });
  }
}

const patches = new PenPatches();

async function answerPen({ turn, pen }: PenAsk): Promise<void> {
  if (turn !== newest) return;
  const since = performance.now();
  const stroke = strokeOfRecord(pen);
  strokes.set(UNDER_PEN, stroke);
  try {
    const parts = await patches.add(stroke);
    const moved = (parts ?? []).flatMap((part) =>
      part.patches.flatMap(({ maps }) => maps.map(({ rgba }) => rgba.buffer)),
    );
    tell({ what: 'patched', turn, tiles: parts, milliseconds: performance.now() - since }, moved);
  } catch (error) {
    tell({ what: 'failed', turn, message: error instanceof Error ? error.message : String(error) });
  }
}

/** Texels beyond islands that are filled: as many as the model's textures are filtered over. */
const PADDED = 6;

/** A picture that takes longer than this is first made at a quarter of its width. */
const DRAFT_MS = 150;
/** How long the newest picture of each size took: composed from the ground, or on from what was kept. */
const took = { whole: new Map<number, number>(), goingOn: new Map<number, number>() };

async function compose(ask: LayersAsk): Promise<void> {
  const { turn, side, section } = ask;
  const surface = await surfaceOf(ask.surface, forget);
  await strokesOfAsk(ask);
  const tiles = tilesToShow(surface, ask.settings.tiles);
  const stack = { tiles, ...soundOf(ask, surface, tiles[0]) };
  const draft = Math.max(128, side / 4);
  const whole = took.whole.get(side) ?? 0;
  const expected = goesOn(ask, stack) ? (took.goingOn.get(side) ?? whole) : whole;
  const takesDraft = (milliseconds: number): boolean => milliseconds > DRAFT_MS && draft < side;
  const isDrafted = takesDraft(expected);
  if (isDrafted) await show(ask, surface, stack, draft);
  goOnUnlessOvertaken(turn);
  await show(ask, surface, stack, side);
  if (ask.histogramOf) await tellHistogram(ask, ask.histogramOf, surface);
  if (section) await tellSection(ask, section, surface);
  // Has at hand what drafts go on from before the first is asked for; a pen that is down does not wait for it.
  if (!isDrafted && !ask.pen && takesDraft(took.whole.get(side) ?? 0)) await make(ask, surface, stack, draft);
}

/** The tiles that are shown, and the layers that have all they need there. */
type ShownStack = ReturnType<typeof sound> & { tiles: readonly number[] };

const soundOf = (ask: LayersAsk, surface: LayeredSurface, tile = FIRST_TILE): ReturnType<typeof sound> =>
  sound(ask, { tile, triangles: surface.islands.length, strokes });

/** Whether all that lies beneath the layer that is another is kept at the size that is asked for. */
function goesOn({ settings, side }: LayersAsk, { tiles, layers }: ShownStack): boolean {
  const size = within(settings.size, side);
  return tiles.every((tile) => {
    const name = nameOfTile({ tile, size });
    return beneath.get(name)?.layers === layersBelow(layers, [name]);
  });
}

/** A picture of all tiles at a size. */
interface MadePicture {
  tiles: Extract<LayersTold, { what: 'composed' }>['tiles'];
  /** What the pen goes on from. */
  under: ComposedTile[];
  inputs: ShownInputs;
  isWhole: boolean;
  milliseconds: number;
}

/** Makes a picture at a size, and shows it. */
async function show(ask: LayersAsk, surface: LayeredSurface, stack: ShownStack, side: number): Promise<void> {
  const { turn, settings, maskOf, pen } = ask;
  const { tiles, under, inputs, isWhole, milliseconds } = await make(ask, surface, stack, side);
  shownInputs = inputs;
  took[isWhole ? 'whole' : 'goingOn'].set(side, milliseconds);
  // A mask that is looked at alone is shown whole.
  patches.begin(maskOf ? [] : under, settings.mixing, pen ? strokeOfRecord(pen).points.length / POINT : 0);
  const moved = tiles.flatMap(({ maps, mask }) => [...maps, ...(mask ? [mask] : [])].map(({ rgba }) => rgba.buffer));
  const overlaps = knownSurface()?.overlaps ?? 0;
  tell({ what: 'composed', turn, tiles, problems: stack.problems, overlaps, milliseconds }, moved);
}

/** Composes all tiles at a size, and makes pictures of their maps. */
async function make(
  ask: LayersAsk,
  surface: LayeredSurface,
  { tiles, layers }: ShownStack,
  side: number,
): Promise<MadePicture> {
  const { turn, settings, maskOf } = ask;
  const { mixing } = settings;
  const size = within(settings.size, side);
  const since = performance.now();
  const channels = channelsOfStack({ layers });
  const onTile = await stackOnTiles({ ...ask, side }, surface, layers, () => goOnUnlessOvertaken(turn));
  const inputsThere = { of: await inputsOfAsk({ ...ask, side }, size), size };
  const under: ComposedTile[] = [];
  const shown: MadePicture['tiles'] = [];
  const made: Awaited<ReturnType<typeof composed>> = [];
  for (const together of tilesTogether(layers, strokes, surface, tiles)) {
    const own = await Promise.all(together.map(onTile));
    made.push(...(await composed({ layers, mixing }, channels, own, inputsKey())));
  }
  for (const { tile, inputs, options, base, planes, above } of made) {
    const masked = maskOf && [...everyLayer(layers)].find(({ id }) => id === maskOf);
    let mask: LayeredPicture | null = null;
    if (masked) {
      const plane = new Float32Array(size.width * size.height);
      const work = { do: 'show-mask', layer: byPlace(masked), plane, states: planes.states } as const;
      await options.doBlocks(work, inputs, () => goOnUnlessOvertaken(turn));
      const image = { ...size, channels: 1, data: plane };
      padIslands([image], planes.states.slice(), PADDED);
      mask = { kind: 'opacity', ...size, rgba: screenPixels(image) };
    }
    // The pen goes on from what is composed, and what is shown is made of a copy.
    const seen = ask.pen ? copyPlanes(planes) : planes;
    await pauseUnlessOvertaken(turn);
    const images = channels.map((kind) => mapOfChannel(seen, kind, size, mixing));
    const heights = images[channels.indexOf('height')]?.range;
    const places = placesOf(tile.tile, size);
    if (ask.pen) under.push({ tile, base, planes, above, channels, inputs, places, heights });
    padIslands(images, planes.states.slice(), PADDED);
    const maps: LayeredPicture[] = [];
    for (const [i, kind] of channels.entries()) {
      await pauseUnlessOvertaken(turn);
      maps.push({ kind, ...size, rgba: screenPixels(images[i]!) });
    }
    shown.push({ tile: tile.tile, texel: tile.texel, maps, mask });
  }
  goOnUnlessOvertaken(turn);
  const isWhole = made.some((each) => each.isWhole);
  return { tiles: shown, under, inputs: inputsThere, isWhole, milliseconds: performance.now() - since };
}

/** What lies beneath the layer that is being changed, by tile and size, so that it is not composed again with each move. */
const beneath = new Map<string, { key: string; layers: number; planes: LayerPlanes }>();
/** The layers that were composed last, by tile and size. */
const composedLast = new Map<string, readonly Layer[]>();

/** Composes a stack on from the lowest layer that is another than when it was composed last. */
async function composed(
  { layers, mixing }: { layers: Layer[]; mixing: LayersSettings['mixing'] },
  channels: readonly LayerChannel[],
  tiles: readonly TileInputs[],
  inputsAre: string,
): Promise<(TilePlanes & Pick<ComposedTile, 'base' | 'above'> & { isWhole: boolean })[]> {
  const names = tiles.map(({ tile }) => nameOfTile(tile));
  const below = layers.slice(0, layersBelow(layers, names));
  const key = JSON.stringify([below, channels, mixing, inputsAre]);
  const isWhole = names.some((name) => beneath.get(name)?.key !== key);
  if (isWhole) {
    const bare = tiles.map((each) => ({ ...each, planes: barePlanes(each.tile, planesFor(channels)) }));
    await composeLayers({ layers: below, mixing }, bare);
    for (const { tile, planes } of bare) beneath.set(nameOfTile(tile), { key, layers: below.length, planes });
  }
  const above = layers.slice(below.length);
  const all = tiles.map((each) => {
    const base = beneath.get(nameOfTile(each.tile))!.planes;
    return { ...each, base, above, isWhole, planes: copyPlanes(base) };
  });
  await composeLayers({ layers: above, mixing }, all);
  for (const { tile, planes, inputs, options } of all) {
    await layRelief(planes, channels, inputs, options);
    composedLast.set(nameOfTile(tile), layers);
  }
  return all;
}

/** How many layers from the lowest on are as they were on some tiles; the uppermost never is, for it may be changed next. */
const layersBelow = (layers: readonly Layer[], tiles: readonly string[]): number =>
  Math.min(...tiles.map((name) => beginsAlike(layers, composedLast.get(name) ?? [])), layers.length - 1);

/** How many layers from the lowest on are the same. */
function beginsAlike(layers: readonly Layer[], before: readonly Layer[]): number {
  const isOther = (layer: Layer, i: number): boolean =>
    JSON.stringify(layer) !== JSON.stringify(before[i]) || strokesOf([layer]).includes(UNDER_PEN);
  const first = layers.findIndex(isOther);
  return first < 0 ? layers.length : first;
}

/** On another surface nothing that is kept is of use. */
function forget(): void {
  beneath.clear();
  composedLast.clear();
  forgetProcesses();
}

/** Pixels along the side of an offer's picture. */
const OFFER_SIDE = 112;
/** From where models are looked at: from the front, a little from above and aside. */
const TOWARDS = [0.45, 0.42, 1] as const;

/** Makes pictures of offers one after the other, until something else is asked for. */
async function showOffers({ on, offers, images }: OffersAsk): Promise<void> {
  const { settings, turn } = on;
  const surface = await surfaceOf(on.surface, forget);
  const view = viewOf(surface, OFFER_SIDE, TOWARDS);
  const { layers } = soundOf(on, surface);
  const byTile = placesByTile(surface, view.places.triangles);
  const middle = middleOf(surface, view);
  const given = new Map(images.map(([number, image]) => [number, pictureLevels(image)]));
  const seenWith = async (laid: readonly Layer[]): Promise<SeenTile[]> => {
    const own = { ...on, settings: { ...settings, layers: [...laid] }, side: Math.min(on.side, LOOKED_UP_SIDE) };
    const onTile = await stackOnTiles(own, surface, laid);
    return Promise.all(
      [...byTile].map(async ([number, places]): Promise<SeenTile> => {
        const { tile, inputs } = await onTile(number);
        const pictures = [...inputs.pictures];
        for (const [at, levels] of given) pictures[at] = levels;
        return { tile, places, inputs: { ...inputs, pictures } };
      }),
    );
  };
  const seen = await seenWith(layers);
  const pictures = new OfferPictures(view, seen, layers, settings.mixing);
  for (const { name, layer } of offers) {
    await pause();
    if (turn !== newest) return;
    const placed = middle ? layerPlacedAt(layer, middle) : layer;
    // Most need nothing beside what the layers beneath them have.
    const needsMore = needsInputs(placed, given);
    const rgba = pictures.pictureWith(placed, needsMore ? await seenWith([...layers, placed]).catch(() => []) : seen);
    if (rgba) tell({ what: 'offer', name, side: OFFER_SIDE, rgba }, [rgba.buffer]);
  }
}

/** Materials, images and maps are looked up at this size for pictures that are so small. */
const LOOKED_UP_SIDE = 256;

/** Whether a layer, or one within it, is made of images that are not given, or of what goes over the whole surface. */
const needsInputs = (layer: Layer, given: ReadonlyMap<number, unknown>): boolean =>
  materialsOf([layer], strokes).size > 0 ||
  [...picturesOf([layer], strokes)].some((number) => !given.has(number)) ||
  [...wholeProcesses([layer])].length > 0;

/** Sides of what is counted. */
const COUNTED_SIDE = 256;

/** Tells how often values occur in the first tile, in what lies beneath a layer or in the steps of its mask. */
async function tellHistogram(ask: LayersAsk, { layer: id, of }: HistogramOf, surface: LayeredSurface): Promise<void> {
  const { settings, turn } = ask;
  const { mixing } = settings;
  const size = within(settings.size, COUNTED_SIDE);
  const [number = FIRST_TILE] = tilesToShow(surface, settings.tiles);
  const { layers } = soundOf(ask, surface, number);
  const layer = layerById(layers, id);
  if (!layer) return;
  const onTile = await stackOnTiles({ ...ask, side: COUNTED_SIDE }, surface, layers, () => goOnUnlessOvertaken(turn));
  const { tile, inputs, options } = await onTile(number);
  if (of === 'mask') {
    const plane = new Float32Array(size.width * size.height);
    const states = new Uint8Array(plane.length);
    await options.doBlocks({ do: 'mask', layer, plane, states }, inputs, () => goOnUnlessOvertaken(turn));
    tell({ what: 'histogram', turn, bins: histogramOf(plane, states, 1) });
    return;
  }
  const [channel] = channelsOf(layer);
  if (!channel) return;
  const planes = barePlanes(tile, [channel]);
  const counted = [...layersBeneath(layers, id), ...beforeLevels(layer)];
  await composeLayers({ layers: counted, mixing }, [{ tile, planes, inputs, options }]);
  tell({ what: 'histogram', turn, bins: histogramOf(planes.channels[channel]!, planes.states, widthOf(channel)) });
}

/** What an adjustment does before its levels, whole. */
function beforeLevels(layer: Layer): Layer[] {
  if (layer.content !== 'adjustment') return [];
  const levels = layer.steps.findIndex((step) => step.do === 'levels');
  if (levels < 1) return [];
  const mask = { steps: [], shaping: PLAIN_SHAPING };
  return [{ ...layer, opacity: 1, blend: 'normal', mask, steps: layer.steps.slice(0, levels) }];
}

async function tellSection(ask: LayersAsk, { triangles, points }: SectionLine, surface: LayeredSurface): Promise<void> {
  const { turn, settings } = ask;
  const strata = new Map<string, Stratum>();
  const inMillimetres = points.map((value) => value * settings.unit);
  const count = Math.min(TEXELS, triangles.length);
  const onTile = await stackOnTiles(ask, surface, soundOf(ask, surface).layers);
  for (const [number, places] of placesByTile(surface, triangles.subarray(0, count))) {
    const at = {
      triangles: Uint32Array.from(places, (i) => triangles[i]!),
      weights: weightsOf(surface, triangles, inMillimetres, places),
    };
    const { tile, inputs } = await onTile(number);
    for (const { id, strength, colors } of sectionOf(settings, tile, inputs, at)) {
      const all = strata.get(id) ?? {
        id,
        strength: new Float32Array(count),
        colors: colors && new Float32Array(count * 3),
      };
      strata.set(id, all);
      places.forEach((i, k) => {
        all.strength[i] = strength[k]!;
        if (colors) all.colors?.set(colors.subarray(k * 3, k * 3 + 3), i * 3);
      });
    }
  }
  tell({ what: 'section', turn, strata: [...strata.values()] });
}
