import { inHeights } from '../../image/heights.ts';
import { GLTF_NORMAL, inNormalSpace, type HeightUnit } from '../../image/convention.ts';
import { describeKind } from '../../image/kindMeaning.ts';
import type { Image } from '../../image/image.ts';
import { resample } from '../../image/filter/resample.ts';
import type { MapKind } from '../../image/mapKinds.ts';
import type { Size } from '../../math/size.ts';
import { pictureLevels } from '../../bake/source/sourceMaterials.ts';
import { sharedImage } from '../../image/image.ts';
import { LAYER_CHANNELS, type LayerChannel } from '../channels.ts';
import type { TilingMaterial } from './layerInputs.ts';

/** Millimetres of a real unit. */
const MILLIMETRES = { mm: 1, cm: 10, m: 1000, in: 25.4 } as const;

const unitInMillimetres = (unit: HeightUnit, mesh: number, tile: number): number =>
  unit === 'mesh' ? mesh : unit === 'tile' ? tile : MILLIMETRES[unit];

/**
 * A map of the image set as layers go by it: at the size of the tile, in millimetres, as glTF has directions.
 * @param image values as the map holds them
 * @param millimetres of one unit of the mesh
 * @throws input/other-convention for normals that are not in tangent space
 */
export function preparedMap(kind: MapKind, image: Image, size: Size, millimetres: number): Image {
  const { values } = describeKind(kind);
  const meant = inMillimetres(kind, image, millimetres);
  const ready = values === 'direction' ? withDirections(meant, kind) : meant;
  return sharedImage(resample(ready, size, values === 'category' ? 'nearest' : 'linear'));
}

function inMillimetres(kind: MapKind, image: Image, millimetres: number): Image {
  const { values } = describeKind(kind);
  if (values === 'length') {
    const unit = image.convention?.of === 'height' ? image.convention.unit : 'mesh';
    return scaled(inHeights(image), unitInMillimetres(unit, millimetres, 1));
  }
  // A curvature that was measured has a range in 1 over mesh units; one that came in as a picture is about its middle.
  if (kind === 'curvature') return image.range ? scaled(image, 1 / millimetres) : aboutMiddle(image);
  if (values === 'signed') return aboutMiddle(image);
  return image;
}

const scaled = (image: Image, by: number): Image =>
  by === 1 ? image : { ...image, data: image.data.map((value) => value * by) };

const aboutMiddle = (image: Image): Image => ({ ...image, data: image.data.map((value) => value * 2 - 1) });

/** Directions as unit vectors, Y up. */
function withDirections(image: Image, name: string): Image {
  const { data, ...rest } = inNormalSpace(image, GLTF_NORMAL, name);
  return { ...rest, data: data.map((value) => value * 2 - 1) };
}

/**
 * An image as layers and brushes look it up: in full and halved again and again. One that is said to hold normals has Y up
 * afterwards, however it was written.
 * @throws input/other-convention for normals in object space
 */
export function preparedPicture(image: Image, name: string): Image[] {
  const isNormal = image.convention?.of === 'direction';
  return pictureLevels(isNormal ? inNormalSpace(image, GLTF_NORMAL, name) : image);
}

/**
 * A tiling material as layers lay it down.
 * @param width of one tile in the world, in millimetres
 * @param maps values as the maps hold them; kinds that layers do not write are left out
 */
export function preparedMaterial(name: string, width: number, maps: Partial<Record<MapKind, Image>>): TilingMaterial {
  const prepared: Partial<Record<LayerChannel, readonly Image[]>> = {};
  for (const channel of LAYER_CHANNELS) {
    const image = maps[channel];
    if (!image) continue;
    const ready =
      channel === 'normal' ? withDirections(image, name) : channel === 'height' ? heightOfTile(image, width) : image;
    prepared[channel] = pictureLevels(ready).map(sharedImage);
  }
  return { name, width, maps: prepared };
}

/** Heights of a tile about its middle: laid on, it neither raises nor sinks the surface. */
function heightOfTile(image: Image, width: number): Image {
  const unit = image.convention?.of === 'height' ? image.convention.unit : 'tile';
  const heights = scaled(inHeights(image), unitInMillimetres(unit, width, width));
  let sum = 0;
  for (const value of heights.data) sum += value;
  const mean = sum / heights.data.length;
  return { ...heights, data: heights.data.map((value) => value - mean) };
}
