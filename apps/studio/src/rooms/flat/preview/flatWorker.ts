import type { HeightSuggestion } from '@zographos/core/derive';
import { withNeededRange, type Image, type MapKind } from '@zographos/core/image';
import { proveTile, type TileProof } from '@zographos/core/measure';
import type { SeamlessSettings } from '@zographos/operations';

import { usePreviewKernel } from '../../../preview/previewKernel.ts';
import { screenPixels } from '../../../preview/screenPixels.ts';
import { COMPARED, withMethod, type Compared, type ComparedAxes } from '../editors/ways.ts';
import { LivePace } from './livePace.ts';
import { PreviewMaker, type Made, type PreviewWish } from './previewMaker.ts';

/**
 * The live preview: the same computation as the server's, at the size of the screen, away from the page. What takes too
 * long to follow a slider is made small first, and in full once nothing has moved for a moment.
 */

export type FlatAsk =
  /** Where the page writes the turn it has asked for last, where memory can be shared. */
  | { what: 'newest'; newest: Int32Array<SharedArrayBuffer> }
  /** What the ticket is made of, as light. */
  | { what: 'pictures'; pictures: Image[]; sketches: Image[] }
  | ({ what: 'make'; turn: number; side: number } & PreviewWish)
  /** One kind of map, made in every way. */
  | { what: 'compare'; turn: number; settings: SeamlessSettings; axes: ComparedAxes; kind: MapKind; side: number };

/** A picture as it looks on screen. */
export interface Shown {
  width: number;
  height: number;
  rgba: Uint8ClampedArray<ArrayBuffer>;
}

export interface PreviewMap extends Shown {
  kind: MapKind;
  /** Of a height: its values, for real displacement and the profile. */
  values: Float32Array | null;
}

/** A map that is the same as when it was told last, of the drafts or of those in full. */
export interface KeptMap {
  kind: MapKind;
  values: null;
  kept: true;
}

export interface MadeMaps {
  turn: number;
  maps: (PreviewMap | KeptMap)[];
  suggestion: HeightSuggestion | null;
  /** How high white lies over black, in tile widths. */
  depth: number | null;
  milliseconds: number;
}

export type FlatTold =
  | ({ what: 'source' } & Shown)
  /** The answer to each question: in full, or a draft. */
  | ({ what: 'made'; isDraft: boolean } & MadeMaps)
  /** After a draft, what it was a draft of. */
  | ({ what: 'finished' } & MadeMaps)
  /** What takes longer and is told once nothing moves. */
  | { what: 'refined'; map: PreviewMap }
  | { what: 'proof'; turn: number; proof: TileProof }
  | { what: 'compared'; turn: number; method: Compared; map: PreviewMap | null }
  /** How good that tile is, once all are made. */
  | { what: 'compared proof'; turn: number; method: Compared; proof: TileProof }
  | { what: 'failed'; turn: number; message: string };

type MakeAsk = Extract<FlatAsk, { what: 'make' }>;

/** Stops what a newer question has made idle. */
class Superseded extends Error {}
let newest: Int32Array | null = null;
/** The turn that is being finished, which any newer one may stop. */
let finishing: number | null = null;
const check = (): void => {
  if (finishing !== null && newest && Atomics.load(newest, 0) !== finishing) throw new Superseded();
};

const pace = new LivePace();
let inFull = new PreviewMaker([], [], check);
let drafts: { side: number; maker: PreviewMaker } | null = null;
let compared = inFull;
/** What the page has, by kind: of drafts, and of maps in full. */
/** The first of the maps in full, which is proved. */
let first: Made[number] | undefined;
const known = { draft: new Map<MapKind, Image>(), full: new Map<MapKind, Image>() };

void usePreviewKernel(check);

const tell = (told: FlatTold, moved: Transferable[] = []): void => self.postMessage(told, { transfer: moved });

self.onmessage = ({ data }: MessageEvent<FlatAsk>): void => {
  switch (data.what) {
    case 'newest':
      ({ newest } = data);
      break;
    case 'pictures':
      begin(data.pictures, data.sketches);
      break;
    case 'compare':
      compare(data, 0);
      break;
    case 'make':
      clearTimeout(later);
      answer(data);
  }
};

function begin(pictures: Image[], sketches: Image[]): void {
  inFull = new PreviewMaker(pictures, sketches, check);
  compared = new PreviewMaker(pictures, sketches);
  drafts = null;
  known.draft.clear();
  known.full.clear();
  first = undefined;
  clearTimeout(comparing);
  const [picture] = pictures;
  if (!picture) return;
  const rgba = screenPixels(picture);
  tell({ what: 'source', width: picture.width, height: picture.height, rgba }, [rgba.buffer]);
}

/** What takes about the same time each time. */
const workOf = ({ job, kinds, side }: MakeAsk): string => `${job.operation} ${side} ${kinds.length}`;

function answer(ask: MakeAsk): void {
  try {
    const work = workOf(ask);
    const divisor = pace.divisor(work);
    const made = divisor > 1 ? asDraft(ask, divisor) : asAsked(ask);
    if (divisor > 1) pace.tookAsDraft(work, made.milliseconds);
    else pace.tookInFull(work, made.milliseconds);
    tell({ what: 'made', isDraft: divisor > 1, ...made }, moved(made.maps));
    if (divisor > 1) later = setTimeout(finish, newest ? REST_MS : IDLE_MS, ask);
    else later = setTimeout(afterwards, IDLE_MS, ask);
  } catch (error) {
    fail(ask, error);
  }
}

const fail = ({ turn }: MakeAsk, error: unknown): void =>
  tell({ what: 'failed', turn, message: error instanceof Error ? error.message : String(error) });

const asAsked = (ask: MakeAsk): MadeMaps => timed(ask, inFull, ask.side, known.full);

function asDraft(ask: MakeAsk, divisor: number): MadeMaps {
  const side = Math.min(ask.side, Math.max(LEAST_SIDE, Math.round(ask.side / divisor)));
  // Frames take their part of a picture, which is larger than the tile.
  const sourceSide = ask.job.operation === 'seamless' ? side * 2 : side;
  if (drafts?.side !== sourceSide) drafts = { side: sourceSide, maker: inFull.reduced(sourceSide, check) };
  return timed(ask, drafts.maker, side, known.draft);
}

/** Makes it, and remembers what the page will have. */
function timed(ask: MakeAsk, maker: PreviewMaker, side: number, had: Map<MapKind, Image>): MadeMaps {
  const since = performance.now();
  const made = maker.make(ask, side, 'quick');
  const maps = made.map((map) =>
    had.get(map.kind) === map.image ? ({ kind: map.kind, values: null, kept: true } as const) : previewOf(map),
  );
  had.clear();
  for (const { kind, image } of made) had.set(kind, image);
  if (maker === inFull) first = made[0];
  const milliseconds = performance.now() - since;
  // A suggestion takes all bands of a tone, and is not waited for while settings move.
  const suggestion = maker === inFull ? maker.suggestion(ask.job) : null;
  return { turn: ask.turn, maps, milliseconds, suggestion, depth: maker.depth(ask.job) };
}

const previewOf = ({ kind, image }: Made[number]): PreviewMap => ({
  kind,
  width: image.width,
  height: image.height,
  rgba: screenPixels(withNeededRange(kind, image)),
  values: kind === 'height' ? Float32Array.from(image.data) : null,
});

const moved = (maps: readonly (PreviewMap | KeptMap)[]): Transferable[] =>
  maps.flatMap((map) =>
    'kept' in map ? [] : [map.rgba.buffer, ...(map.values ? [map.values.buffer as ArrayBuffer] : [])],
  );

/** With shared memory it stops when something moves, so that it need not wait for long. */
const REST_MS = 60;
const IDLE_MS = 250;
/** No draft is smaller. */
const LEAST_SIDE = 128;
let later: ReturnType<typeof setTimeout> | undefined;

/** Does what a newer question may stop. */
function interruptibly(ask: MakeAsk, work: () => void): void {
  finishing = ask.turn;
  try {
    work();
  } catch (error) {
    if (!(error instanceof Superseded)) fail(ask, error);
  } finally {
    finishing = null;
  }
}

function finish(ask: MakeAsk): void {
  interruptibly(ask, () => {
    const made = asAsked(ask);
    tell({ what: 'finished', ...made }, moved(made.maps));
    later = setTimeout(afterwards, IDLE_MS - REST_MS, ask);
  });
}

/** Once nothing moves: occlusion with more care, and the proof of a tile. */
function afterwards(ask: MakeAsk): void {
  interruptibly(ask, () => {
    if (ask.job.operation !== 'derive') {
      // What is derived repeats as what it is derived from does.
      const tile = first;
      if (tile) tell({ what: 'proof', turn: ask.turn, proof: proveTile(tile.image, tile.picture?.() ?? null, check) });
      return;
    }
    const kinds = ask.kinds.filter((kind) => kind === 'ao');
    for (const made of inFull.make({ ...ask, kinds }, ask.side, 'fair')) {
      if (known.full.get(made.kind) === made.image) continue;
      known.full.set(made.kind, made.image);
      const map = previewOf(made);
      tell({ what: 'refined', map }, moved([map]));
    }
  });
}

let comparing: ReturnType<typeof setTimeout> | undefined;
type CompareAsk = Extract<FlatAsk, { what: 'compare' }>;
type Tiles = { method: Compared; tile: Made[number] }[];

/** One way after the other, so that a newer question need not wait for all of them. */
function compare(ask: CompareAsk, at: number, tiles: Tiles = []): void {
  clearTimeout(comparing);
  const { turn, settings, axes, kind, side } = ask;
  const method = COMPARED[at];
  if (!method) {
    comparing = setTimeout(proveCompared, 0, turn, tiles);
    return;
  }
  try {
    const job = { operation: 'seamless', settings: withMethod(settings, method, axes) } as const;
    const [tile] = compared.make({ job, kinds: [kind], pick: null }, side, 'quick');
    if (!tile) return;
    const map = previewOf(tile);
    tell({ what: 'compared', turn, method, map }, moved([map]));
    // What a tile was made of is asked for now: the next way may frame it otherwise.
    const picture = tile.picture?.();
    tiles.push({ method, tile: picture ? { ...tile, picture: () => picture } : tile });
  } catch {
    // A way that these ends do not allow is left out of the comparison.
    tell({ what: 'compared', turn, method, map: null });
  }
  comparing = setTimeout(compare, 0, ask, at + 1, tiles);
}

/** Proofs take longer than tiles, and come once all tiles are seen. */
function proveCompared(turn: number, [first, ...rest]: Tiles): void {
  if (!first) return;
  const { method, tile } = first;
  tell({ what: 'compared proof', turn, method, proof: proveTile(tile.image, tile.picture?.() ?? null) });
  comparing = setTimeout(proveCompared, 0, turn, rest);
}
