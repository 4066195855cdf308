import type { Image } from '../../image/image.ts';
import type { LayeredTile } from '../surface/layeredSurface.ts';
import { greyOf, requirePicture } from '../mask/maskStep.ts';
import { projector } from '../inputs/projection.ts';
import type { LayerInputs } from '../inputs/layerInputs.ts';
import { TEXELS, type TexelBlock } from '../surface/texelBlock.ts';
import { SamplePlaces, TextureSampler } from '../inputs/textureSampler.ts';
import { addGradient, gradientToDirections, putUnit } from '../surface/surfaceGradient.ts';
import type { BrushPicture } from './stroke.ts';

/** A picture that lies over the surface or the view, at the texels of a block. */
export interface PictureOnBlock {
  /** Colours as light, or normals as directions in space, in three planes; and the grey or alpha that shapes. */
  look(block: TexelBlock, colors: Float32Array, shape: Float32Array): void;
}

/** @throws missing/not-found for a picture that is not there */
export function pictureOnBlock(brush: BrushPicture, tile: LayeredTile, inputs: LayerInputs): PictureOnBlock | null {
  if (brush.lies === 'dab') return null;
  const levels = requirePicture(brush.picture, inputs);
  return brush.lies === 'view' ? overView(brush, levels, tile) : tiled(brush, levels, tile);
}

/** Tiled over the surface at its width, along all three axes. */
function tiled({ width, gives }: BrushPicture, levels: readonly Image[], tile: LayeredTile): PictureOnBlock {
  const sampler = new TextureSampler(levels, 'repeat');
  const laying = {
    projection: { by: 'triplanar', sharpness: 6 },
    scale: 1,
    turn: 0,
    offset: [0, 0],
    varyBy: 'nothing',
  } as const;
  const at = projector(laying, width, levels[0]!.height / levels[0]!.width, tile);
  const seen = new Float32Array(TEXELS * 4);
  const grey = new Float32Array(TEXELS);
  return {
    look(block, colors, shape) {
      const { count } = block;
      at.project(block);
      colors.fill(0);
      shape.fill(0, 0, count);
      for (const plane of at.planes) {
        const { places, weight, counts } = plane;
        if (!counts) continue;
        sampler.sample(places, count, at.footprint, seen);
        greyOf(seen, sampler.channels, shapeChannel(sampler.channels, gives), count, grey);
        for (let i = 0; i < count; i++) shape[i]! += grey[i]! * weight[i]!;
        if (gives === 'normal') {
          asVectors(seen, sampler.channels, count);
          addGradient(seen, plane, 1, count, colors);
          continue;
        }
        for (let k = 0; k < 3; k++) {
          const from = colorPlane(sampler.channels, k);
          for (let i = 0; i < count; i++) colors[k * TEXELS + i]! += seen[from + i]! * weight[i]!;
        }
      }
      if (gives === 'normal') gradientToDirections(colors, block);
    },
  };
}

/** Fixed over the view that it was painted in; beyond its edge there is nothing. */
function overView({ view, gives }: BrushPicture, levels: readonly Image[], tile: LayeredTile): PictureOnBlock {
  const sampler = new TextureSampler(levels, 'clamp');
  const places = new SamplePlaces();
  const seen = new Float32Array(TEXELS * 4);
  const grey = new Float32Array(TEXELS);
  return {
    look(block, colors, shape) {
      const {
        places: [x, y, z],
        count,
      } = block;
      let footprint = 0;
      for (let i = 0; i < count; i++) {
        const row = (r: number): number =>
          view[r]! * x[i]! + view[r + 1]! * y[i]! + view[r + 2]! * z[i]! + view[r + 3]!;
        const w = row(8);
        places.u[i] = row(0) / w;
        places.v[i] = row(4) / w;
        // A millimetre there, as a share of the picture.
        footprint = Math.max(footprint, Math.hypot(view[0]!, view[1]!, view[2]!) / Math.abs(w));
      }
      places.moved();
      sampler.sample(places, count, Math.max(1e-6, footprint * tile.texel), seen);
      greyOf(seen, sampler.channels, shapeChannel(sampler.channels, gives), count, grey);
      for (let i = 0; i < count; i++) {
        const [u, v] = [places.u[i]!, places.v[i]!];
        shape[i] = u >= 0 && u <= 1 && v >= 0 && v <= 1 ? grey[i]! : 0;
      }
      if (gives === 'normal') {
        asVectors(seen, sampler.channels, count);
        turnToView(seen, view, places, block, colors);
        return;
      }
      for (let k = 0; k < 3; k++) {
        const from = colorPlane(sampler.channels, k);
        colors.set(seen.subarray(from, from + count), k * TEXELS);
      }
    },
  };
}

/** What of a picture shapes a stroke: its alpha where it has one, else its grey; colours without alpha cover all. */
const shapeChannel = (channels: number, gives: BrushPicture['gives']): 'alpha' | 'grey' =>
  channels % 2 === 0 || gives !== 'shape' ? 'alpha' : 'grey';

const colorPlane = (channels: number, k: number): number => (channels < 3 ? 0 : k) * TEXELS;

/** Samples of a picture of normals as vectors, in place. */
function asVectors(seen: Float32Array, channels: number, count: number): void {
  if (channels < 3) for (let k = 2; k > 0; k--) seen.copyWithin(k * TEXELS, 0, count);
  for (let k = 0; k < 3; k++) {
    for (let i = k * TEXELS; i < k * TEXELS + count; i++) seen[i] = seen[i]! * 2 - 1;
  }
}

/**
 * Normals of a picture that is seen over the surface, as directions in space: its right is the way in the surface along
 * which the picture goes on to the right.
 */
function turnToView(
  seen: Float32Array,
  view: readonly number[],
  { u }: SamplePlaces,
  { normals, count }: TexelBlock,
  out: Float32Array,
): void {
  for (let i = 0; i < count; i++) {
    const [nx, ny, nz] = [normals[i]!, normals[TEXELS + i]!, normals[TEXELS * 2 + i]!];
    // The gradient of u in space, but for its length.
    const gx = view[0]! - u[i]! * view[8]!;
    const gy = view[1]! - u[i]! * view[9]!;
    const gz = view[2]! - u[i]! * view[10]!;
    const off = nx * gx + ny * gy + nz * gz;
    const [rx, ry, rz] = [gx - nx * off, gy - ny * off, gz - nz * off];
    const length = Math.hypot(rx, ry, rz) || 1;
    const x = seen[i]! / length;
    const y = seen[TEXELS + i]! / length;
    const z = seen[TEXELS * 2 + i]!;
    putUnit(
      out,
      i,
      rx * x + (ny * rz - nz * ry) * y + nx * z,
      ry * x + (nz * rx - nx * rz) * y + ny * z,
      rz * x + (nx * ry - ny * rx) * y + nz * z,
    );
  }
}
