import {
  composeAtlas,
  composeStates,
  fitToPlace,
  moveToPlace,
  repeatedAcross,
  type Placement,
} from '@zographos/core/atlas';
import { describeKind, inUsualOrder, resample, sharedImage, type MapKind } from '@zographos/core/image';
import { joinMeshes, uvSetFirst, withOneSlot, type Mesh } from '@zographos/core/mesh';
import { FIRST_TILE } from '@zographos/core/uv';
import { secondsSince, throwIfCancelled, type HeldMap, type Run, type RunSet } from '../runContext.ts';
import { atlasPlaces, gutterOf } from './atlasPlaces.ts';
import type { AtlasReport } from './report.ts';
import type { AtlasSettings } from './settings.ts';

/**
 * Makes an atlas: its mesh first, which may be refused, then one map after the other, so that memory holds but one.
 * @throws limit/packing; input/no-uvs, input/outside-tile for a mesh that does not lie within its tile;
 * input/other-convention for maps that cannot be written in one way; run/cancelled
 */
export const run: Run<AtlasSettings, AtlasReport> = async (context) => {
  const { settings, inputs, sets = [], cancelFlag, onProgress, put } = context;
  const since = performance.now();
  const places = atlasPlaces(settings);
  const moved = sets.flatMap(({ receivers, uvSet }, i) =>
    receivers.map((number) =>
      moveToPlace(uvSetFirst(inputs.receivers[number]!.mesh, uvSet), 0, onceOf(places[i]!), settings.size),
    ),
  );
  const isOne = !settings.keepMeshes && moved.length > 0;
  // One image set is one material.
  const joined = (): Mesh =>
    joinMeshes(
      settings.name,
      moved.map((mesh) => withOneSlot(mesh, settings.name, settings.keepUvSets)),
    );
  for (const mesh of isOne ? [joined()] : moved) await put({ what: 'mesh', mesh });
  const kinds = inUsualOrder(sets.flatMap(({ maps }) => maps.map(({ kind }) => kind)));
  for (const [i, kind] of kinds.entries()) {
    throwIfCancelled(cancelFlag);
    onProgress({ stage: 'encode', share: i / kinds.length, secondsLeft: null, note: describeKind(kind).phrase });
    const maps: (HeldMap | null)[] = [];
    for (const set of sets) maps.push(has(set, kind) ? await set.load(kind, FIRST_TILE) : null);
    await put({ what: 'map', kind, tile: FIRST_TILE, ...composed(kind, maps, places, settings) });
  }
  const neutral = kinds.flatMap((map) => sets.filter((set) => !has(set, map)).map(({ name: set }) => ({ set, map })));
  return { report: { places, maps: kinds, neutral, seconds: secondsSince(since) } };
};

/** Where a set lies once, of a place that it repeats across. */
const onceOf = ({ across = 1, ...place }: Placement): Placement => ({ ...place, width: place.width / across });

const has = ({ maps }: RunSet, kind: MapKind): boolean => maps.some((map) => map.kind === kind);

function composed(
  kind: MapKind,
  maps: readonly (HeldMap | null)[],
  places: readonly Placement[],
  settings: AtlasSettings,
): HeldMap {
  const { size } = settings;
  const gutter = gutterOf(settings);
  const fits = settings.resample || settings.arrangement === 'trims';
  const images = maps.map((map, i) => {
    const { across = 1 } = places[i]!;
    if (!map) return null;
    return fits || across > 1 ? fitToPlace(kind, repeatedAcross(map.image, across), places[i]!) : map.image;
  });
  const states = maps.map((map, i) => map && statesAt(map, places[i]!));
  return {
    image: sharedImage(composeAtlas(kind, images, places, size, gutter)),
    states: composeStates(states, places, size, gutter),
  };
}

/** What became of texels, at the size of their place. */
function statesAt({ image: { width, height }, states }: HeldMap, { across = 1, ...place }: Placement): Uint8Array {
  if (width === place.width && height === place.height) return states;
  const plane = repeatedAcross({ width, height, channels: 1, data: Float32Array.from(states) }, across);
  return Uint8Array.from(resample(plane, place, 'nearest').data);
}
