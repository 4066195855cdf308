import { sharedCopyFloat32, sharedCopyUint32, sharedFloat32, sharedInt32, sharedUint8 } from '../../sharedArrays.ts';
import type { Size } from '../../math/size.ts';
import type { ComposeOptions } from '../compose/composeTile.ts';
import type { LayeredSurface, LayeredTile } from '../surface/layeredSurface.ts';
import type { LayerInputs } from '../inputs/layerInputs.ts';
import { everyLayer, type Layer, type RunsMeasure, type SpreadingMeasure } from '../stack.ts';
import { inOrderOfPlace } from './runs/inOrderOfPlace.ts';
import { coveredByRuns } from './runs/runs.ts';
import { findSources, type InputsAt, type SourcePlaces } from './sources.ts';
import { spreadFrom, type Spread } from './spreading/spreading.ts';

/** What a process needs to know of the whole surface, before any tile is composed. */
export type PreparedProcess = { of: 'runs'; starts: SourcePlaces } | { of: 'spreading'; spread: Spread };
export type PreparedProcesses = ReadonlyMap<string, PreparedProcess>;

type WholeMeasure = RunsMeasure | SpreadingMeasure;

/** What the preparation of a process depends on, beside the surface and the maps of the set. */
export const processKey = (measure: WholeMeasure): string =>
  measure.measure === 'runs'
    ? JSON.stringify(['runs', measure.from, measure.drops, measure.seed])
    : JSON.stringify(['spreading', measure.from, measure.seeds, measure.reach, measure.vary, measure.seed]);

/** The processes of layers that go over the whole surface. */
export function* wholeProcesses(layers: readonly Layer[]): Generator<WholeMeasure> {
  for (const { visible, mask } of everyLayer(layers)) {
    if (!visible) continue;
    for (const step of mask.steps) if (step.measure === 'runs' || step.measure === 'spreading') yield step;
  }
}

/**
 * Finds where processes begin, and how far what spreads gets; once for all tiles.
 * @param size of the stack's maps
 * @param known what was prepared before, for whoever composes again and again
 * @throws as `composeTile`
 */
export async function prepareProcesses(
  layers: readonly Layer[],
  surface: LayeredSurface,
  size: Size,
  inputsAt: InputsAt,
  known: PreparedProcesses = new Map(),
): Promise<PreparedProcesses> {
  const prepared = new Map<string, PreparedProcess>();
  for (const measure of wholeProcesses(layers)) {
    const key = processKey(measure);
    const before = known.get(key) ?? prepared.get(key);
    if (before) {
      prepared.set(key, before);
      continue;
    }
    const count = measure.measure === 'runs' ? measure.drops : measure.seeds;
    const places = await findSources({ ...measure, count }, surface, size, inputsAt);
    prepared.set(
      key,
      measure.measure === 'runs'
        ? { of: 'runs', starts: sharedPlaces(inOrderOfPlace(places, surface)) }
        : { of: 'spreading', spread: sharedSpread(spreadFrom(measure, places, surface)) },
    );
  }
  return prepared;
}

const sharedPlaces = ({ triangles, weights }: SourcePlaces): SourcePlaces => ({
  triangles: sharedCopyUint32(triangles),
  weights: sharedCopyFloat32(weights),
});

function sharedSpread({ mesh, shares }: Spread): Spread {
  const split = sharedUint8(mesh.split.length);
  split.set(mesh.split);
  return {
    mesh: {
      repeats: mesh.repeats,
      positions: sharedCopyFloat32(mesh.positions),
      corners: sharedCopyUint32(mesh.corners),
      split,
      halves: sharedCopyUint32(mesh.halves),
    },
    shares: sharedCopyFloat32(shares),
  };
}

/** @throws an Error where the process was not prepared: a fault in the order of calls */
export function requireProcess<Of extends PreparedProcess['of']>(
  of: Of,
  measure: WholeMeasure,
  processes: PreparedProcesses,
): Extract<PreparedProcess, { of: Of }> {
  const found = processes.get(processKey(measure));
  if (found?.of === of) return found as Extract<PreparedProcess, { of: Of }>;
  throw new Error(`The process “${of}” was not prepared before its tile was composed.`);
}

/** The name of the plane that a process writes for a tile. */
export const planeOfRuns = (measure: RunsMeasure): string => `runs ${JSON.stringify(measure)}`;

/**
 * Lets the drops of all runs leave what they leave on a tile, as planes that masks read.
 * @param known planes of the same tile and size that were made before
 */
export async function runPlanes(
  layers: readonly Layer[],
  tile: LayeredTile,
  inputs: LayerInputs,
  { doBlocks, onProgress = () => {} }: ComposeOptions,
  known: ReadonlyMap<string, Float32Array> = new Map(),
): Promise<Map<string, Float32Array>> {
  const planes = new Map<string, Float32Array>();
  let states: Uint8Array | null = null;
  for (const measure of wholeProcesses(layers)) {
    if (measure.measure !== 'runs') continue;
    const name = planeOfRuns(measure);
    const before = known.get(name) ?? planes.get(name);
    if (before) {
      planes.set(name, before);
      continue;
    }
    const left = sharedInt32(tile.size.width * tile.size.height);
    const finds = states === null;
    states ??= sharedUint8(left.length);
    const work = { do: 'runs', measure, plane: left, ...(finds && { states }) } as const;
    await doBlocks(work, inputs, (share) => onProgress(share * 0.01, 'runs'));
    const plane = sharedFloat32(left.length);
    plane.set(coveredByRuns(left, states, measure, tile));
    planes.set(name, plane);
  }
  return planes;
}
