import { ZographosError } from '../../errors.ts';
import { describeKind } from '../../image/kindMeaning.ts';
import type { Image } from '../../image/image.ts';
import { smoothStep } from '../../image/planes.ts';
import type { MapKind } from '../../image/mapKinds.ts';
import { unit } from '../surface/direction.ts';
import { fieldAt, type BlockValues } from '../inputs/fieldAt.ts';
import type { LayeredTile } from '../surface/layeredSurface.ts';
import type { LayerInputs } from '../inputs/layerInputs.ts';
import { paintedMask } from '../painting/paintedMask.ts';
import { requireStrokes } from '../painting/requireStrokes.ts';
import { dust } from '../process/dust.ts';
import { planeOfRuns, requireProcess } from '../process/prepareProcesses.ts';
import { spreading } from '../process/spreading/spreading.ts';
import { sunFade } from '../process/sunFade.ts';
import { waterline } from '../process/waterline.ts';
import { wear } from '../process/wear.ts';
import type { MaskMeasure, PictureChannel, PicturePlace, Projection } from '../stack.ts';
import { TEXELS } from '../surface/texelBlock.ts';
import { SamplePlaces, TextureSampler } from '../inputs/textureSampler.ts';
import { placeOn } from '../content/picturePlace.ts';
import { projector } from '../inputs/projection.ts';
import { nearParts } from './nearParts.ts';
import { pickedColors } from './pickedColors.ts';
import { pickedTriangles } from './pickedTriangles.ts';

/**
 * What one step of a mask measures, 0 to 1.
 * @throws missing/not-found for a map or picture that is not there, input/other-topology
 */
export function maskStep(step: MaskMeasure, tile: LayeredTile, inputs: LayerInputs): BlockValues {
  const map = (kind: MapKind): Image => requireMap(kind, inputs);
  switch (step.measure) {
    case 'id':
      return pickedColors(step.colors, step.tolerance, map('id'));
    case 'slot':
    case 'object':
    case 'part':
    case 'island':
    case 'faces':
      return pickedTriangles(step, tile.surface);
    case 'near':
      return nearParts(step, tile.surface);
    case 'tile': {
      const here = step.tiles.includes(tile.tile) ? 1 : 0;
      return (block, out) => out.fill(here, 0, block.count);
    }
    case 'map':
      return between(map(step.map), step.from, step.to);
    case 'axis': {
      const [ax, ay, az] = unit(step.axis);
      const scale = 1 / (step.to - step.from || 1e-6);
      return ({ places: [x, y, z], count }, out) => {
        for (let i = 0; i < count; i++) {
          const along = x[i]! * ax + y[i]! * ay + z[i]! * az;
          out[i] = Math.max(0, Math.min(1, (along - step.from) * scale));
        }
      };
    }
    case 'facing': {
      const [dx, dy, dz] = unit(step.direction);
      const [low, high] = [step.angle - step.softness / 2, step.angle + step.softness / 2];
      return ({ normals, count }, out) => {
        for (let i = 0; i < count; i++) {
          const cos = normals[i]! * dx + normals[TEXELS + i]! * dy + normals[TEXELS * 2 + i]! * dz;
          out[i] = 1 - smoothStep(low, high, (Math.acos(Math.max(-1, Math.min(1, cos))) * 180) / Math.PI);
        }
      };
    }
    case 'painted':
      return paintedMask(requireStrokes(step.strokes, inputs), tile, inputs);
    case 'field':
      return fieldAt(step.field, tile);
    case 'picture':
      return step.place
        ? placedGrey(requirePicture(step.picture, inputs), step.channel, step.place, tile)
        : projectedGrey(requirePicture(step.picture, inputs), step, tile);
    case 'wear':
      return wear(step, tile, map('curvature').data, step.sheltered > 0 ? map('ao').data : null);
    case 'dust':
      return dust(step, tile, map('sky').data, step.blownOff > 0 ? map('curvature').data : null);
    case 'sunFade':
      return sunFade(step, tile, map('sun').data);
    case 'waterline':
      return waterline(step, tile);
    case 'runs':
      return fromPlane(inputs.planes.get(planeOfRuns(step)));
    case 'spreading':
      return spreading(step, requireProcess('spreading', step, inputs.processes).spread, tile);
  }
}

/** @throws an Error where the plane was not made: a fault in the order of calls */
export function fromPlane(plane: Float32Array | undefined): BlockValues {
  if (!plane) throw new Error('The plane of a mask was not made before its tile was composed.');
  return ({ at, count }, out) => {
    for (let i = 0; i < count; i++) out[i] = plane[at[i]!]!;
  };
}

/** @throws missing/not-found */
export function requireMap(kind: MapKind, { measured }: LayerInputs): Image {
  const image = measured[kind];
  if (image) return image;
  throw new ZographosError(
    'missing/not-found',
    `The image set has no ${describeKind(kind).phrase} map, which a layer goes by. Bake it, or change the layer’s mask.`,
  );
}

/** @throws missing/not-found */
export function requirePicture(number: number, { pictures }: LayerInputs): readonly Image[] {
  const levels = pictures[number];
  if (levels) return levels;
  throw new ZographosError(
    'missing/not-found',
    `Image ${number + 1} of a layer is not there any more. Choose another, or remove the layer.`,
  );
}

function between({ data, channels }: Image, from: number, to: number): BlockValues {
  const scale = 1 / (to - from || 1e-6);
  return ({ at, count }, out) => {
    for (let i = 0; i < count; i++) out[i] = Math.max(0, Math.min(1, (data[at[i]! * channels]! - from) * scale));
  };
}

/** One picture that lies in one place; beyond its edge is 0. */
function placedGrey(
  levels: readonly Image[],
  channel: PictureChannel,
  place: PicturePlace,
  tile: LayeredTile,
): BlockValues {
  const sampler = new TextureSampler(levels, 'clamp');
  const { width, height } = levels[0]!;
  const placed = placeOn(place, tile, height / width);
  const places = new SamplePlaces();
  const seen = new Float32Array(TEXELS * 4);
  const grey = new Float32Array(TEXELS);
  return (block, out) => {
    placed.place(block, places.u, places.v, out);
    places.moved();
    sampler.sample(places, block.count, placed.footprint, seen);
    greyOf(seen, sampler.channels, channel, block.count, grey);
    for (let i = 0; i < block.count; i++) out[i]! *= Math.max(0, Math.min(1, grey[i]!));
  };
}

function projectedGrey(
  levels: readonly Image[],
  { channel, projection, width }: { channel: PictureChannel; projection: Projection; width: number },
  tile: LayeredTile,
): BlockValues {
  const sampler = new TextureSampler(levels, 'repeat');
  const { height: h, width: w } = levels[0]!;
  const laying = { projection, scale: 1, turn: 0, offset: [0, 0] as const, varyBy: 'nothing' as const };
  const at = projector(laying, width, h / w, tile);
  const seen = new Float32Array(TEXELS * sampler.channels);
  const grey = new Float32Array(TEXELS);
  return (block, out) => {
    at.project(block);
    out.fill(0, 0, block.count);
    for (const { places, weight, counts } of at.planes) {
      if (!counts) continue;
      sampler.sample(places, block.count, at.footprint, seen);
      greyOf(seen, sampler.channels, channel, block.count, grey);
      for (let i = 0; i < block.count; i++) out[i]! += grey[i]! * weight[i]!;
    }
    for (let i = 0; i < block.count; i++) out[i] = Math.max(0, Math.min(1, out[i]!));
  };
}

/** One value for each texel of a sampled picture: a channel, or the mean of the three colours. */
export function greyOf(
  seen: Float32Array,
  channels: number,
  channel: PictureChannel,
  count: number,
  out: Float32Array,
): void {
  const plane = (number: number): Float32Array => seen.subarray(number * TEXELS, number * TEXELS + count);
  if (channel === 'alpha') {
    if (channels % 2 === 0) out.set(plane(channels - 1));
    else out.fill(1, 0, count);
    return;
  }
  if (channels < 3) {
    out.set(plane(0));
    return;
  }
  if (channel !== 'grey') {
    out.set(plane(['red', 'green', 'blue'].indexOf(channel)));
    return;
  }
  for (let i = 0; i < count; i++) out[i] = (seen[i]! + seen[TEXELS + i]! + seen[TEXELS * 2 + i]!) / 3;
}
