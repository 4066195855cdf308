import { adjust, type Adjustment } from '../adjust/adjust.ts';
import { quickLinearToSrgb, quickSrgbToLinear } from '../color/srgb.ts';
import { ZographosError } from '../errors.ts';
import { resample, type Border } from '../image/filter/resample.ts';
import { directionsOf, GLTF_NORMAL, inNormalSpace, type NormalSpace } from '../image/convention.ts';
import type { Image } from '../image/image.ts';
import { describeKind } from '../image/kindMeaning.ts';
import type { MapKind } from '../image/mapKinds.ts';
import { pickChannel, type ChannelPick } from '../image/packing.ts';
import { tone } from '../image/planes.ts';
import { layDetail, layNormals, layValues } from '../layers/compose/blending.ts';
import type { LayerBlend, NormalBlend } from '../layers/stack.ts';
import { TEXELS } from '../layers/surface/texelBlock.ts';
import type { Size } from '../math/size.ts';
import { heightShares } from './heightBlend.ts';
import { matchTones, type MatchWay } from './matchTones.ts';

/** An image of a list, all of it or one channel, and what is done to it. */
export interface CombineSource {
  /** Its number in the list. */
  image: number;
  pick: ChannelPick | null;
  adjust: readonly Adjustment[];
}

/** Where a layer is seen: by a mask, or where it is higher than what lies below. */
export type CombineMask =
  | ({ by: 'image' } & CombineSource)
  | { by: 'height'; own: CombineSource; below: CombineSource; raise: number; softness: number };

/** One image over those before it. */
export interface CombineLayer extends CombineSource {
  /** Another image, whose tones it takes before it is adjusted. */
  match: { image: number; way: MatchWay; amount: number } | null;
  blend: LayerBlend;
  /** Of directions, in place of the mode. */
  normalBlend: NormalBlend;
  opacity: number;
  mask: CombineMask | null;
}

export interface CombineOptions {
  kind: MapKind;
  layers: readonly CombineLayer[];
  size: Size;
  border: Border;
}

/**
 * A map of several images, each over the ones before it. Colours are mixed as they are on screen, through the sRGB curve;
 * colours that become a value do so by their tone, and values with a range, such as baked heights, over that range.
 * Directions are all read in the space of the lowest layer. That layer lies on nothing, so that it is seen whole.
 * @param images as light where their colour space is sRGB, of any sizes
 * @returns one or three channels, as the kind has
 * @throws input/bad-settings for an image that is missing; input/other-convention for directions in tangent and in object
 * space
 * @example combineImages([orm], { kind: 'roughness', layers: [{ ...layer, pick: { channel: 1 } }], size, border })
 */
export function combineImages(images: readonly Image[], { kind, layers, size, border }: CombineOptions): Image {
  const { channels, values } = describeKind(kind);
  const [lowest, ...others] = layers;
  const base = images[lowest!.image];
  const space = values === 'direction' && base ? (directionsOf(base) ?? GLTF_NORMAL) : null;
  const read = new SourceReader(images, size, border, space);
  const data = read.valuesOf(lowest!, channels, values === 'color', lowest!.match);
  if (values === 'direction') toVectors(data);
  for (const layer of others) {
    const above = read.valuesOf(layer, channels, values === 'color', layer.match);
    const shares = layer.mask ? sharesOf(layer.mask, read) : new Float32Array(size.width * size.height).fill(1);
    for (let i = 0; i < shares.length; i++) shares[i]! *= layer.opacity;
    if (values === 'direction') toVectors(above);
    lay(layer, values === 'direction', { below: data, above, shares, channels });
  }
  if (values === 'direction') for (let i = 0; i < data.length; i++) data[i] = data[i]! / 2 + 0.5;
  if (values === 'color') for (let i = 0; i < data.length; i++) data[i] = quickSrgbToLinear(clamped(data[i]!));
  return {
    ...{ ...size, channels, data },
    ...(values === 'color' ? { colorSpace: 'srgb' } : {}),
    ...(space ? { convention: { of: 'direction', ...space } } : {}),
  };
}

function sharesOf(mask: CombineMask, read: SourceReader): Float32Array {
  if (mask.by === 'image') return read.valuesOf(mask, 1, false).map(clamped);
  const [own, below] = [mask.own, mask.below].map((source) => read.valuesOf(source, 1, false)) as [
    Float32Array,
    Float32Array,
  ];
  return heightShares(below, own, mask.raise, mask.softness);
}

class SourceReader {
  private readonly images: readonly Image[];
  private readonly size: Size;
  private readonly border: Border;
  /** In which directions are read, where the map is one of directions. */
  private readonly space: NormalSpace | null;

  constructor(images: readonly Image[], size: Size, border: Border, space: NormalSpace | null) {
    this.images = images;
    this.size = size;
    this.border = border;
    this.space = space;
  }

  /** Values as they are on screen, 0 to 1, which the caller may change. @param isColor of what they become */
  valuesOf(
    { image: number, pick, adjust: steps }: CombineSource,
    channels: 1 | 3,
    isColor: boolean,
    match: CombineLayer['match'] = null,
  ): Float32Array {
    let image = this.imageOf(number, pick);
    if (match) image = matchTones(image, this.imageOf(match.image, pick), match.way, match.amount);
    image = resample(image, this.size, 'linear', this.border);
    image = channels === 1 ? tone(image) : threeChannels(image, isColor);
    if (this.space && channels === 3) image = inNormalSpace(image, this.space, 'Normal');
    const { data, colorSpace } = adjust(image, steps, this.border);
    return colorSpace === 'srgb' ? data.map((value) => quickLinearToSrgb(Math.max(0, value))) : data.slice();
  }

  /** One channel of colours is a value as it is on screen. */
  private imageOf(number: number, pick: ChannelPick | null): Image {
    const given = this.images[number];
    if (!given) {
      throw new ZographosError('input/bad-settings', 'An image of this ticket is missing. Choose one for each layer.');
    }
    const image = overItsRange(given);
    if (!pick || pick.channel === 'rgb' || image.colorSpace !== 'srgb') return pickChannel(image, pick);
    const { invert, ...one } = pick;
    const { width, height, data } = pickChannel(image, one);
    const isAlpha = pick.channel === 3;
    const shown = isAlpha ? data : data.map((value) => quickLinearToSrgb(Math.max(0, value)));
    return { width, height, channels: 1, data: invert ? shown.map((value) => 1 - value) : shown };
  }
}

/** Values as shares of the range that black and white stand for. */
function overItsRange({ range, ...image }: Image): Image {
  if (!range) return image;
  const [low, high] = range;
  const span = high - low || 1;
  return { ...image, data: image.data.map((value) => (value - low) / span) };
}

/** Three channels without alpha; grey is the same in all, as light where it becomes a colour. */
function threeChannels(image: Image, isColor: boolean): Image {
  const { width, height, channels, data, colorSpace, convention } = image;
  const texels = width * height;
  const asLight = isColor && colorSpace !== 'srgb';
  const colors = new Float32Array(texels * 3);
  for (let i = 0; i < texels; i++) {
    for (let c = 0; c < 3; c++) {
      const value = data[i * channels + (channels < 3 ? 0 : c)]!;
      colors[i * 3 + c] = asLight ? quickSrgbToLinear(clamped(value)) : value;
    }
  }
  return {
    ...{ width, height, channels: 3, data: colors },
    ...(asLight || colorSpace === 'srgb' ? { colorSpace: 'srgb' } : {}),
    ...(convention ? { convention } : {}),
  };
}

const clamped = (value: number): number => Math.max(0, Math.min(1, value));

/** Stored directions, d / 2 + 1 / 2, as vectors of length one; what has none points straight up. */
function toVectors(data: Float32Array): void {
  for (let at = 0; at < data.length; at += 3) {
    const [x, y, z] = [data[at]! * 2 - 1, data[at + 1]! * 2 - 1, data[at + 2]! * 2 - 1];
    const length = Math.hypot(x, y, z);
    if (length < 1e-6) data.set([0, 0, 1], at);
    else data.set([x / length, y / length, z / length], at);
  }
}

/** Lays one image on those below it, a block of texels after the other. @param below is changed */
function lay(
  { blend, normalBlend }: CombineLayer,
  isDirection: boolean,
  { below, above, shares, channels }: Record<'below' | 'above' | 'shares', Float32Array> & { channels: 1 | 3 },
): void {
  const [under, over] = [new Float32Array(TEXELS * channels), new Float32Array(TEXELS * channels)];
  for (let from = 0; from < shares.length; from += TEXELS) {
    const count = Math.min(TEXELS, shares.length - from);
    for (let i = 0; i < count; i++) {
      for (let c = 0; c < channels; c++) {
        under[c * TEXELS + i] = below[(from + i) * channels + c]!;
        over[c * TEXELS + i] = above[(from + i) * channels + c]!;
      }
    }
    const mask = shares.subarray(from, from + count);
    if (isDirection) (normalBlend === 'detail' ? layDetail : layNormals)(under, over, mask, count);
    else layValues(blend, channels, under, over, mask, count);
    for (let i = 0; i < count; i++) {
      for (let c = 0; c < channels; c++) below[(from + i) * channels + c] = under[c * TEXELS + i]!;
    }
  }
}
