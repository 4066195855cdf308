import type { Size } from '../bake/blocks.ts';
import { ZographosError } from '../errors.ts';
import type { Image, MapKind } from '../image/image.ts';
import { layoutOf } from '../uv/layout.ts';
import type { Mesh } from '../mesh/mesh.ts';
import type { Placement } from './placements.ts';

/** What stands in a sheet where no set lies, and for a map that a set lacks; values as they are stored, 0 to 1. */
export function neutralTexel(kind: MapKind): readonly [number, number, number, number] {
  if (kind === 'normal' || kind === 'bent' || kind === 'facing') return [0.5, 0.5, 1, 1];
  if (kind === 'ao' || kind === 'opacity') return [1, 1, 1, 1];
  if (kind === 'roughness' || kind === 'height' || kind === 'curvature') return [0.5, 0.5, 0.5, 1];
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

/** A channel as it is among more: grey stands for all three colours, what has no alpha is opaque. */
function channelOf({ data, channels }: Image, from: number, c: number, among: number): number {
  const isAlpha = (among === 2 && c === 1) || (among === 4 && c === 3);
  if (isAlpha) return channels === 2 || channels === 4 ? data[from + channels - 1]! : 1;
  return data[from + (channels < 3 ? 0 : c)]!;
}

/** UVs beyond this are outside 0 to 1: exporters round a little. */
const SLACK = 1e-5;

/**
 * The same mesh with one UV set moved to where its image set lies in the sheet; exact for sizes of powers of two.
 * @throws input/no-uvs; input/outside-tile when UVs leave 0 to 1, where the neighbours will lie
 */
export function moveToPlace(mesh: Mesh, uvSet: number, place: Placement, { width, height }: Size): Mesh {
  const { uvs, indices } = layoutOf(mesh, uvSet);
  const outside = new Set<number>();
  indices.forEach((v, i) => {
    const [u, w] = [uvs[v * 2]!, uvs[v * 2 + 1]!];
    if (u < -SLACK || u > 1 + SLACK || w < -SLACK || w > 1 + SLACK) outside.add(Math.floor(i / 3));
  });
  if (outside.size > 0) {
    throw new ZographosError(
      'input/outside-tile',
      `${outside.size} triangles of “${mesh.name}” have UVs outside 0 to 1, where its neighbours will lie in the sheet. Carry its maps over to a layout within 0 to 1 first.`,
    );
  }
  const coords = uvs.map((value, i) =>
    i % 2 === 0 ? (place.x + value * place.width) / width : (place.y + value * place.height) / height,
  );
  return { ...mesh, uvSets: mesh.uvSets.map((set, i) => (i === uvSet ? { ...set, coords } : set)) };
}
