import { smoothStep } from '../../image/planes.ts';
import { cross, pictureAxes, unit } from '../surface/direction.ts';
import { wayAlong, type LayeredTile } from '../surface/layeredSurface.ts';
import type { PicturePlace } from '../stack.ts';
import { TEXELS, type TexelBlock } from '../surface/texelBlock.ts';

/** Where one picture lies on the texels of a block. */
export interface Placed {
  /** Width of a texel as a share of the picture's width. */
  footprint: number;
  /** Writes places in the picture, and 1 where the picture lies. */
  place(block: TexelBlock, u: Float64Array, v: Float64Array, alpha: Float32Array): void;
}

/** @param aspect height over width of the picture */
export function placeOn(place: PicturePlace, tile: LayeredTile, aspect: number): Placed {
  switch (place.on) {
    case 'layout':
      return {
        footprint: 1 / tile.size.width,
        place(block, u, v, alpha) {
          u.set(block.u);
          v.set(block.v);
          alpha.fill(1, 0, block.count);
        },
      };
    case 'island':
      return onIsland(place, tile, aspect);
    case 'surface':
      return onSurface(place, tile);
  }
}

/** Fitted into the box of an island: whole, or filling it. */
function onIsland(
  { triangle, turn, mirror, fill }: Extract<PicturePlace, { on: 'island' }>,
  { surface, uvs, size }: LayeredTile,
  aspect: number,
): Placed {
  const { islands, receiver } = surface;
  const island = islands[triangle] ?? -1;
  let [left, right, bottom, top] = [Infinity, -Infinity, Infinity, -Infinity];
  for (let t = 0; t < islands.length; t++) {
    if (islands[t] !== island) continue;
    for (let c = 0; c < 3; c++) {
      const at = receiver.indices[t * 3 + c]! * 2;
      left = Math.min(left, uvs[at]!);
      right = Math.max(right, uvs[at]!);
      bottom = Math.min(bottom, uvs[at + 1]!);
      top = Math.max(top, uvs[at + 1]!);
    }
  }
  const [cos, sin] = [Math.cos((turn * Math.PI) / 180), Math.sin((turn * Math.PI) / 180)];
  const [boxWidth, boxHeight] = [right - left, top - bottom];
  // The box of the island as it is seen by a picture that is turned.
  const seenWidth = Math.abs(boxWidth * cos) + Math.abs(boxHeight * sin);
  const seenHeight = Math.abs(boxWidth * sin) + Math.abs(boxHeight * cos);
  const fits = fill ? Math.max(seenWidth, seenHeight / aspect) : Math.min(seenWidth, seenHeight / aspect);
  return {
    footprint: 1 / (fits * size.width || 1),
    place(block, u, v, alpha) {
      for (let i = 0; i < block.count; i++) {
        const x = block.u[i]! - (left + right) / 2;
        const y = block.v[i]! - (bottom + top) / 2;
        const across = (x * cos + y * sin) / fits;
        u[i] = 0.5 + (mirror ? -across : across);
        v[i] = 0.5 + (y * cos - x * sin) / (fits * aspect);
        alpha[i] = islands[block.triangles[i]!] === island ? inside(u[i]!, v[i]!) : 0;
      }
    },
  };
}

/** Projected along a direction, as far as its depth; not onto what is turned away from it, and over the borders of a tile. */
function onSurface(
  { center, normal, up, width, height, depth, angle, falloff }: Extract<PicturePlace, { on: 'surface' }>,
  tile: LayeredTile,
): Placed {
  const towards = unit(normal);
  const [right] = pictureAxes(towards, unit(up));
  const upwards = cross(towards, right);
  const { repeats } = tile.surface;
  return {
    footprint: tile.texel / width,
    place({ places: [x, y, z], normals, count }, u, v, alpha) {
      for (let i = 0; i < count; i++) {
        const dx = wayAlong(0, center[0], x[i]!, repeats);
        const dy = wayAlong(1, center[1], y[i]!, repeats);
        const dz = z[i]! - center[2];
        u[i] = 0.5 + (dx * right[0] + dy * right[1] + dz * right[2]) / width;
        v[i] = 0.5 + (dx * upwards[0] + dy * upwards[1] + dz * upwards[2]) / height;
        const away = Math.abs(dx * towards[0] + dy * towards[1] + dz * towards[2]);
        const cos =
          normals[i]! * towards[0] + normals[TEXELS + i]! * towards[1] + normals[TEXELS * 2 + i]! * towards[2];
        const slope = (Math.acos(Math.max(-1, Math.min(1, cos))) * 180) / Math.PI;
        alpha[i] = away <= depth / 2 ? inside(u[i]!, v[i]!) * (1 - smoothStep(angle - falloff, angle, slope)) : 0;
      }
    },
  };
}

const inside = (u: number, v: number): number => (u >= 0 && u <= 1 && v >= 0 && v <= 1 ? 1 : 0);
