import { GLTF_NORMAL, type NormalSpace } from './convention.ts';
import { MAP_KINDS, type BakedKind, type MapKind, type MapKindDescriptor } from './mapKinds.ts';

/** What there is to know of a kind of map. */
export const describeKind = (kind: MapKind): MapKindDescriptor => MAP_KINDS[kind];

/** The ids of all kinds of maps, in their usual order. */
export const MAP_KIND_IDS = Object.keys(MAP_KINDS) as [MapKind, ...MapKind[]];

/** The ids of those that a bake can make. */
export const BAKED_KINDS = MAP_KIND_IDS.filter(
  (kind): kind is BakedKind => describeKind(kind).isBaked,
) as unknown as readonly [BakedKind, ...BakedKind[]];

/** Whether an id is that of a kind of map. */
export const isMapKind = (id: string): id is MapKind => Object.hasOwn(MAP_KINDS, id);

/** Kinds as a list within a sentence: “normal, ambient occlusion”. */
export const phraseOfKinds = (kinds: readonly MapKind[]): string =>
  kinds.map((kind) => describeKind(kind).phrase).join(', ');

/** Kinds in their usual order, whatever order they come in. */
export const inUsualOrder = (kinds: Iterable<MapKind>): MapKind[] => {
  const set = new Set(kinds);
  return MAP_KIND_IDS.filter((kind) => set.has(kind));
};

/** Whether it is light, which is shown through an exposure. */
export const isLight = (kind: MapKind): boolean => describeKind(kind).isLight === true;

/** Whether texels are unit vectors, and stay of unit length when they are mixed. */
export const isDirection = (kind: MapKind): boolean => describeKind(kind).values === 'direction';

/** Whether directions are written in the space that is asked for; others keep object space. */
export const followsNormalSpace = (kind: MapKind): boolean => isDirection(kind) && !describeKind(kind).isInObjectSpace;

/** The space that directions of a kind are written in where another is asked for. */
export const normalSpaceOf = (kind: MapKind, asked: NormalSpace): NormalSpace =>
  describeKind(kind).isInObjectSpace ? { ...GLTF_NORMAL, space: 'object' } : asked;

/** Whether texels stand for things, so that they are never mixed: resampling takes the nearest. */
export const isCategory = (kind: MapKind): boolean => describeKind(kind).values === 'category';

/** Whether texels are colours, which are stored through the sRGB curve in whole-number files. */
export const isColor = (kind: MapKind): boolean =>
  describeKind(kind).values === 'color' || (isCategory(kind) && describeKind(kind).channels === 3);

/**
 * What stands in the texels of a map that nothing is known of, in its own values.
 * @param range of the map, where its values are lengths or lie about zero
 * @returns one value for each of red, green, blue and alpha
 */
export function neutralTexel(
  kind: MapKind,
  range?: readonly [number, number],
): readonly [number, number, number, number] {
  const { neutral, values } = describeKind(kind);
  if (range && (values === 'length' || values === 'signed')) return [0, 0, 0, 1];
  return typeof neutral === 'number' ? [neutral, neutral, neutral, 1] : [...neutral, 1];
}

/**
 * Makes a direction of unit length again, in place.
 * @param data stored values, 0.5 for none along an axis @param at of its first channel
 */
export function toUnit(data: Float32Array, at: number): void {
  const x = data[at]! * 2 - 1;
  const y = data[at + 1]! * 2 - 1;
  const z = data[at + 2]! * 2 - 1;
  const half = 0.5 / (Math.sqrt(x * x + y * y + z * z) || 1);
  data[at] = x * half + 0.5;
  data[at + 1] = y * half + 0.5;
  data[at + 2] = z * half + 0.5;
}
