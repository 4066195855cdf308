import type { Size } from '../math/size.ts';
import { ZographosError } from '../errors.ts';
import { channelFor, OPAQUE, TexelState, type Image, type MapKind } from '../image/image.ts';
import { isDirection, standsForThings, toUnit } from '../image/kindMeaning.ts';
import { resample } from '../image/filter/resample.ts';
import { triangleCount, type Mesh } from '../mesh/mesh.ts';
import { isWithinTile, layoutOf } from '../uv/layout.ts';
import type { Placement } from './placements.ts';

/** Kinds of maps that are grey where nothing is the matter. */
const HALVED: readonly MapKind[] = ['roughness', 'height', 'curvature', 'edges', 'specular'];

/** What stands in a sheet where no set lies, and for a map that a set lacks; values as they are stored, 0 to 1. */
export function neutralTexel(kind: MapKind): readonly [number, number, number, number] {
  if (isDirection(kind)) return [0.5, 0.5, 1, 1];
  if (kind === 'ao' || kind === 'opacity' || kind === 'cavity') return [1, 1, 1, 1];
  if (HALVED.includes(kind)) return [0.5, 0.5, 0.5, 1];
  return [0, 0, 0, 1];
}

/**
 * One map of several sets in one sheet, texel for texel. Borders of sets are drawn out into the gutter, so that smaller
 * copies of the sheet do not bleed.
 * @param images one for each placement, of just its size; null where a set lacks the map
 */
export function composeSheet(
  kind: MapKind,
  images: readonly (Image | null)[],
  places: readonly Placement[],
  { width, height }: Size,
  gutter: number,
): Image {
  const channels = Math.max(1, ...images.map((image) => image?.channels ?? 1));
  const neutral = neutralTexel(kind);
  const data = new Float32Array(width * height * channels);
  for (let i = 0; i < data.length; i++) data[i] = neutral[channels === 2 && i % 2 === 1 ? 3 : i % channels]!;
  places.forEach((place, i) => {
    const image = images[i];
    if (!image) return;
    if (image.width !== place.width || image.height !== place.height) {
      throw new ZographosError(
        'input/bad-settings',
        `The ${kind} map is ${image.width} × ${image.height} px, its place in the sheet ${place.width} × ${place.height}. Give all maps of a set one size, or let them be resampled.`,
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
  return { width, height, channels, data };
}

/**
 * A map at the size of its place: colours that stand for things are taken as they are, directions stay of unit length,
 * and everything else is mixed.
 */
export function fitToPlace(kind: MapKind, image: Image, { width, height }: Size): Image {
  const fitted = resample(image, { width, height }, standsForThings(kind) ? 'nearest' : 'mitchell');
  if (fitted === image || !isDirection(kind)) return fitted;
  for (let i = 0; i < fitted.data.length; i += fitted.channels) toUnit(fitted.data, i);
  return fitted;
}

/**
 * What became of each texel of the sheet.
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
 * The same mesh with one UV set moved to where its image set lies in the sheet; exact for sizes of powers of two.
 * @throws input/no-uvs; input/outside-tile when UVs leave 0 to 1, where the neighbours will lie
 */
export function moveToPlace(mesh: Mesh, uvSet: number, place: Placement, { width, height }: Size): Mesh {
  const layout = layoutOf(mesh, uvSet);
  let outside = 0;
  for (let t = 0; t < triangleCount(mesh); t++) if (!isWithinTile(layout, t)) outside++;
  if (outside > 0) {
    throw new ZographosError(
      'input/outside-tile',
      `${outside} triangles of “${mesh.name}” have UVs outside 0 to 1, where its neighbours will lie in the sheet. Carry its maps over to a layout within 0 to 1 first.`,
    );
  }
  const coords = layout.uvs.map((value, i) =>
    i % 2 === 0 ? (place.x + value * place.width) / width : (place.y + value * place.height) / height,
  );
  return { ...mesh, uvSets: mesh.uvSets.map((set, i) => (i === uvSet ? { ...set, coords } : set)) };
}
