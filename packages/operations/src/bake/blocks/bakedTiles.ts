import type { Receiver } from '@zographos/core/bake';
import type { Size } from '@zographos/core/math';
import { ZographosError } from '@zographos/core/errors';
import { sharedFloat32, sharedUint16, sharedUint8 } from '@zographos/core/shared-arrays';
import { FIRST_TILE, tileOrigin, tilesOf } from '@zographos/core/uv';
import type { BakePassSettings } from '../settings.ts';
import type { Finding } from '../../proof/finding.ts';
import { emptyImage, type BakedImage } from './bakedImages.ts';
import { note, warning } from '../../proof/finding.ts';

/** One UDIM tile of a bake: its maps as they fill, and what becomes of each texel. */
export interface BakedTile {
  tile: number;
  size: Size;
  /** The receiver with its layout moved so that the tile is 0 to 1. */
  receiver: Receiver;
  maps: BakedImage[];
  states: Uint8Array;
  /** The island of each texel, where that is asked for. */
  islands: Uint16Array | null;
}

/**
 * The tiles that a bake fills.
 * @throws input/outside-tile when there is nothing to bake in them
 */
export function chooseTiles(
  { uvs, indices }: Receiver,
  { tiles: wanted, tileSizes = {} }: Pick<BakePassSettings, 'tiles'> & Partial<Pick<BakePassSettings, 'tileSizes'>>,
  names: string,
): { tiles: number[]; findings: Finding[] } {
  const { tiles: filled, outside } = tilesOf(uvs, indices);
  const findings: Finding[] = [];
  if (wanted === 'all' && filled.size === 0) {
    throw new ZographosError(
      'input/outside-tile',
      `All UVs of ${names} lie outside the tiles 1001 to 2000, so no texel is covered. Move its islands into a tile, or choose another UV set.`,
    );
  }
  if (outside > 0) {
    findings.push(
      warning(
        'outside-tile',
        `${outside} triangles of ${names} have UVs outside every tile; what lies there was not baked.`,
      ),
    );
  }
  const tiles = wanted === 'all' ? [...filled.keys()] : wanted.toSorted((a, b) => a - b);
  const left = [...filled.keys()].filter((tile) => !tiles.includes(tile));
  if (left.length > 0 && tiles.some((tile) => filled.has(tile))) {
    findings.push(
      warning(
        'outside-tile',
        `${names} has UVs outside the tile${tiles.length > 1 ? 's' : ''} baked, in ${left.join(', ')}.`,
        {
          remedy: { label: 'Bake all tiles', change: { tiles: 'all' } },
        },
      ),
    );
  }
  const unknown = Object.keys(tileSizes).filter((tile) => !tiles.includes(Number(tile)));
  if (unknown.length > 0) {
    findings.push(note('tile-size', `A size is given for ${unknown.join(', ')}, which is not baked.`));
  }
  return { tiles, findings };
}

/** A tile before anything is baked. */
export function emptyTile(
  receiver: Receiver,
  tile: number,
  settings: BakePassSettings,
  images: (size: Size) => BakedImage[],
  withIslands: boolean,
): BakedTile {
  const size = settings.tileSizes[String(tile)] ?? settings.size;
  const texels = size.width * size.height;
  return {
    tile,
    size,
    receiver: atTile(receiver, tile),
    maps: images(size),
    states: sharedUint8(texels),
    islands: withIslands ? sharedUint16(texels) : null,
  };
}

/** The same bakedTile, larger: what is baked for being halved. */
export function enlarged(bakedTile: BakedTile, times: number, settings: BakePassSettings): BakedTile {
  const size = { width: bakedTile.size.width * times, height: bakedTile.size.height * times };
  return {
    ...bakedTile,
    size,
    maps: bakedTile.maps.map(({ kind, image }) => ({
      kind,
      image: { ...emptyImage(kind, size, settings), ...(image.range ? { range: image.range } : {}) },
    })),
    states: sharedUint8(size.width * size.height),
    islands: bakedTile.islands && sharedUint16(size.width * size.height),
  };
}

/** The same receiver, moved so that a tile is 0 to 1. */
export function atTile(receiver: Receiver, tile: number): Receiver {
  if (tile === FIRST_TILE) return receiver;
  const [u0, v0] = tileOrigin(tile);
  const uvs = sharedFloat32(receiver.uvs.length);
  for (let i = 0; i < uvs.length; i += 2) {
    uvs[i] = receiver.uvs[i]! - u0;
    uvs[i + 1] = receiver.uvs[i + 1]! - v0;
  }
  return { ...receiver, uvs };
}
