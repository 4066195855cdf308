import { adjust } from '@zographos/core/adjust';
import type { Size } from '@zographos/core/math';
import { toLight, type Border, type Image, type MapKind } from '@zographos/core/image';
import { MapDeriver } from '@zographos/core/derive';
import { ZographosError } from '@zographos/core/errors';
import { repetitionOf } from '@zographos/core/measure';
import { coloured } from '@zographos/core/pattern';
import { TileMaker, tileSeam } from '@zographos/core/seamless';
import type { DeriveSettings } from '../derive/settings.ts';
import type { FieldSettings } from '../field/settings.ts';
import type { PictureMeaning } from './adjustments.ts';
import { guideOf, type SeamlessSettings } from '../seamless/settings.ts';
import type { FlatKind } from '../registry.ts';
import type { FlatReport } from '../report.ts';
import { throwIfCancelled, type Progress, type RunResources } from '../context.ts';

/** What runs of flat material are told, and tell. */
export interface FlatWatch {
  cancelFlag: Int32Array;
  onProgress: (progress: Progress) => void;
}

export interface FlatMap {
  kind: MapKind;
  image: Image;
}

/**
 * A picture as light: the sRGB curve of colours is taken off, and what it holds is written on it.
 * @param image as it is stored; it is changed in place
 */
export function asMeantBy({ colorSpace }: Pick<PictureMeaning, 'colorSpace'>, image: Image): Image {
  if (colorSpace === 'linear') return image;
  const light: Image = { ...image, colorSpace };
  toLight(light);
  return light;
}

/** Bytes that are held at once for each texel: whatever the maps, for each of them, and for each thread. */
const BYTES_PER_TEXEL: Record<FlatKind, { base: number; map: number; thread: number }> = {
  seamless: { base: 16, map: 56, thread: 0 },
  derive: { base: 120, map: 14, thread: 40 },
  field: { base: 8, map: 40, thread: 0 },
};

/** @throws limit/memory before anything is computed, with the figure */
export function refuseFlatBeyondMemory(
  kind: FlatKind,
  { width, height }: Size,
  maps: number,
  { memoryLimitBytes: limitBytes, threads }: Pick<RunResources, 'memoryLimitBytes' | 'threads'>,
): void {
  const { base, map, thread } = BYTES_PER_TEXEL[kind];
  const bytes = 220e6 + width * height * (base + map * maps + thread * threads);
  if (bytes <= limitBytes) return;
  const gb = (value: number): string => `${(value / 1e9).toFixed(1)} GB`;
  throw new ZographosError(
    'limit/memory',
    `${maps} map${maps === 1 ? '' : 's'} of ${width} × ${height} px would need about ${gb(bytes)} of memory, the limit is ${gb(limitBytes)}. Choose a smaller size or fewer maps, or raise ZOGRAPHOS_MAX_MEMORY_MB.`,
  );
}

/**
 * Makes tiles of the pictures of a ticket, however its other settings move.
 * @param pictures as light, in its order
 * @param sketches of the whole pictures, where these are reduced
 */
export const tileMakerOf = (
  settings: Pick<SeamlessSettings, 'pictures' | 'guide'>,
  pictures: readonly Image[],
  sketches: readonly Image[] = [],
): TileMaker =>
  new TileMaker(
    settings.pictures.map(({ kind }, i) => ({ kind, image: requirePicture(pictures, i) })),
    guideOf(settings),
    sketches[guideOf(settings)],
  );

/** @param maker of the ticket's pictures @throws input/bad-settings, run/cancelled */
export function runSeamless(settings: SeamlessSettings, maker: TileMaker, watch: FlatWatch): FlatMap[] {
  const tiles = maker.make(settings, {
    onProgress: (share) => watch.onProgress({ stage: 'trace', share, secondsLeft: null }),
    check: () => throwIfCancelled(watch.cancelFlag),
  });
  const border = bordersOf(settings);
  return settings.pictures.map(({ kind }, i) => ({
    kind,
    image: adjust(tiles[i]!, settings.adjust[kind] ?? [], border),
  }));
}

const bordersOf = ({ way, ends }: SeamlessSettings): Border =>
  way === 'patches' || (ends.across.method !== 'none' && ends.up.method !== 'none') ? 'repeat' : 'clamp';

/** @param picture as light @throws run/cancelled */
export function runDerive(settings: DeriveSettings, pictures: readonly Image[], watch: FlatWatch): FlatMap[] {
  const deriver = new MapDeriver(requirePicture(pictures, 0), settings.from, settings.repeats);
  return settings.maps.map((kind, i) => {
    throwIfCancelled(watch.cancelFlag);
    watch.onProgress({ stage: 'trace', share: i / settings.maps.length, secondsLeft: null, note: kind });
    return { kind, image: deriver.make(kind, settings) };
  });
}

/** The maps of a field that was drawn. */
export function mapsOfField(settings: FieldSettings, field: Image): FlatMap[] {
  const border: Border = settings.wrap === 'torus' || settings.wrap === 'flat-torus' ? 'repeat' : 'clamp';
  return settings.maps.map(({ kind, ramp }) => {
    const image = ramp ? coloured(field, ramp) : { ...field, data: field.data.slice() };
    return { kind, image: adjust(image, settings.adjust[kind] ?? [], border) };
  });
}

/** How good flat maps are: what their borders show, and how much they show that they repeat. */
export function measureFlat(maps: readonly FlatMap[], seconds: number): FlatReport {
  const shown = maps.find(({ kind }) => kind === 'basecolor') ?? maps[0]!;
  return {
    seams: Object.fromEntries(
      maps.map(({ kind, image }) => [
        kind,
        { across: finite(tileSeam(image, 'across')), up: finite(tileSeam(image, 'up')) },
      ]),
    ),
    repetition: { of: shown.kind, ...repetitionOf(shown.image) },
    seconds,
  };
}

const finite = (value: number): number => (Number.isFinite(value) ? value : 1000);

/** @throws input/bad-settings */
export function requirePicture(pictures: readonly Image[], i: number): Image {
  const picture = pictures[i];
  if (picture) return picture;
  throw new ZographosError('input/bad-settings', 'A picture of this ticket is missing. Choose one it is made of.');
}
