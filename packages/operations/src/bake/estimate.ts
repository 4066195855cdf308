import { BLOCK } from '@zographos/core/bake';
import { describeKind } from '@zographos/core/image';
import type { Estimate, MeshFacts, OperationInputs } from '../operation.ts';
import { BASE_BYTES } from '../memoryLimit.ts';
import { resolveTiles } from './resolveTiles.ts';
import type { BakeOperationSettings } from './settings.ts';

/** Bytes for each source triangle: as a record while building, as corners in packets, in nodes and numbers. */
const BYTES_PER_SOURCE_TRIANGLE = 12 + 12 + 32 + 72 + 24;
const BYTES_PER_SOURCE_VERTEX = 60;

/** What a bake will cost: rays cast, and bytes at its peak. */
export function estimateBake(wanted: BakeOperationSettings, inputs: OperationInputs<MeshFacts>): Estimate {
  const settings = resolveTiles(wanted, inputs);
  const { receivers, sources } = inputs;
  const { samples, maps, oversize } = settings;
  const texels = tileTexels(settings);
  const largest = Math.max(texels / tileCount(settings), settings.size.width * settings.size.height);
  const receiverTriangles = receivers.reduce((sum, { triangles }) => sum + triangles, 0);
  const scene = sources.reduce(
    (sum, source) => sum + source.triangles * BYTES_PER_SOURCE_TRIANGLE + source.vertices * BYTES_PER_SOURCE_VERTEX,
    0,
  );
  const blockSamples = (BLOCK * samples) ** 2;
  const channels = maps.reduce((sum, kind) => sum + describeKind(kind).channels, 0);
  // Per texel: floats of every map, a state, rows for padding, and one map's reduced copies while encoding.
  const map =
    texels * (channels * 4 + 1 + 2 + 2 + 12) + (oversize > 1 ? largest * oversize ** 2 * (channels * 4 + 3) : 0);
  const threads = 8 * blockSamples * 100;
  return {
    rays: texels * oversize ** 2 * samples * samples * raysPerSample(settings),
    memoryBytes: BASE_BYTES + map + scene + threads + receiverTriangles * 400,
  };
}

/** Rays that one sample casts: the one that finds the source, and its fans; maps that look the same way share theirs. */
function raysPerSample({ maps, occlusion }: BakeOperationSettings): number {
  const fans = new Set(maps.flatMap((kind) => describeKind(kind).fans ?? []));
  return 1 + fans.size * occlusion.rays;
}

/** How many tiles are baked at least; where the inputs do not tell, all tiles are known only when it runs. */
const tileCount = ({ tiles, tileSizes }: BakeOperationSettings): number =>
  tiles === 'all' ? Math.max(1, Object.keys(tileSizes).length) : tiles.length;

/** Texels of all tiles. */
function tileTexels(settings: BakeOperationSettings): number {
  const numbers = settings.tiles === 'all' ? Object.keys(settings.tileSizes) : settings.tiles.map(String);
  const of = (tile: string): number => {
    const { width, height } = settings.tileSizes[tile] ?? settings.size;
    return width * height;
  };
  return numbers.length > 0 ? numbers.reduce((sum, tile) => sum + of(tile), 0) : of('');
}
