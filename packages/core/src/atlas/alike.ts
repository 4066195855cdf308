import { ZographosError } from '../errors.ts';
import {
  directionsOf,
  GLTF_NORMAL,
  inNormalSpace,
  neutralDirection,
  type HeightConvention,
} from '../image/convention.ts';
import { inHeights } from '../image/heights.ts';
import { meaningOf, type Image, type ImageMeaning, type ValueRange } from '../image/image.ts';
import { describeKind, isDirection, neutralTexel } from '../image/kindMeaning.ts';
import type { MapKind } from '../image/mapKinds.ts';

/**
 * Maps of one kind written in one way: directions as the first of them, heights in one unit, colours through one curve,
 * over a range that holds them all.
 * @param given null where a set lacks the map
 * @throws input/other-convention when that cannot be: directions in tangent and in object space, heights in two units
 */
export function alike(
  kind: MapKind,
  given: readonly (Image | null)[],
): { images: (Image | null)[]; meaning: ImageMeaning } {
  const first = given.find((image) => image !== null);
  if (!first) return { images: [...given], meaning: {} };
  const images = isDirection(kind) ? inOneSpace(kind, given, first) : inOneUnit(kind, given);
  const shown = images.find((image) => image !== null)!;
  return { images, meaning: { ...meaningOf(shown), ...commonRange(images) } };
}

function inOneSpace(kind: MapKind, given: readonly (Image | null)[], first: Image): (Image | null)[] {
  const space = directionsOf(first) ?? GLTF_NORMAL;
  return given.map((image) => image && inNormalSpace(image, space, describeKind(kind).label));
}

function inOneUnit(kind: MapKind, given: readonly (Image | null)[]): (Image | null)[] {
  const conventions = given.flatMap((image) => (image?.convention?.of === 'height' ? [image.convention] : []));
  const [first] = conventions;
  if (!first || conventions.every((each) => isSameHeight(each, first))) return [...given];
  if (conventions.some(({ unit }) => unit !== first.unit)) {
    throw new ZographosError(
      'input/other-convention',
      `The ${describeKind(kind).phrase} maps are in different units (${[...new Set(conventions.map(({ unit }) => unit))].join(', ')}), and cannot be put into one image. Leave one of them out, or make it again in the other’s unit.`,
    );
  }
  return given.map((image) => image && inHeights(image));
}

const isSameHeight = (a: HeightConvention, b: HeightConvention): boolean =>
  a.unit === b.unit && a.mid === b.mid && a.span === b.span;

/** From the smallest black to the largest white; with heights, their middle and span follow it. */
function commonRange(images: readonly (Image | null)[]): ImageMeaning {
  const ranged = images.filter((image): image is Image & { range: ValueRange } => Boolean(image?.range));
  if (ranged.length === 0) return {};
  const low = Math.min(...ranged.map(({ range }) => range[0]));
  const high = Math.max(...ranged.map(({ range }) => range[1]));
  const [{ convention }] = ranged as [Image];
  const span = high - low || 1;
  return {
    range: [low, high],
    ...(convention?.of === 'height' ? { convention: { ...convention, mid: -low / span, span } } : {}),
  };
}

/** What stands where no map lies: as the map means it. */
export function neutralOf(kind: MapKind, meaning: ImageMeaning): readonly [number, number, number, number] {
  const space = directionsOf(meaning);
  if (isDirection(kind)) return [...neutralDirection(space ?? GLTF_NORMAL), 1];
  const { range, convention } = meaning;
  if (!range && convention?.of === 'height') return [convention.mid, convention.mid, convention.mid, 1];
  return neutralTexel(kind, range);
}
