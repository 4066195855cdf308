import { forEachNearest, padIslands } from '../bake/finish/padding.ts';
import { ZographosError } from '../errors.ts';
import { resample } from '../image/filter/resample.ts';
import { TexelState, type Image } from '../image/image.ts';
import { describeKind } from '../image/kindMeaning.ts';
import type { MapKind } from '../image/mapKinds.ts';
import { planeLike } from '../image/planes.ts';
import { DisjointSets } from '../math/disjointSets.ts';
import type { Size } from '../math/size.ts';
import { composeAtlas, fitToPlace } from './composeAtlas.ts';
import { shelved, type Placement } from './placements.ts';

/** A thing that stands alone in an image, with the rectangle about it: x and y from the upper left. */
export interface CutOut extends Size {
  x: number;
  y: number;
}

export interface FoundCutOuts {
  cutOuts: CutOut[];
  /** Which of them each texel of the image is of, from 1 on; 0 for none. */
  labels: Uint32Array;
}

/**
 * Finds what stands alone in an image by its opacity: regions that touch at sides or corners (connected components by
 * union-find, Rosenfeld and Pfaltz, "Sequential Operations in Digital Picture Processing", 1966).
 * @param opacity one channel, 0 to 1
 * @param threshold opacity above which a texel counts
 * @param least texels of the smallest that is kept: dust is left out
 * @returns from the top down, those as high from the left
 * @throws input/bad-settings where nothing is found
 * @example findCutOuts(leaves, 0.1, 64).cutOuts.length
 */
export function findCutOuts({ width, height, data }: Image, threshold: number, least: number): FoundCutOuts {
  const texels = width * height;
  const regions = DisjointSets.of(texels);
  for (let i = 0; i < texels; i++) {
    if (!(data[i]! > threshold)) continue;
    const [x, y] = [i % width, Math.floor(i / width)];
    const join = (other: number): void => {
      if (data[other]! > threshold) regions.join(i, other);
    };
    if (x > 0) join(i - 1);
    if (y === 0) continue;
    join(i - width);
    if (x > 0) join(i - width - 1);
    if (x < width - 1) join(i - width + 1);
  }
  const boxes = new Map<number, { left: number; top: number; right: number; bottom: number; texels: number }>();
  for (let i = 0; i < texels; i++) {
    if (!(data[i]! > threshold)) continue;
    const [x, y] = [i % width, Math.floor(i / width)];
    const region = regions.find(i);
    const box = boxes.get(region) ?? { left: x, top: y, right: x, bottom: y, texels: 0 };
    box.left = Math.min(box.left, x);
    box.right = Math.max(box.right, x);
    box.bottom = y;
    box.texels++;
    boxes.set(region, box);
  }
  const kept = [...boxes].filter(([, box]) => box.texels >= least);
  if (kept.length === 0 || kept[0]![1].texels === texels) {
    throw new ZographosError(
      'input/bad-settings',
      'Nothing stands alone in the image: it is opaque or transparent everywhere. Choose another mask, or another threshold.',
    );
  }
  kept.sort(([, a], [, b]) => a.top - b.top || a.left - b.left);
  const numbers = new Map(kept.map(([region], i) => [region, i + 1]));
  const labels = new Uint32Array(texels);
  for (let i = 0; i < labels.length; i++) if (data[i]! > threshold) labels[i] = numbers.get(regions.find(i)) ?? 0;
  const cutOuts = kept.map(([, { left, top, right, bottom }]) => ({
    ...{ x: left, y: top },
    ...{ width: right - left + 1, height: bottom - top + 1 },
  }));
  return { cutOuts, labels };
}

/** Texels about each rectangle that come along: the soft edge of its opacity. */
const MARGIN = 2;

/**
 * Places for cut-outs in an atlas, all reduced alike where they would not fit.
 * @param gutter texels around each
 * @returns places from the lower left, and by how much cut-outs are reduced: 1 for not at all
 * @throws limit/packing where not even texels of their own fit
 */
export function placeCutOuts(
  cutOuts: readonly Size[],
  atlas: Size,
  gutter: number,
): { places: Placement[]; scale: number } {
  const at = (scale: number): Placement[] | null =>
    shelved(
      cutOuts.map(({ width, height }) => ({
        width: Math.max(1, Math.round((width + 2 * MARGIN) * scale)),
        height: Math.max(1, Math.round((height + 2 * MARGIN) * scale)),
      })),
      atlas,
      gutter,
    );
  const whole = at(1);
  if (whole) return { places: whole, scale: 1 };
  let [low, high] = [0, 1];
  for (let step = 0; step < 16; step++) {
    const middle = (low + high) / 2;
    if (at(middle)) low = middle;
    else high = middle;
  }
  const places = low > 0 ? at(low) : null;
  if (places) return { places, scale: low };
  throw new ZographosError(
    'limit/packing',
    `${cutOuts.length} cut-outs with ${gutter} px around each do not fit into ${atlas.width} × ${atlas.height} px. Choose a larger atlas, a smaller gutter, or leave out smaller ones.`,
  );
}

/**
 * The maps of cut-outs in their atlas. Colours and other values go on beyond the edge of each, so that no background
 * bleeds into it; opacity is that of the mask.
 * @param maps of one size with the mask; changed, as what lies between cut-outs is filled
 * @param opacity the mask that they were found in
 * @returns the maps in their order, and the opacity
 */
export function cutOutAtlas(
  maps: readonly { kind: MapKind; image: Image }[],
  opacity: Image,
  { cutOuts, labels }: FoundCutOuts,
  places: readonly Placement[],
  size: Size,
  gutter: number,
): { maps: Image[]; opacity: Image } {
  const { width, height } = opacity;
  const states = Uint8Array.from(labels, (label) => (label > 0 ? TexelState.covered : TexelState.background));
  // Which cut-out each texel is nearest to: soft edges lie beyond the threshold.
  const owners = planeLike(opacity, Float32Array.from(labels));
  forEachNearest(width, height, states, (at, nearest) => {
    owners.data[at] = labels[nearest]!;
  });
  padIslands(
    maps.filter(({ kind }) => describeKind(kind).isPadded).map(({ image }) => image),
    states,
    Infinity,
  );
  const pieces = (kind: MapKind, image: Image): Image[] =>
    cutOuts.map((cutOut, i) => fitToPlace(kind, cropped(image, cutOut), places[i]!));
  const shown = planeLike(size);
  cutOuts.forEach((cutOut, i) => {
    const own = cropped(opacity, cutOut);
    cropped(owners, cutOut).data.forEach((owner, at) => {
      if (owner !== i + 1) own.data[at] = 0;
    });
    const piece = resample(own, places[i]!, 'linear');
    const { x, y } = places[i]!;
    const top = size.height - y - piece.height;
    for (let row = 0; row < piece.height; row++) {
      shown.data.set(piece.data.subarray(row * piece.width, (row + 1) * piece.width), (top + row) * size.width + x);
    }
  });
  return {
    maps: maps.map(({ kind, image }) => composeAtlas(kind, pieces(kind, image), places, size, gutter)),
    opacity: shown,
  };
}

/** The rectangle of a cut-out with its margin; beyond the image its border goes on. */
function cropped(image: Image, { x, y, width, height }: CutOut): Image {
  const { channels, data } = image;
  const [wide, tall] = [width + 2 * MARGIN, height + 2 * MARGIN];
  const crop = new Float32Array(wide * tall * channels);
  for (let row = 0; row < tall; row++) {
    const from = Math.max(0, Math.min(image.height - 1, y - MARGIN + row)) * image.width;
    for (let column = 0; column < wide; column++) {
      const at = (from + Math.max(0, Math.min(image.width - 1, x - MARGIN + column))) * channels;
      for (let c = 0; c < channels; c++) crop[(row * wide + column) * channels + c] = data[at + c]!;
    }
  }
  return { ...image, width: wide, height: tall, data: crop };
}
