import {
  describeKind,
  GLTF_NORMAL,
  isDirection,
  type ColorSpace,
  type ImagePacking,
  type MapConvention,
  type NormalSpace,
  type MapKind,
} from '@zographos/core/image';
import type { Size } from '@zographos/core/math';
import { FIRST_TILE } from '@zographos/core/uv';
import { partsOfName } from '@zographos/formats/image-names';
import { bakeSettings, DEFAULT_BAKE, type BakeOperationSettings } from '../bake/settings.ts';
import type { PictureMeaning } from '../flat/adjustments.ts';
import { meaningsOfPacking } from '../flat/meaningsOfPacking.ts';
import { seamlessSettings, type SeamlessSettings } from '../seamless/settings.ts';
import { USUAL_ENDINGS, withoutEnding } from './matching.ts';

/** What is known of an imported image. */
export interface ImageFacts extends Size {
  id: string;
  /** With its folder, without its ending. */
  name: string;
  kind: MapKind;
  colorSpace: ColorSpace;
  convention: MapConvention | null;
  packing: ImagePacking | null;
  /** Of its file: two or four have an alpha. */
  channels: number;
}

/** What is known of a mesh that may carry a set. */
export interface CarrierFacts {
  id: string;
  name: string;
  triangles: number;
  uvSets: number;
}

/** A map of a set, and the image that holds it. */
export interface MapOfImage extends Size {
  image: string;
  tile: number;
  meaning: PictureMeaning;
}

/** Imported images that belong together. */
export interface ProposedSet {
  name: string;
  /** The mesh that carries it; null for one of its own. */
  meshId: string | null;
  maps: MapOfImage[];
  /** Images whose map another of the set holds already. */
  leftOut: string[];
}

/**
 * The image sets that imported images are, by their names: images that are called the same but for what kind of map they
 * are belong together, and to the mesh of that name. Images whose names say no kind of map belong to none.
 * @example proposeSets([bell_normal, bell_ORM, bell_normal_2], [bell_low]).map(({ name }) => name) // ['bell']
 */
export function proposeSets(images: readonly ImageFacts[], meshes: readonly CarrierFacts[]): ProposedSet[] {
  const carriers = meshes.filter(({ uvSets }) => uvSets > 0);
  const sets = new Map<string, ProposedSet>();
  for (const image of images) {
    const { stem, tile, hasKind } = partsOfName(image.name, image.packing !== null);
    if (!hasKind) continue;
    const name = nameOfSet(stem);
    const key = stem.toLowerCase();
    const set = sets.get(key) ?? { name, meshId: meshOfName(name, carriers), maps: [], leftOut: [] };
    sets.set(key, set);
    const own = mapsOfImage(image, tile ?? FIRST_TILE);
    const isTaken = own.every((map) => set.maps.some((known) => isSamePlace(known, map)));
    if (isTaken) set.leftOut.push(image.id);
    else set.maps.push(...own.filter((map) => !set.maps.some((known) => isSamePlace(known, map))));
  }
  const all = [...sets.values()];
  const [only] = all;
  // One set and one mesh that can carry it belong together, whatever they are called.
  if (all.length === 1 && carriers.length === 1 && only) only.meshId = carriers[0]!.id;
  return all;
}

const isSamePlace = (a: MapOfImage, b: MapOfImage): boolean => a.meaning.kind === b.meaning.kind && a.tile === b.tile;

/** Of a folder its last part; of what has no name at all, a plain one. */
const nameOfSet = (stem: string): string => stem.replace(/\/$/, '').split('/').at(-1)! || 'Images';

/** The maps that an image holds: one, or those that share its channels; of colours with an alpha, the opacity as well. */
function mapsOfImage(
  { id: image, kind, colorSpace, convention, packing, channels, width, height }: ImageFacts,
  tile: number,
): MapOfImage[] {
  const map = (meaning: PictureMeaning): MapOfImage => ({ image, tile, meaning, width, height });
  const meaning = { kind, colorSpace, ...(convention ? { convention } : {}) };
  if (packing) return meaningsOfPacking(packing, { colorSpace, convention }).map(map);
  const isWide = describeKind(kind).channels === 3;
  if (!isWide) return [map(channels > 1 ? { ...meaning, pick: { channel: 0 } } : meaning)];
  if (channels !== 4) return [map(meaning)];
  return [
    map({ ...meaning, pick: { channel: 'rgb' } }),
    ...(kind === 'basecolor' ? [map({ kind: 'opacity', colorSpace: 'linear', pick: { channel: 3 } })] : []),
  ];
}

/** The mesh that is called as a set is, but for an ending; of several the one with fewest triangles. */
function meshOfName(name: string, meshes: readonly CarrierFacts[]): string | null {
  const plain = (text: string): string => text.toLowerCase().replace(/[^a-z0-9]/g, '');
  const own = plain(withoutEnding(name, USUAL_ENDINGS.receiverEndings) ?? name);
  const alike = meshes.filter((mesh) => {
    const bare = withoutEnding(mesh.name, USUAL_ENDINGS.receiverEndings) ?? mesh.name;
    return plain(bare) === own || plain(mesh.name) === plain(name);
  });
  return [...alike].sort((a, b) => a.triangles - b.triangles)[0]?.id ?? null;
}

/** A ticket that makes some maps of a set of the images that they are. */
export type TicketOfImages = { name: string; pictures: string[] } & (
  { operation: 'bake'; settings: BakeOperationSettings } | { operation: 'seamless'; settings: SeamlessSettings }
);

/**
 * The tickets that make an image set of its images, texel for texel: one for all maps of one size and tile. On a mesh each
 * is a bake of the mesh from itself, so that coverage, seams and layout are known; without one, a tile that is left as it is.
 * @param uvSet of the mesh that the images lie on
 */
export function ticketsOfSet({ name, meshId, maps }: ProposedSet, uvSet = 0): TicketOfImages[] {
  const groups = new Map<string, MapOfImage[]>();
  for (const map of maps) {
    const key = `${map.tile} ${map.width} ${map.height}`;
    groups.set(key, [...(groups.get(key) ?? []), map]);
  }
  return [...groups.values()].map((group) => {
    const [{ tile, width, height }] = group as [MapOfImage];
    const pictures = [...new Set(group.map(({ image }) => image))];
    const size = { width, height };
    const title = `${name}, imported${groups.size > 1 ? ` ${width} × ${height}` : ''}`;
    if (meshId === null) {
      const asItIs = { method: 'none' as const };
      const settings = seamlessSettings.parse({
        pictures: group.map(({ meaning }) => meaning),
        ends: { across: asItIs, up: asItIs },
        size,
      });
      return { name: title, operation: 'seamless', settings, pictures: group.map(({ image }) => image) };
    }
    const layers = group.map(({ image, meaning: { kind, pick } }) => [
      kind,
      [{ picture: pictures.indexOf(image), uvSet, ...(pick ? { pick } : {}) }],
    ]);
    const directions = group.find(({ meaning }) => isDirection(meaning.kind))?.meaning.convention;
    const settings = bakeSettings.parse({
      ...DEFAULT_BAKE,
      maps: group.map(({ meaning }) => meaning.kind),
      ...{ size, uvSet, tiles: [tile], aim: 'shared', samples: 1, padding: 'all' },
      pictures: Object.fromEntries(layers) as unknown,
      // As they came, so that no number changes.
      normal: directions?.of === 'direction' ? spaceOf(directions) : GLTF_NORMAL,
    });
    return { name: title, operation: 'bake', settings, pictures };
  });
}

const spaceOf = ({ space, y, axes }: NormalSpace): NormalSpace => ({ space, y, axes });
