import type { Size } from '../../math/size.ts';
import { ZographosError } from '../../errors.ts';
import type { Image } from '../../image/image.ts';
import { toUnit } from '../../image/kindMeaning.ts';
import { resample } from '../../image/filter/resample.ts';
import { asSeen } from '../cut/cutCost.ts';
import { bestAbout, PatchSearch, reducedPictures } from './patchSearch.ts';
import { layPatch, PatchTile, type Patch } from './patchTile.ts';
import type { Place } from './patchMeeting.ts';

export interface SynthesisOptions {
  /** Side of a patch as a share of the source's shorter side. */
  patch: number;
  /** How much of a patch lies on its neighbours, as a share of its side. */
  overlap: number;
  /** How many times as long as the source the tile is. */
  spread: number;
  /** How much worse than the best a patch may fit, so that there is a choice: 0 for the best alone. */
  variety: number;
  seed: number;
}

/** How a tile is put together from patches; one plan serves all maps of a set. */
export interface PatchPlan {
  size: Size;
  side: number;
  patches: Patch[];
}

export interface SynthesisWatch {
  onProgress?: (share: number) => void;
  /** Throws to stop. */
  check?: () => void;
}

/**
 * Puts a tile of any size together from patches of a picture, laid over each other on a torus (Efros and Freeman, "Image
 * Quilting", 2001), each joined along the least visible boundary of any shape. The source need not repeat; places that
 * were used are avoided, so that nothing is seen twice at once. Places are chosen on a small copy, then moved by less than
 * one of its texels to where they fit best: with the same small copy, a preview shows what the large tile will be.
 * @param sketch the picture with its shorter side as `smallSide` says; made of the picture if left out
 * @throws input/bad-settings for patches that do not fit into the picture or the tile
 */
export function planPatches(
  picture: Image,
  size: Size,
  options: SynthesisOptions,
  { onProgress, check }: SynthesisWatch = {},
  sketch = resample(picture, scaled(picture, Math.min(1, smallSide(options) / shorterOf(picture))), 'linear'),
): PatchPlan {
  const [source, small] = [asSeen(picture), asSeen(sketch)];
  const side = Math.round(options.patch * shorterOf(source));
  requireRoom(source, size, side);
  const scale = shorterOf(small) / shorterOf(source);
  const smallPatch = options.patch * shorterOf(small);
  const search = new PatchTile(small, smallTile(size, small, options), Math.max(2, Math.round(smallPatch)));
  const step = Math.max(1, smallPatch * (1 - options.overlap));
  const [columns, rows] = [search.image.width, search.image.height].map((length) => patchesAlong(length, step)) as [
    number,
    number,
  ];
  const places = new PatchSearch(small, search.side, options);
  const tile = new PatchTile(source, size, side);
  const reach = scale < 1 ? Math.ceil(1 / scale) : 0;
  const sources = reducedPictures(source, 1 / scale);
  const patches: Patch[] = [];
  for (let j = 0; j < rows; j++) {
    for (let i = 0; i < columns; i++) {
      check?.();
      // Middles of patches, not their edges, come to lie on the border of the tile.
      const at = ({ image, side: patch }: PatchTile): Place => [
        (Math.round((i * image.width) / columns) + image.width - (patch >> 1)) % image.width,
        (Math.round((j * image.height) / rows) + image.height - (patch >> 1)) % image.height,
      ];
      const chosen = places.choose(search, at(search));
      search.put(at(search), chosen);
      const start = chosen.map((place) => Math.round(place / scale)) as [number, number];
      patches.push(tile.put(at(tile), bestAbout(tile, at(tile), start, reach, sources)));
      onProgress?.(patches.length / (rows * columns));
    }
  }
  return { size, side, patches };
}

/** Puts one map of a set together by a plan. @param whole whether texels stand for things and are never mixed */
export function layPatches(
  source: Image,
  { size, side, patches }: PatchPlan,
  { unit = false, whole = false }: { unit?: boolean; whole?: boolean } = {},
): Image {
  const tile: Image = { ...source, ...size, data: new Float32Array(size.width * size.height * source.channels) };
  for (const patch of patches) layPatch(tile, source, side, patch, whole);
  if (unit) for (let at = 0; at < tile.data.length; at += tile.channels) toUnit(tile.data, at);
  return tile;
}

function requireRoom(source: Image, size: Size, side: number): void {
  const most = Math.min(source.width, source.height, size.width, size.height);
  if (side >= 8 && side <= most) return;
  throw new ZographosError(
    'input/bad-settings',
    side < 8
      ? `Patches of ${side} px are too small to join. Choose larger patches.`
      : `Patches of ${side} px do not fit into ${most} px. Choose smaller patches.`,
  );
}

/** A hair more than whole numbers is no reason for another patch: sizes are rounded, and small previews should agree. */
const patchesAlong = (length: number, step: number): number => Math.max(2, Math.ceil(length / step - 0.05));

/** Texels of a patch on the small copy, and of the copy's shorter side at the most. */
const SMALL_PATCH = 20;
const SMALL_COPY = 128;

/** The shorter side of the small copy: enough for a patch to be told, few enough for many patches to be sought. */
export const smallSide = ({ patch }: Pick<SynthesisOptions, 'patch'>): number =>
  Math.min(SMALL_COPY, 8 * Math.ceil(SMALL_PATCH / patch / 8));

/** The tile at the size of the small copy: told by its shape and its spread alone, and so the same for all sizes. */
function smallTile(size: Size, small: Size, { spread }: SynthesisOptions): Size {
  const longer = Math.round(Math.max(small.width, small.height) * spread);
  return scaled(size, longer / Math.max(size.width, size.height));
}

const shorterOf = ({ width, height }: Size): number => Math.min(width, height);

const scaled = ({ width, height }: Size, scale: number): Size => ({
  width: Math.max(1, Math.round(width * scale)),
  height: Math.max(1, Math.round(height * scale)),
});
