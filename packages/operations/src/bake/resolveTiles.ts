import type { MeshFacts, OperationInputs } from '../operation.ts';
import type { BakeOperationSettings } from './settings.ts';

/** The tiles that will be baked, by number: all in which the receivers have islands, where that is asked for and known. */
export function resolveTiles<Settings extends Pick<BakeOperationSettings, 'tiles' | 'uvSet'>>(
  settings: Settings,
  { receivers }: OperationInputs<Pick<MeshFacts, 'uvTiles'>>,
): Settings {
  const { tiles, uvSet } = settings;
  if (tiles !== 'all') return { ...settings, tiles: sorted(tiles) };
  const ofEach = receivers.map(({ uvTiles }) => uvTiles?.[uvSet]);
  const all = ofEach.flatMap((own) => own ?? []);
  return all.length === 0 || ofEach.includes(undefined) ? settings : { ...settings, tiles: sorted(all) };
}

const sorted = (tiles: readonly number[]): number[] => [...new Set(tiles)].sort((a, b) => a - b);
