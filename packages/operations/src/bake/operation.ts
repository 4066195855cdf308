import { BLOCK, CHANNELS } from '@zographos/core/bake';
import type { BakedKind } from '@zographos/core/image';
import { FIRST_TILE } from '@zographos/core/uv';
import type { Operation, SentencePart } from '../operation.ts';
import { bakeSettings, type BakeOperationSettings } from './settings.ts';

/** Whether a map casts fans of rays from each sample. */
const castsFans = (kind: BakedKind): boolean => kind === 'ao' || kind === 'bent' || kind === 'thickness';

/** Rays that one sample of a bake casts. */
function raysPerSample({ maps, occlusion }: BakeOperationSettings): number {
  const above = maps.includes('ao') || maps.includes('bent') ? occlusion.rays : 0;
  const below = maps.includes('thickness') ? occlusion.rays : 0;
  return 1 + above + below;
}

/** Bytes for each source triangle: as a record while building, as corners in packets, in nodes and numbers. */
const BYTES_PER_SOURCE_TRIANGLE = 12 + 12 + 32 + 72 + 24;
const BYTES_PER_SOURCE_VERTEX = 60;
/** A running Node process with its libraries. */
const BASE_BYTES = 220e6;

export const bakeOperation: Operation<BakeOperationSettings> = {
  kind: 'bake',
  version: 4,
  settings: bakeSettings,
  outputs: (settings) => settings.maps,
  goesByName: ({ match, reachOf, occlusion }) =>
    match !== 'all' || Object.keys(reachOf).length > 0 || Array.isArray(occlusion.occluders),

  estimate(settings, { receivers, sources }) {
    const { samples, maps, oversize } = settings;
    const texels = sheetTexels(settings);
    const largest = Math.max(texels / tileCount(settings), settings.size.width * settings.size.height);
    const receiverTriangles = receivers.reduce((sum, { triangles }) => sum + triangles, 0);
    const scene = sources.reduce(
      (sum, source) => sum + source.triangles * BYTES_PER_SOURCE_TRIANGLE + source.vertices * BYTES_PER_SOURCE_VERTEX,
      0,
    );
    const blockSamples = (BLOCK * samples) ** 2;
    const channels = maps.reduce((sum, kind) => sum + CHANNELS[kind], 0);
    // Per texel: floats of every map, a state, rows for padding, and one map's reduced copies while encoding.
    const map =
      texels * (channels * 4 + 1 + 2 + 2 + 12) + (oversize > 1 ? largest * oversize ** 2 * (channels * 4 + 3) : 0);
    const threads = 8 * blockSamples * 100;
    return {
      rays: texels * oversize ** 2 * samples * samples * raysPerSample(settings),
      memoryBytes: BASE_BYTES + map + scene + threads + receiverTriangles * 400,
    };
  },

  sentence(settings, names, unit) {
    const { samples, padding, maps, occlusion, oversize } = settings;
    const directed = maps.includes('normal') || maps.includes('bent');
    const fans = maps.some(castsFans)
      ? [{ text: ', ' }, { text: `${occlusion.rays} rays from each`, slot: 'occlusion' }]
      : [];
    return [
      { text: 'Bake ' },
      { text: maps.join(', '), slot: 'maps' },
      ...(directed ? [{ text: ' (' }, { text: frameOf(settings), slot: 'normal' }, { text: ')' }] : []),
      { text: ' of ' },
      { text: names.receivers.join(', '), slot: 'receivers' },
      { text: ' from ' },
      ...sourcesOf(settings, names),
      ...picturesOf(settings),
      { text: ' at ' },
      { text: sizeOf(settings), slot: 'size' },
      ...tilesOf(settings),
      { text: ', reaching ' },
      ...reachingOf(settings, names, unit),
      { text: ', with ' },
      { text: `${samples} × ${samples}`, slot: 'samples' },
      { text: oversize > 1 ? ` samples at ${oversize} times the size` : ' samples' },
      ...fans,
      { text: ' and ' },
      { text: padding === 'all' ? 'padding everywhere' : `${padding} px`, slot: 'padding' },
      { text: padding === 'all' ? '.' : ' padding.' },
    ];
  },
};

function frameOf({ normal: { space, y, axes } }: BakeOperationSettings): string {
  const order = axes === 'xyz' ? '' : `, ${axes.toUpperCase()}`;
  return space === 'tangent' ? `tangent space, Y ${y}${order}` : `object space${order}`;
}

const sizeOf = ({ size: { width, height } }: BakeOperationSettings): string =>
  width === height ? `${width} px` : `${width} × ${height} px`;

function sourcesOf(
  { match, repeat, sourceScale }: BakeOperationSettings,
  { sources }: { sources: string[] },
): SentencePart[] {
  const list = sources.length > 4 ? `${sources.length} meshes` : sources.join(' and ') || 'nothing yet';
  return [
    { text: list, slot: 'sources' },
    ...(sourceScale === 1 ? [] : [{ text: ', ' }, { text: `${sourceScale} times their size`, slot: 'scale' }]),
    ...(match === 'all' ? [] : [{ text: ', ' }, { text: 'each from its partner', slot: 'match' }]),
    ...(repeat === 'none' ? [] : [{ text: ', ' }, { text: 'repeated over the tile', slot: 'repeat' }]),
  ];
}

function picturesOf({ pictures, maps }: BakeOperationSettings): SentencePart[] {
  const carried = maps.filter((kind) => pictures[kind]);
  if (carried.length === 0) return [];
  const which = carried.length === maps.length ? 'their pictures' : `pictures for ${carried.join(', ')}`;
  return [{ text: ' and ' }, { text: which, slot: 'pictures' }];
}

function tilesOf({ tiles, tileSizes }: BakeOperationSettings): SentencePart[] {
  const own = Object.keys(tileSizes).length > 0;
  if (tiles !== 'all' && tiles.length === 1 && tiles[0] === FIRST_TILE && !own) return [];
  const list = tiles === 'all' ? 'all tiles' : `tile${tiles.length > 1 ? 's' : ''} ${tiles.join(', ')}`;
  return [{ text: ' in ' }, { text: own ? `${list}, some of another size` : list, slot: 'tiles' }];
}

function reachingOf(
  { reach, aim, touches }: BakeOperationSettings,
  names: { cage?: string | undefined },
  unit: string,
): SentencePart[] {
  if (aim === 'nearest') return [{ text: 'for the nearest place', slot: 'reach' }];
  if (aim === 'shared') return [{ text: 'through the triangles they share', slot: 'reach' }];
  const touched = touches.length > 0 ? ', touched by hand' : '';
  if (names.cage) {
    return [
      { text: 'from ' },
      { text: names.cage, slot: 'cage' },
      { text: ' to ' },
      { text: typeof reach === 'string' ? 'as far as measured' : withUnit(reach.in, unit), slot: 'reach' },
      { text: ' in' },
    ];
  }
  if (typeof reach === 'string') {
    return [{ text: (reach === 'auto' ? 'as far as measured' : 'as far as fits') + touched, slot: 'reach' }];
  }
  return [
    { text: withUnit(reach.out, unit), slot: 'reach' },
    { text: ' out and ' },
    { text: withUnit(reach.in, unit) + touched, slot: 'reach' },
    { text: ' in' },
  ];
}

const withUnit = (value: number, unit: string): string => `${Number(value.toPrecision(4))} ${unit}`;

/** How many tiles are baked at least; all tiles are known only when it runs. */
const tileCount = ({ tiles, tileSizes }: BakeOperationSettings): number =>
  tiles === 'all' ? Math.max(1, Object.keys(tileSizes).length) : tiles.length;

/** Texels of all sheets. */
function sheetTexels(settings: BakeOperationSettings): number {
  const numbers = settings.tiles === 'all' ? Object.keys(settings.tileSizes) : settings.tiles.map(String);
  const of = (tile: string): number => {
    const { width, height } = settings.tileSizes[tile] ?? settings.size;
    return width * height;
  };
  return numbers.length > 0 ? numbers.reduce((sum, tile) => sum + of(tile), 0) : of('');
}
