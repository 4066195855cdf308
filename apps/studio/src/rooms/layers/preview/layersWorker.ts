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
  facesByAngle,
  grownFaces,
  rangesOfFaces,
  flatSurface,
  layeredMeshes,
  layeredTile,
  layRelief,
  mapOfChannel,
  measuredKindsOf,
  onThisThread,
  picturesOf,
  POINT,
  planesFor,
  prepareProcesses,
  runPlanes,
  sourceSize,
  sectionOf,
  strokesOf,
  TEXELS,
  TexelBlock,
  viewOf,
  type BlockPlaces,
  type ComposeOptions,
  type Layer,
  type LayerChannel,
  type LayeredSurface,
  type LayeredTile,
  type LayerInputs,
  type LayerPlanes,
  type PreparedProcesses,
  type Stroke,
  type Stratum,
} from '@zographos/core/layers';
import { BLOCK, padIslands } from '@zographos/core/bake';
import { screenByte } from '@zographos/core/color';
import { phraseOfKinds, type Image } from '@zographos/core/image';
import type { Size } from '@zographos/core/math';
import { coveringLayout, findOverlaps, FIRST_TILE, tileOfTriangle, tilesOf } from '@zographos/core/uv';
import { unpackMesh } from '@zographos/formats/packed-mesh';
import { PATHS } from '@zographos/contracts';
import { strokeOfRecord, strokeRecord, type LayersSettings, type StrokeRecord } from '@zographos/operations';
import { stackInputs, type InputsOfTile } from '@zographos/operations/preview';
import { samplesOf } from '../../../api/samplesOf.ts';
import { usePreviewKernel } from '../../../preview/previewKernel.ts';
import { screenPixels } from '../../../preview/screenPixels.ts';
import { OfferPictures, type SeenTile } from './offerPictures.ts';
import { PenPatches, type ComposedTile, type Patch } from './penPatches.ts';
import { UNDER_PEN } from './underPen.ts';

/** The live preview of a stack: the same computation as the server's, at the size of the screen, away from the page. */

/** What layers lie on: packed meshes by their addresses, or a flat tile. */
export interface PreviewSurface {
  urls: string[];
  uvSet: number;
  /** Millimetres of one unit of the meshes. */
  unit: number;
  /** Width and height in millimetres, where there is no mesh. */
  flat: [number, number];
}

/** Places of a section: the triangle of each among all triangles of the meshes, and where it is in space. */
export interface SectionLine {
  triangles: Uint32Array;
  /** In the unit of the meshes. */
  points: Float32Array;
}

export interface HistogramOf {
  layer: string;
  of: 'beneath' | 'mask';
}

export interface LayersAsk {
  what: 'show';
  turn: number;
  surface: PreviewSurface;
  settings: Pick<LayersSettings, 'layers' | 'materials' | 'measured' | 'mixing' | 'unit' | 'size' | 'tiles'>;
  /** The images of the ticket: their ids, and what names their content; empty for one that is not there. */
  pictures: [id: string, content: string][];
  side: number;
  /** The stroke under the pen, which is not kept yet: layers name it `UNDER_PEN`. */
  pen: StrokeRecord | null;
  /** The layer whose mask is shown, if one is. */
  maskOf: string | null;
  /** The layer of which it is told how often values occur: in what lies beneath it, or in the steps of its mask. */
  histogramOf: HistogramOf | null;
  section: SectionLine | null;
}

/** The stroke under the pen has become longer. */
export interface PenAsk {
  what: 'pen';
  /** Of what it was begun on. */
  turn: number;
  pen: StrokeRecord;
}

/** How the model would look with each of some layers on top of what there is. */
export interface OffersAsk {
  what: 'offers';
  on: LayersAsk;
  offers: { name: string; layer: Layer }[];
}

/** Which triangle lies at a place of a tile, 0 to 1, v upwards; and what else is told with the answer. */
export interface TriangleAsk {
  what: 'triangle';
  tile: number;
  u: number;
  v: number;
  add: boolean;
  /** Of a pen, 0 to 1; null for a click. */
  pressure: number | null;
}

/** What else is known of a triangle that was clicked on the model. */
export interface FactsAsk {
  what: 'facts';
  found: Omit<FoundPlace, 'facts'>;
}

/** The faces that hang together with one that was clicked. */
export interface FacesAsk {
  what: 'faces';
  triangle: number;
  /** The steepest edge that is gone over, in degrees. */
  angle: number;
}

/** More of the faces that are picked: those that touch them. */
export interface GrowAsk {
  what: 'grow';
  ranges: readonly (readonly [number, number])[];
}

/** What masks can go by at a place. */
export interface PlaceFacts {
  slot: string;
  object: string;
  tile: number;
  /** Of the ID map there, if the set has one. */
  idColor: string | null;
}

/** Sent back as it is, once what was asked before is told. */
export interface LayersDone {
  what: 'done';
}

/** A map as it looks on screen. */
export interface LayeredPicture extends Size {
  kind: LayerChannel;
  rgba: Uint8ClampedArray<ArrayBuffer>;
  /** How often parts of it were exchanged, and those that were last. */
  version?: number;
  changed?: readonly Omit<Patch, 'maps'>[];
}

/** A place of the surface that was found in the map: in millimetres, with the normal there. */
export interface FoundPlace {
  triangle: number;
  add: boolean;
  pressure: number | null;
  place: [number, number, number];
  normal: [number, number, number];
  /** Of clicks alone. */
  facts?: PlaceFacts;
}

export type LayersTold =
  | {
      what: 'composed';
      turn: number;
      tiles: { tile: number; maps: LayeredPicture[]; mask: LayeredPicture | null }[];
      /** Layers that are left out, and why. */
      problems: { id: string; message: string }[];
      /** Pairs of triangles that share texels, so that what is painted on one appears on the other. */
      overlaps: number;
      milliseconds: number;
    }
  | ({ what: 'triangle' } & FoundPlace)
  | LayersDone
  /** The faces of the mesh that are picked now, and how many it has. */
  | { what: 'faces'; ranges: [number, number][]; of: number }
  /** Parts that are another under the pen; null where all has to be composed again. */
  | { what: 'patched'; turn: number; tiles: { tile: number; patches: Patch[] }[] | null; milliseconds: number }
  /** The picture of one offer, as wide as high. */
  | { what: 'offer'; name: string; side: number; rgba: Uint8ClampedArray<ArrayBuffer> }
  | { what: 'histogram'; turn: number; bins: number[] }
  | { what: 'section'; turn: number; strata: Stratum[] }
  | { what: 'failed'; turn: number; message: string };

const tell = (told: LayersTold, moved: Transferable[] = []): void => self.postMessage(told, { transfer: moved });

void usePreviewKernel();

let newest = 0;
let working: Promise<void> = Promise.resolve();

export type LayersMessage = LayersAsk | TriangleAsk | LayersDone | PenAsk | OffersAsk | FactsAsk | GrowAsk | FacesAsk;

self.onmessage = ({ data }: MessageEvent<LayersMessage>): void => {
  if (data.what === 'done') {
    tell(data);
    return;
  }
  if (data.what === 'triangle') {
    void findTriangle(data);
    return;
  }
  if (data.what === 'facts') {
    void factsOf(data.found.triangle, data.found.place).then((facts) =>
      tell({ what: 'triangle', ...data.found, ...(facts ? { facts } : {}) }),
    );
    return;
  }
  if (data.what === 'faces' || data.what === 'grow') {
    if (known) tellFaces(data, known.surface);
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

/** Thrown where something newer has been asked for. */
class Overtaken extends Error {}

const goOnUnlessOvertaken = (turn: number): void => {
  if (turn !== newest) throw new Overtaken();
};

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
/** How long the newest picture of each size took. */
const took = new Map<number, number>();

async function compose(ask: LayersAsk): Promise<void> {
  const { turn, settings, side, section } = ask;
  const surface = await surfaceOf(ask.surface);
  const draft = Math.max(128, side / 4);
  if ((took.get(side) ?? 0) > DRAFT_MS && draft < side) await show(ask, surface, draft);
  goOnUnlessOvertaken(turn);
  await show(ask, surface, side);
  const size = within(settings.size, side);
  if (ask.histogramOf) await tellHistogram(ask, ask.histogramOf, surface);
  if (section) await tellSection(ask, section, surface, size, await inputsOfAsk(ask, size));
}

/** Composes all tiles at a size, and tells their maps. */
async function show(ask: LayersAsk, surface: LayeredSurface, side: number): Promise<void> {
  const { turn, settings, maskOf } = ask;
  const { mixing } = settings;
  const size = within(settings.size, side);
  const tiles = tilesToShow(surface, settings.tiles);
  const painted = await strokesOfAsk(ask);
  const inputsOf = await inputsOfAsk({ ...ask, side }, size);
  shownInputs = { of: inputsOf, size };
  const since = performance.now();
  const { layers, problems } = sound(settings, tiles[0] ?? FIRST_TILE);
  const channels = channelsOfStack({ layers });
  const processes = await processesOf(ask, surface, layers);
  const under: ComposedTile[] = [];
  const shown: Extract<LayersTold, { what: 'composed' }>['tiles'] = [];
  for (const number of tiles) {
    const tile = tileOf(surface, number, size);
    const doBlocks = onThisThread(tile, mixing, pause, placesOf(number, size));
    const inputs = { ...(await inputsOf(number, size)), strokes: painted, processes };
    const options = { doBlocks, onProgress: () => goOnUnlessOvertaken(turn) };
    inputs.planes = await runsOf(layers, tile, inputs, options);
    const { base, planes, above } = await composed({ layers, mixing }, channels, tile, inputs, options, inputsKey);
    const masked = maskOf && [...everyLayer(layers)].find(({ id }) => id === maskOf);
    let mask: LayeredPicture | null = null;
    if (masked) {
      const plane = new Float32Array(size.width * size.height);
      const work = { do: 'show-mask', layer: unshaped(masked), plane, states: planes.states } as const;
      await doBlocks(work, inputs, () => goOnUnlessOvertaken(turn));
      mask = { kind: 'opacity', ...size, rgba: screenPixels({ ...size, channels: 1, data: plane }) };
    }
    // The pen goes on from what is composed, and what is shown is made of a copy.
    if (ask.pen) under.push({ ...{ tile, base, planes, above, channels, inputs }, places: placesOf(number, size) });
    const seen = ask.pen ? copyPlanes(planes) : planes;
    const images = channels.map((kind) => mapOfChannel(seen, kind, size, mixing));
    padIslands(images, planes.states.slice(), PADDED);
    const maps = channels.map((kind, i) => ({ kind, ...size, rgba: screenPixels(images[i]!) }));
    shown.push({ tile: number, maps, mask });
  }
  goOnUnlessOvertaken(turn);
  const milliseconds = performance.now() - since;
  took.set(side, milliseconds);
  // A mask that is looked at alone is shown whole.
  patches.begin(maskOf ? [] : under, mixing, ask.pen ? strokeOfRecord(ask.pen).points.length / POINT : 0);
  const moved = shown.flatMap(({ maps, mask }) => [...maps, ...(mask ? [mask] : [])].map(({ rgba }) => rgba.buffer));
  tell({ what: 'composed', turn, tiles: shown, problems, overlaps: known?.overlaps ?? 0, milliseconds }, moved);
}

/** What lies beneath the layer that is being changed, by tile and size, so that it is not composed again with each move. */
const beneath = new Map<string, { key: string; planes: LayerPlanes }>();
/** The layers that were composed last, by tile and size. */
const composedLast = new Map<string, readonly Layer[]>();

/** Composes a stack on from the lowest layer that is another than when it was composed last. */
async function composed(
  { layers, mixing }: { layers: Layer[]; mixing: LayersSettings['mixing'] },
  channels: readonly LayerChannel[],
  tile: LayeredTile,
  inputs: LayerInputs,
  options: ComposeOptions,
  inputsAre: string,
): Promise<Pick<ComposedTile, 'base' | 'planes' | 'above'>> {
  const place = placeOf(tile);
  const last = composedLast.get(place) ?? [];
  let same = 0;
  const isSame = (layer: Layer, before: Layer | undefined): boolean =>
    JSON.stringify(layer) === JSON.stringify(before) && !strokesOf([layer]).includes(UNDER_PEN);
  while (same < layers.length && isSame(layers[same]!, last[same])) same++;
  // Where nothing is another, the uppermost is what will be changed next.
  const below = layers.slice(0, Math.min(same, layers.length - 1));
  const key = JSON.stringify([below, channels, mixing, inputsAre]);
  let base = beneath.get(place);
  if (base?.key !== key) {
    base = { key, planes: barePlanes(tile, planesFor(channels)) };
    await composeLayers({ layers: below, mixing }, base.planes, tile, inputs, options);
    beneath.set(place, base);
  }
  const planes = copyPlanes(base.planes);
  const above = layers.slice(below.length);
  await composeLayers({ layers: above, mixing }, planes, tile, inputs, options);
  await layRelief(planes, channels, inputs, options);
  composedLast.set(place, layers);
  return { base: base.planes, planes, above };
}

const placeOf = ({ tile, size }: LayeredTile): string => `${tile} ${size.width} ${size.height}`;

/** Where processes begin, as it was found last; the inputs it was found by. */
let processesKnown: { key: string; processes: PreparedProcesses } = { key: '', processes: new Map() };

async function processesOf(
  ask: LayersAsk,
  surface: LayeredSurface,
  layers: readonly Layer[],
): Promise<PreparedProcesses> {
  const { settings } = ask;
  const size = sourceSize(settings.size);
  const inputsOf = await inputsOfAsk({ ...ask, side: Math.max(size.width, size.height) }, size);
  const painted = await strokesOfAsk(ask);
  const key = inputsKey;
  const known = processesKnown.key === key ? processesKnown.processes : undefined;
  const inputsAt = async (tile: number, at: Size) => ({ ...(await inputsOf(tile, at)), strokes: painted });
  const processes = await prepareProcesses(layers, surface, settings.size, inputsAt, known);
  processesKnown = { key, processes };
  return processes;
}

/** What runs leave, by tile and size: changing other layers does not let them run again. */
const runPlanesKnown = new Map<string, { processes: PreparedProcesses; planes: Map<string, Float32Array> }>();

async function runsOf(
  layers: readonly Layer[],
  tile: LayeredTile,
  inputs: LayerInputs,
  options: ComposeOptions,
): Promise<Map<string, Float32Array>> {
  const place = placeOf(tile);
  const before = runPlanesKnown.get(place);
  const isSame = [...inputs.processes].every(([key, process]) => (before?.processes.get(key) ?? process) === process);
  const planes = await runPlanes(layers, tile, inputs, options, isSame ? before?.planes : undefined);
  runPlanesKnown.set(place, { processes: inputs.processes, planes });
  return planes;
}

/** Growing and blurring take whole planes; the mask is shown as it is before. */
const unshaped = (layer: Layer): Layer => ({
  ...layer,
  mask: { ...layer.mask, shaping: { ...layer.mask.shaping, blur: 0, grow: 0 } },
});

/** Lets newer messages be heard; a timer would wait for milliseconds. */
const channel = new MessageChannel();
const pause = (): Promise<void> =>
  new Promise((resolve) => {
    channel.port1.onmessage = () => resolve();
    channel.port2.postMessage(null);
  });

/** The layers that have all they need, and what the others lack. */
function sound(
  { layers, measured, materials }: LayersAsk['settings'],
  tile: number,
): { layers: Layer[]; problems: { id: string; message: string }[] } {
  const there = new Set(measured.filter((map) => map.tile === tile).map(({ kind }) => kind));
  const problems: { id: string; message: string }[] = [];
  const kept = (all: readonly Layer[]): Layer[] =>
    all.flatMap((layer): Layer[] => {
      if (layer.content === 'group') {
        const inner = { ...layer, layers: kept(layer.layers) };
        return lacks({ ...layer, layers: [] }) ? [] : [inner];
      }
      return lacks(layer) ? [] : [layer];
    });
  const lacks = (layer: Layer): boolean => {
    const kinds = measuredKindsOf([layer]).filter((kind) => !there.has(kind));
    let message = '';
    if (kinds.length > 0)
      message = `needs the ${phraseOfKinds(kinds)} map, which is not made yet. Run the stack to bake it.`;
    else if (layer.content === 'tiling' && Object.keys(materials[layer.material]?.maps ?? {}).length === 0) {
      message = 'has no material any more. Choose another.';
    }
    if (message) problems.push({ id: layer.id, message: `“${layer.name}” ${message}` });
    return message !== '';
  };
  return { layers: kept(layers), problems };
}

function within({ width, height }: Size, side: number): Size {
  const scale = Math.min(1, side / Math.max(width, height));
  return { width: Math.max(16, Math.round(width * scale)), height: Math.max(16, Math.round(height * scale)) };
}

let known: {
  key: string;
  surface: LayeredSurface;
  overlaps: number;
  tiles: Map<string, LayeredTile>;
  /** Where the texels of blocks lie, by tile and size. */
  places: Map<string, Map<number, BlockPlaces>>;
} | null = null;

async function surfaceOf(wanted: PreviewSurface): Promise<LayeredSurface> {
  const key = JSON.stringify(wanted);
  if (known?.key === key) return known.surface;
  const meshes = await Promise.all(wanted.urls.map(fetchMesh));
  const surface = meshes.length > 0 ? layeredMeshes(meshes, wanted.uvSet, wanted.unit) : flatSurface(...wanted.flat);
  known = { key, surface, overlaps: overlapsOf(surface), tiles: new Map(), places: new Map() };
  beneath.clear();
  composedLast.clear();
  runPlanesKnown.clear();
  processesKnown = { key: '', processes: new Map() };
  return surface;
}

/** Pairs that are looked at for overlaps before a preview: about a second's worth. */
const MOST_LOOKS = 20_000_000;

const overlapsOf = ({ receiver, islands, repeats }: LayeredSurface): number =>
  repeats ? 0 : findOverlaps(coveringLayout(receiver), islands, () => false, MOST_LOOKS).pairs;

async function fetchMesh(url: string) {
  const response = await fetch(url);
  if (!response.ok) throw new Error('The mesh could not be fetched from the server.');
  return unpackMesh(new Uint8Array(await response.arrayBuffer()));
}

/** Sorted into blocks once for each size. */
function tileOf(surface: LayeredSurface, number: number, size: Size): LayeredTile {
  const key = `${number} ${size.width} ${size.height}`;
  const made = known!.tiles.get(key) ?? layeredTile(surface, number, size);
  known!.tiles.set(key, made);
  return made;
}

/** Remembered for small pictures alone: they take 80 bytes a texel. */
function placesOf(tile: number, { width, height }: Size): Map<number, BlockPlaces> | undefined {
  if (width * height > MOST_REMEMBERED) return undefined;
  const name = `${tile} ${width} ${height}`;
  const places = known!.places.get(name) ?? new Map<number, BlockPlaces>();
  known!.places.set(name, places);
  return places;
}

const MOST_REMEMBERED = 1024 * 1024;

function tilesToShow({ receiver, repeats }: LayeredSurface, tiles: LayersSettings['tiles']): number[] {
  if (repeats) return [FIRST_TILE];
  return tiles === 'all' ? [...tilesOf(receiver.uvs, receiver.indices).tiles.keys()] : tiles;
}

/** Tells the triangle at a place, if there is one. */
async function findTriangle({ tile, u, v, add, pressure }: TriangleAsk): Promise<void> {
  const size = { width: PICK_SIDE, height: PICK_SIDE };
  if (!known) return;
  const there = tileOf(known.surface, tile, size);
  const block = new TexelBlock(there);
  const [x, y] = [Math.floor(u * PICK_SIDE), Math.floor((1 - v) * PICK_SIDE)];
  if (x < 0 || y < 0 || x >= PICK_SIDE || y >= PICK_SIDE) return;
  block.load(Math.floor(y / BLOCK) * Math.ceil(PICK_SIDE / BLOCK) + Math.floor(x / BLOCK));
  const found = block.at.subarray(0, block.count).indexOf(y * PICK_SIDE + x);
  if (found < 0) return;
  const triangle = block.triangles[found]!;
  block.standOn(Uint32Array.of(triangle), weightsInLayout(there, triangle, u, v));
  const place = [0, 1, 2].map((k) => block.places[k]![0]!) as FoundPlace['place'];
  const normal = [0, 1, 2].map((k) => block.normals[k * TEXELS]!) as FoundPlace['normal'];
  const facts = pressure === null ? await factsOf(triangle, place) : null;
  tell({ what: 'triangle', triangle, add, pressure, place, normal, ...(facts ? { facts } : {}) });
}

/** The inputs of the picture that is shown. */
let shownInputs: { of: InputsOfTile; size: Size } | null = null;

/** What is known of a place, in millimetres, on a triangle. */
async function factsOf(triangle: number, place: readonly number[]): Promise<PlaceFacts | null> {
  if (!known || triangle >= known.surface.slotOf.length) return null;
  const { surface } = known;
  const tile = surface.repeats ? FIRST_TILE : (tileOfTriangle(surface.receiver, triangle) ?? FIRST_TILE);
  return {
    slot: surface.slots[surface.slotOf[triangle]!] ?? '',
    object: surface.objects[surface.objectOf[triangle]!] ?? '',
    tile,
    idColor: shownInputs && (await idColorAt(surface, triangle, place, tile, shownInputs)),
  };
}

async function idColorAt(
  surface: LayeredSurface,
  triangle: number,
  place: readonly number[],
  tile: number,
  { of, size }: NonNullable<typeof shownInputs>,
): Promise<string | null> {
  const ids = (await of(tile, size)).measured.id;
  if (!ids) return null;
  const block = new TexelBlock(tileOf(surface, tile, size));
  const triangles = Uint32Array.of(triangle);
  block.standOn(triangles, weightsOf(surface, triangles, Float32Array.from(place), [0]));
  const at = block.at[0]! * ids.channels;
  const byte = (value: number): number =>
    ids.colorSpace === 'srgb' ? screenByte(value) : Math.round(255 * Math.max(0, Math.min(1, value)));
  return `#${[0, 1, 2]
    .map((k) =>
      byte(ids.data[at + k]!)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;
}

function tellFaces(ask: FacesAsk | GrowAsk, surface: LayeredSurface): void {
  const of = surface.receiver.indices.length / 3;
  let faces: Uint8Array;
  if (ask.what === 'faces') faces = facesByAngle([ask.triangle], ask.angle, surface);
  else {
    const picked = new Uint8Array(of);
    for (const [from, to] of ask.ranges) picked.fill(1, from, to);
    faces = grownFaces(picked, surface);
  }
  tell({ what: 'faces', ranges: rangesOfFaces(faces), of });
}

/** Weights of a triangle's second and third corner at a place of its tile. */
function weightsInLayout({ uvs, surface }: LayeredTile, triangle: number, u: number, v: number): Float64Array {
  const [a, b, c] = [0, 1, 2].map((corner) => surface.receiver.indices[triangle * 3 + corner]! * 2) as [
    number,
    number,
    number,
  ];
  const [px, py] = [u - uvs[a]!, v - uvs[a + 1]!];
  const [bx, by] = [uvs[b]! - uvs[a]!, uvs[b + 1]! - uvs[a + 1]!];
  const [cx, cy] = [uvs[c]! - uvs[a]!, uvs[c + 1]! - uvs[a + 1]!];
  const det = bx * cy - by * cx || 1e-30;
  return Float64Array.of((px * cy - py * cx) / det, (bx * py - by * px) / det);
}

/** Texels along the side of a tile that clicks are told apart by. */
const PICK_SIDE = 1024;

/** Images by id, content and size, as long as the stack uses them. */
const images = new Map<string, Promise<Image>>();
const inputsBySize = new Map<number, { key: string; of: InputsOfTile; tiles: Map<string, ReturnType<InputsOfTile>> }>();
/** Names what the newest inputs hold. */
let inputsKey = '';

/** Strokes that were kept, by their hashes. */
const strokes = new Map<string, Stroke>();

/** Fetches the strokes of a stack that are not here yet. */
async function strokesOfAsk({ settings, pen }: LayersAsk): Promise<ReadonlyMap<string, Stroke>> {
  await Promise.all(
    strokesOf(settings.layers).map(async (name) => {
      if (name === UNDER_PEN || strokes.has(name)) return;
      const response = await fetch(PATHS.blob(name));
      if (!response.ok) throw new Error('A stroke could not be fetched from the server.');
      strokes.set(name, strokeOfRecord(strokeRecord.parse(await response.json())));
    }),
  );
  if (pen) strokes.set(UNDER_PEN, strokeOfRecord(pen));
  return strokes;
}

/** Everything a stack is made of, at the size of the preview; kept until something of it is another. */
async function inputsOfAsk({ settings, pictures, side }: LayersAsk, size: Size): Promise<InputsOfTile> {
  const { layers, materials, measured, unit } = settings;
  const used = [...everyLayer(layers)].flatMap((layer) =>
    layer.content === 'tiling' ? [`material ${layer.material}`] : [],
  );
  const ofBrushes = picturesOf(layers, strokes);
  const key = JSON.stringify([
    materials,
    measured,
    unit,
    pictures,
    size,
    [...new Set(used)].sort(),
    [...ofBrushes].sort(),
  ]);
  inputsKey = key;
  let inputs = inputsBySize.get(side);
  if (inputs?.key !== key) {
    const wanted = new Map<string, Promise<Image>>();
    const of = await stackInputs(
      settings,
      (number) => {
        const [id, content] = pictures[number] ?? ['', ''];
        if (content === '') throw new Error('An image of the stack is not there. Choose another.');
        const name = `${id} ${content} ${side}`;
        const image = images.get(name) ?? samplesOf(id, content, side);
        wanted.set(name, image);
        images.set(name, image);
        return image;
      },
      strokes,
    );
    inputs = { key, of, tiles: new Map() };
    inputsBySize.set(side, inputs);
    for (const name of images.keys()) if (!wanted.has(name) && !name.endsWith(` ${side}`)) images.delete(name);
  }
  const { of, tiles } = inputs;
  return (tile, at) => {
    const name = `${tile} ${at.width} ${at.height}`;
    const made = tiles.get(name) ?? of(tile, at);
    tiles.set(name, made);
    return made;
  };
}

/** Pixels along the side of an offer's picture. */
const OFFER_SIDE = 112;
/** From where models are looked at: from the front, a little from above and aside. */
const TOWARDS = [0.45, 0.42, 1] as const;

/** Makes pictures of offers one after the other, until something else is asked for. */
async function showOffers({ on, offers }: OffersAsk): Promise<void> {
  const { settings, turn } = on;
  const surface = await surfaceOf(on.surface);
  const size = within(settings.size, on.side);
  const view = viewOf(surface, OFFER_SIDE, TOWARDS);
  const { layers } = sound(settings, FIRST_TILE);
  const painted = await strokesOfAsk(on);
  const inputsOf = await inputsOfAsk(on, size);
  const placesByTile = new Map<number, number[]>();
  for (const [i, triangle] of view.places.triangles.entries()) {
    const tile = surface.repeats ? FIRST_TILE : (tileOfTriangle(surface.receiver, triangle) ?? FIRST_TILE);
    placesByTile.set(tile, [...(placesByTile.get(tile) ?? []), i]);
  }
  const seen = async (shown: readonly Layer[]): Promise<SeenTile[]> => {
    const processes = await processesOf(on, surface, shown);
    return Promise.all(
      [...placesByTile].map(async ([number, places]): Promise<SeenTile> => {
        const tile = tileOf(surface, number, size);
        const inputs = { ...(await inputsOf(number, size)), strokes: painted, processes };
        const options = { doBlocks: onThisThread(tile, settings.mixing, pause, placesOf(number, size)) };
        return { tile, places, inputs: { ...inputs, planes: await runsOf(shown, tile, inputs, options) } };
      }),
    );
  };
  const pictures = new OfferPictures(view, await seen(layers), layers, settings.mixing);
  for (const { name, layer } of offers) {
    await pause();
    if (turn !== newest) return;
    const rgba = pictures.pictureWith(layer, await seen([...layers, layer]).catch(() => []));
    if (rgba) tell({ what: 'offer', name, side: OFFER_SIDE, rgba }, [rgba.buffer]);
  }
}

/** Sides of what is counted. */
const COUNTED_SIDE = 256;

/** Tells how often values occur in the first tile, in what lies beneath a layer or in the steps of its mask. */
async function tellHistogram(ask: LayersAsk, { layer: id, of }: HistogramOf, surface: LayeredSurface): Promise<void> {
  const { settings, turn } = ask;
  const { mixing } = settings;
  const size = within(settings.size, COUNTED_SIDE);
  const [number = FIRST_TILE] = tilesToShow(surface, settings.tiles);
  const { layers } = sound(settings, number);
  const layer = layerById(layers, id);
  if (!layer) return;
  const tile = tileOf(surface, number, size);
  const painted = await strokesOfAsk(ask);
  const inputsOf = await inputsOfAsk({ ...ask, side: COUNTED_SIDE }, size);
  const processes = await processesOf(ask, surface, layers);
  const options = {
    doBlocks: onThisThread(tile, mixing, pause, placesOf(number, size)),
    onProgress: () => goOnUnlessOvertaken(turn),
  };
  const inputs = { ...(await inputsOf(number, size)), strokes: painted, processes };
  inputs.planes = await runsOf(layers, tile, inputs, options);
  if (of === 'mask') {
    const plane = new Float32Array(size.width * size.height);
    const states = new Uint8Array(plane.length);
    await options.doBlocks({ do: 'mask', layer, plane, states }, inputs, options.onProgress);
    tell({ what: 'histogram', turn, bins: histogramOf(plane, states, 1) });
    return;
  }
  const [channel] = channelsOf(layer);
  if (!channel) return;
  const planes = barePlanes(tile, [channel]);
  await composeLayers({ layers: layersBeneath(layers, id), mixing }, planes, tile, inputs, options);
  tell({ what: 'histogram', turn, bins: histogramOf(planes.channels[channel]!, planes.states, widthOf(channel)) });
}

async function tellSection(
  { turn, settings }: LayersAsk,
  { triangles, points }: SectionLine,
  surface: LayeredSurface,
  size: Size,
  inputsOf: InputsOfTile,
): Promise<void> {
  const strata = new Map<string, Stratum>();
  const inMillimetres = points.map((value) => value * settings.unit);
  const byTile = new Map<number, number[]>();
  const count = Math.min(TEXELS, triangles.length);
  for (let i = 0; i < count; i++) {
    const tile = surface.repeats ? FIRST_TILE : (tileOfTriangle(surface.receiver, triangles[i]!) ?? FIRST_TILE);
    byTile.set(tile, [...(byTile.get(tile) ?? []), i]);
  }
  for (const [number, places] of byTile) {
    const at = {
      triangles: Uint32Array.from(places, (i) => triangles[i]!),
      weights: weightsOf(surface, triangles, inMillimetres, places),
    };
    const tile = tileOf(surface, number, size);
    const planes = runPlanesKnown.get(placeOf(tile))?.planes ?? new Map<string, Float32Array>();
    const inputs = { ...(await inputsOf(number, size)), strokes, planes, processes: processesKnown.processes };
    const part = sectionOf(settings, tile, inputs, at);
    for (const { id, strength, colors } of part) {
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

/** Barycentric weights of points on their triangles. */
function weightsOf(
  { receiver: { positions, indices } }: LayeredSurface,
  triangles: Uint32Array,
  points: Float32Array,
  places: readonly number[],
): Float64Array {
  const weights = new Float64Array(places.length * 2);
  places.forEach((i, k) => {
    const corner = (c: number): number[] => {
      const at = indices[triangles[i]! * 3 + c]! * 3;
      return [positions[at]!, positions[at + 1]!, positions[at + 2]!];
    };
    const [a, b, c] = [corner(0), corner(1), corner(2)];
    const from = (p: ArrayLike<number>): number[] => [0, 1, 2].map((axis) => p[axis]! - a[axis]!);
    const dot = (x: number[], y: number[]): number => x[0]! * y[0]! + x[1]! * y[1]! + x[2]! * y[2]!;
    const [u, v, p] = [from(b), from(c), from(points.subarray(i * 3, i * 3 + 3))];
    const [uu, uv, vv, pu, pv] = [dot(u, u), dot(u, v), dot(v, v), dot(p, u), dot(p, v)];
    const det = uu * vv - uv * uv || 1e-30;
    weights[k * 2] = (pu * vv - pv * uv) / det;
    weights[k * 2 + 1] = (pv * uu - pu * uv) / det;
  });
  return weights;
}
