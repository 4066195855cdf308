import type { Size } from '@zographos/core/math';
import { MapDeriver, PICKED_KINDS, type Care, type HeightSuggestion, type PickedKind } from '@zographos/core/derive';
import type { Image, MapKind } from '@zographos/core/image';
import { repetitionOf, type Repetition } from '@zographos/core/measure';
import { fieldImage } from '@zographos/core/pattern';
import { tileSeamAlong, type Axis, type TileMaker } from '@zographos/core/seamless';
import type { DeriveSettings, FieldSettings, SeamlessSettings } from '@zographos/operations';
import { makeTiles, mapsOfField, tileMakerOf } from '@zographos/operations/preview';

import { usePreviewKernel } from '../../../preview/previewKernel.ts';
import { screenPixels } from '../../../preview/screenPixels.ts';
import { COMPARED, withMethod, type Compared, type ComparedAxes } from '../editors/ways.ts';

/** The live preview: the same computation as the server's, at the size of the screen, away from the page. */

export type PreviewJob =
  | { operation: 'seamless'; settings: SeamlessSettings }
  | { operation: 'derive'; settings: DeriveSettings }
  | { operation: 'field'; settings: FieldSettings };

export type FlatAsk =
  /** What the ticket is made of, as light. */
  | { what: 'pictures'; pictures: Image[]; sketches: Image[] }
  /** @param kinds those that are wanted, the one to look at first @param pick alone, where a map by picked tones is shown */
  | { what: 'make'; turn: number; job: PreviewJob; kinds: MapKind[]; side: number; pick: number | null }
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
  /** The jump over either border over that within, place by place along it. */
  borders: Record<Axis, Float32Array>;
}

/** A map that is the same as when it was told last. */
export interface KeptMap {
  kind: MapKind;
  values: null;
  kept: true;
}

export type FlatTold =
  | ({ what: 'source' } & Shown)
  | {
      what: 'made';
      turn: number;
      maps: (PreviewMap | KeptMap)[];
      suggestion: HeightSuggestion | null;
      /** How high white lies over black, in tile widths. */
      depth: number | null;
      milliseconds: number;
    }
  /** What takes longer and is told once nothing moves. */
  | { what: 'refined'; map: PreviewMap }
  | { what: 'repetition'; turn: number; repetition: Repetition }
  | { what: 'compared'; turn: number; method: Compared; map: PreviewMap | null; likeness: number }
  | { what: 'failed'; turn: number; message: string };

let pictures: Image[] = [];
let sketches: Image[] = [];
/** What the page has, by kind. */
let known = new Map<MapKind, Image>();
let deriver: { from: string; deriver: MapDeriver } | null = null;
/** One for what is looked at, one for what is compared: each remembers its last steps. */
const makers: Partial<Record<'shown' | 'compared', { of: string; maker: TileMaker }>> = {};
const never = { cancelFlag: new Int32Array(1), onProgress: () => {} };

void usePreviewKernel();

const tell = (told: FlatTold, moved: Transferable[] = []): void => self.postMessage(told, { transfer: moved });

self.onmessage = ({ data }: MessageEvent<FlatAsk>): void => {
  if (data.what === 'pictures') {
    ({ pictures, sketches } = data);
    deriver = null;
    known.clear();
    delete makers.shown;
    delete makers.compared;
    const [first] = pictures;
    if (!first) return;
    const rgba = screenPixels(first);
    tell({ what: 'source', width: first.width, height: first.height, rgba }, [rgba.buffer]);
    return;
  }
  if (data.what === 'compare') {
    compare(data, 0);
    return;
  }
  const { turn } = data;
  clearTimeout(later);
  try {
    const since = performance.now();
    const made = make(data, 'quick');
    const maps = made.map((map) =>
      known.get(map.kind) === map.image ? ({ kind: map.kind, values: null, kept: true } as const) : previewOf(map),
    );
    known = new Map(made.map(({ kind, image }) => [kind, image]));
    const milliseconds = performance.now() - since;
    const told: FlatTold = {
      ...{ what: 'made', turn, maps, milliseconds },
      suggestion: suggestionOf(data.job),
      depth: data.job.operation === 'derive' && deriver ? deriver.deriver.depth(data.job.settings) : null,
    };
    tell(
      told,
      maps.flatMap((map) => ('kept' in map ? [] : moved(map))),
    );
    // What is derived repeats as what it is derived from does.
    if (data.job.operation === 'derive') later = setTimeout(refine, IDLE_MS, data);
    else if (made[0]) later = setTimeout(tellRepetition, IDLE_MS, turn, made[0].image);
  } catch (error) {
    tell({ what: 'failed', turn, message: error instanceof Error ? error.message : String(error) });
  }
};

const previewOf = ({ kind, image }: { kind: MapKind; image: Image }): PreviewMap => ({
  kind,
  width: image.width,
  height: image.height,
  rgba: screenPixels(image),
  values: kind === 'height' ? Float32Array.from(image.data) : null,
  borders: { across: tileSeamAlong(image, 'across'), up: tileSeamAlong(image, 'up') },
});

let comparing: ReturnType<typeof setTimeout> | undefined;

/** One way after the other, so that a newer question need not wait for all of them. */
function compare(ask: Extract<FlatAsk, { what: 'compare' }>, at: number): void {
  clearTimeout(comparing);
  const { turn, settings, axes, kind, side } = ask;
  const method = COMPARED[at];
  if (!method || pictures.length === 0) return;
  try {
    const size = within(settings.size, side);
    const made = makeTiles({ ...withMethod(settings, method, axes), size }, makerOf('compared', settings), never).find(
      (map) => map.kind === kind,
    );
    const map = made ? previewOf(made) : null;
    const likeness = made ? repetitionOf(made.image).likeness : 0;
    tell({ what: 'compared', turn, method, map, likeness }, map ? [map.rgba.buffer] : []);
  } catch {
    // A way that these ends do not allow is left out of the comparison.
    tell({ what: 'compared', turn, method, map: null, likeness: 0 });
  }
  comparing = setTimeout(compare, 0, ask, at + 1);
}

const IDLE_MS = 250;
let later: ReturnType<typeof setTimeout> | undefined;

/** Looks for occlusion with more care. */
function refine(ask: Extract<FlatAsk, { what: 'make' }>): void {
  const kinds = ask.kinds.filter((kind) => kind === 'ao');
  for (const made of make({ ...ask, kinds }, 'fair')) {
    if (known.get(made.kind) === made.image) continue;
    known.set(made.kind, made.image);
    const map = previewOf(made);
    tell({ what: 'refined', map }, moved(map));
  }
}

const moved = ({ rgba, values, borders }: PreviewMap): Transferable[] => [
  rgba.buffer,
  borders.across.buffer,
  borders.up.buffer,
  ...(values ? [values.buffer] : []),
];
const tellRepetition = (turn: number, image: Image): void =>
  tell({ what: 'repetition', turn, repetition: repetitionOf(image) });

type Made = { kind: MapKind; image: Image }[];

function make({ job, kinds, side, pick }: Extract<FlatAsk, { what: 'make' }>, care: Care): Made {
  switch (job.operation) {
    case 'seamless': {
      if (pictures.length === 0) return [];
      const settings = { ...job.settings, size: within(job.settings.size, side) };
      const made = makeTiles(settings, makerOf('shown', settings), never);
      return inOrder(made, kinds);
    }
    case 'derive':
      return pictures.length === 0 ? [] : derived(job.settings, kinds, pick, care);
    case 'field': {
      const settings = { ...job.settings, size: within(job.settings.size, side), samples: 1 };
      return inOrder(mapsOfField(settings, fieldImage(settings, settings.size)), kinds);
    }
  }
}

function makerOf(use: 'shown' | 'compared', { pictures: meanings, guide }: SeamlessSettings): TileMaker {
  const of = JSON.stringify([meanings, guide]);
  const known = makers[use];
  if (known?.of === of) return known.maker;
  const maker = tileMakerOf({ pictures: meanings, guide }, pictures, sketches);
  makers[use] = { of, maker };
  return maker;
}

function derived(settings: DeriveSettings, kinds: readonly MapKind[], pick: number | null, care: Care): Made {
  const { from, repeats } = settings;
  const key = `${from} ${repeats}`;
  if (deriver?.from !== key) deriver = { from: key, deriver: new MapDeriver(pictures[0]!, from, repeats) };
  const { deriver: own } = deriver;
  return settings.maps
    .filter((kind) => kinds.includes(kind))
    .sort((a, b) => kinds.indexOf(a) - kinds.indexOf(b))
    .map((kind) => {
      const picked: PickedKind | undefined = PICKED_KINDS.find((each) => each === kind);
      const alone = picked && pick !== null && settings[picked].picks[pick] !== undefined;
      return { kind, image: alone ? own.mask(picked, pick, settings) : own.make(kind, settings, care) };
    });
}

function suggestionOf(job: PreviewJob): HeightSuggestion | null {
  if (job.operation !== 'derive' || job.settings.from !== 'color' || !deriver) return null;
  return deriver.deriver.suggestion();
}

const inOrder = (made: Made, kinds: readonly MapKind[]): Made =>
  made.filter(({ kind }) => kinds.includes(kind)).sort((a, b) => kinds.indexOf(a.kind) - kinds.indexOf(b.kind));

function within({ width, height }: Size, side: number): Size {
  const scale = Math.min(1, side / Math.max(width, height));
  const length = (texels: number): number => Math.max(16, Math.round(texels * scale));
  return { width: length(width), height: length(height) };
}
