import type { Size } from '../math/size.ts';
import { ZographosError } from '../errors.ts';
import { channelFor, OPAQUE, TexelState, type Image } from '../image/image.ts';
import type { MapKind } from '../image/mapKinds.ts';
import { describeKind, isDirection, isCategory, toUnit } from '../image/kindMeaning.ts';
import { alike, neutralOf } from './alike.ts';
import { resample } from '../image/filter/resample.ts';
import { triangleCount, type Mesh } from '../mesh/mesh.ts';
import { isWithinTile, layoutOf } from '../uv/layout.ts';
import type { Placement } from './placements.ts';

/**
 * One map of several sets in one atlas, texel for texel. Edge texels are repeated into the gutter, so that mip levels do
 * not bleed. Maps that are written in different ways are first written in one.
 * @param given one for each placement, of just its size; null where a set lacks the map
 * @returns the atlas, with the range, colour space and convention that all of it has
 * @throws input/bad-settings for a map of another size than its place; input/other-convention for maps that cannot be
 * written in one way
 */
export function composeAtlas(
  kind: MapKind,
  given: readonly (Image | null)[],
  places: readonly Placement[],
  { width, height }: Size,
  gutter: number,
): Image {
  const { images, meaning } = alike(kind, given);
  const channels = Math.max(1, ...images.map((image) => image?.channels ?? 1));
  const neutral = neutralOf(kind, meaning);
  const data = new Float32Array(width * height * channels);
  for (let i = 0; i < data.length; i++) data[i] = neutral[channels === 2 && i % 2 === 1 ? 3 : i % channels]!;
  places.forEach((place, i) => {
    const image = images[i];
    if (!image) return;
    if (image.width !== place.width || image.height !== place.height) {
      throw new ZographosError(
        'input/bad-settings',
        `The ${describeKind(kind).phrase} map is ${image.width} × ${image.height} px, its place in the atlas ${place.width} × ${place.height}. Give all maps of a set one size, or let them be resampled.`,
      );
    }
    const top = height - place.y - place.height;
    for (let y = Math.max(0, top - gutter); y < Math.min(height, top + place.height + gutter); y++) {
      const row = Math.max(0, Math.min(place.height - 1, y - top)) * image.width;
      for (let x = Math.max(0, place.x - gutter); x < Math.min(width, place.x + place.width + gutter); x++) {
        const from = (row + Math.max(0, Math.min(place.width - 1, x - place.x))) * image.channels;
        for (let c = 0; c < channels; c++) {
          data[(y * width + x) * channels + c] = channelOf(image, from, c, channels);
        }
      }
    }
  });
  return { width, height, channels, data, ...meaning };
}

/** A map so many times beside itself. */
export function repeatedAcross(image: Image, times: number): Image {
  if (times === 1) return image;
  const { width, height, channels } = image;
  const data = new Float32Array(width * times * height * channels);
  for (let y = 0; y < height; y++) {
    const row = image.data.subarray(y * width * channels, (y + 1) * width * channels);
    for (let i = 0; i < times; i++) data.set(row, (y * times + i) * width * channels);
  }
  return { ...image, width: width * times, data };
}

/**
 * A map at the size of its place: colours that stand for things are taken as they are, directions stay of unit length,
 * and everything else is mixed.
 */
export function fitToPlace(kind: MapKind, image: Image, { width, height }: Size): Image {
  const fitted = resample(image, { width, height }, isCategory(kind) ? 'nearest' : 'mitchell');
  if (fitted === image || !isDirection(kind)) return fitted;
  for (let i = 0; i < fitted.data.length; i += fitted.channels) toUnit(fitted.data, i);
  return fitted;
}

/**
 * What became of each texel of the atlas.
 * @param states those of each set's map; null where a set lacks it
 */
export function composeStates(
  states: readonly (Uint8Array | null)[],
  places: readonly Placement[],
  { width, height }: Size,
  gutter: number,
): Uint8Array {
  const composed = new Uint8Array(width * height);
  places.forEach((place, i) => {
    const own = states[i];
    const top = height - place.y - place.height;
    for (let y = Math.max(0, top - gutter); y < Math.min(height, top + place.height + gutter); y++) {
      for (let x = Math.max(0, place.x - gutter); x < Math.min(width, place.x + place.width + gutter); x++) {
        const inside = y >= top && y < top + place.height && x >= place.x && x < place.x + place.width;
        if (!inside) composed[y * width + x] = TexelState.padding;
        else if (own) composed[y * width + x] = own[(y - top) * place.width + x - place.x]!;
      }
    }
  });
  return composed;
}

/** A channel as it is among more. */
function channelOf({ data, channels }: Image, from: number, c: number, among: number): number {
  const at = channelFor(channels, among === 2 && c === 1 ? 3 : c);
  return at === OPAQUE ? 1 : data[from + at]!;
}

/**
 * The same mesh with one UV set moved to where its image set lies in the atlas; exact for sizes of powers of two.
 * @throws input/no-uvs; input/outside-tile when UVs leave 0 to 1, where the neighbours will lie
 */
export function moveToPlace(mesh: Mesh, uvSet: number, place: Placement, { width, height }: Size): Mesh {
  const layout = layoutOf(mesh, uvSet);
  let outside = 0;
  for (let t = 0; t < triangleCount(mesh); t++) if (!isWithinTile(layout, t)) outside++;
  if (outside > 0) {
    throw new ZographosError(
      'input/outside-tile',
      `${outside} triangles of “${mesh.name}” have UVs outside 0 to 1, where its neighbours will lie in the atlas. Transfer its maps to a layout within 0 to 1 first.`,
    );
  }
  const coords = layout.uvs.map((value, i) =>
    i % 2 === 0 ? (place.x + value * place.width) / width : (place.y + value * place.height) / height,
  );
  return { ...mesh, uvSets: mesh.uvSets.map((set, i) => (i === uvSet ? { ...set, coords } : set)) };
}
