import {
  flatSurface,
  layeredMeshes,
  layeredTile,
  type BlockPlaces,
  type LayeredSurface,
  type LayeredTile,
} from '@zographos/core/layers';
import type { Mesh } from '@zographos/core/mesh';
import type { Size } from '@zographos/core/math';
import { coveringLayout, findOverlaps, FIRST_TILE, tilesOf } from '@zographos/core/uv';
import { unpackMesh } from '@zographos/formats/packed-mesh';
import type { LayersSettings } from '@zographos/operations';
import type { PreviewSurface } from './layersMessages.ts';

/** A size that is no larger than a side. */
export function within({ width, height }: Size, side: number): Size {
  const scale = Math.min(1, side / Math.max(width, height));
  return { width: Math.max(16, Math.round(width * scale)), height: Math.max(16, Math.round(height * scale)) };
}

interface KnownSurface {
  key: string;
  surface: LayeredSurface;
  overlaps: number;
  /** Where the texels of blocks lie, by tile and size. */
  places: Map<string, Map<number, BlockPlaces>>;
}

/** The surface that was shown last. */
let known: KnownSurface | null = null;
export const knownSurface = (): KnownSurface | null => known;

/**
 * What a stack lies on; fetched when it is another than before.
 * @param onOther told then: what is kept of the one before is of no use any more
 * @throws if a mesh cannot be fetched
 */
export async function surfaceOf(wanted: PreviewSurface, onOther: () => void): Promise<LayeredSurface> {
  const key = JSON.stringify(wanted);
  if (known?.key === key) return known.surface;
  const meshes = await Promise.all(wanted.urls.map(fetchMesh));
  const surface = meshes.length > 0 ? layeredMeshes(meshes, wanted.uvSet, wanted.unit) : flatSurface(...wanted.flat);
  known = { key, surface, overlaps: overlapsOf(surface), places: new Map() };
  onOther();
  return surface;
}

/** Pairs that are looked at for overlaps before a preview: about a second's worth. */
const MOST_LOOKS = 20_000_000;

const overlapsOf = ({ receiver, islands, repeats }: LayeredSurface): number =>
  repeats ? 0 : findOverlaps(coveringLayout(receiver), islands, () => false, MOST_LOOKS).pairs;

async function fetchMesh(url: string): Promise<Mesh> {
  const response = await fetch(url);
  if (!response.ok) throw new Error('The mesh could not be fetched from the server.');
  return unpackMesh(new Uint8Array(await response.arrayBuffer()));
}

const tilesMade = new WeakMap<LayeredSurface, Map<string, LayeredTile>>();

/** Sorted into blocks once for each size. */
export function tileOf(surface: LayeredSurface, number: number, size: Size): LayeredTile {
  const all = tilesMade.get(surface) ?? new Map<string, LayeredTile>();
  tilesMade.set(surface, all);
  const key = `${number} ${size.width} ${size.height}`;
  const made = all.get(key) ?? layeredTile(surface, number, size);
  all.set(key, made);
  return made;
}

/** Remembered for small pictures alone: they take 80 bytes a texel. */
export function placesOf(tile: number, { width, height }: Size): Map<number, BlockPlaces> | undefined {
  if (width * height > MOST_REMEMBERED) return undefined;
  const name = `${tile} ${width} ${height}`;
  const places = known!.places.get(name) ?? new Map<number, BlockPlaces>();
  known!.places.set(name, places);
  return places;
}

const MOST_REMEMBERED = 1024 * 1024;

export function tilesToShow({ receiver, repeats }: LayeredSurface, tiles: LayersSettings['tiles']): number[] {
  if (repeats) return [FIRST_TILE];
  return tiles === 'all' ? [...tilesOf(receiver.uvs, receiver.indices).tiles.keys()] : tiles;
}
