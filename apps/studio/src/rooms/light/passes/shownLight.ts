import { describeKind, type MapKind } from '@zographos/core/image';
import { GROUP_KINDS, groupNames, type LightSettings } from '@zographos/operations';

/** A part of the combined light that can be switched off by itself. */
export interface LightPart {
  kind: MapKind;
  label: string;
}

/** Passes that make up all light, the finest first. */
const DIVISIONS: readonly (readonly MapKind[])[] = [
  ['diffusedirect', 'diffuseindirect', 'reflection', 'refraction', 'emitted'],
  ['diffuselight', 'reflection', 'refraction', 'emitted'],
  ['direct', 'indirect', 'refraction', 'emitted'],
];

/**
 * What the combined light can be mixed of anew without a run: the light groups, where they are there, else passes that add
 * up to it.
 * @param made the kinds of maps that are there @returns none where nothing adds up
 * @example partsOfLight(settings, new Set(['combined', 'lightgroupa', 'lightgroupb'])) // environment, surfaces
 */
export function partsOfLight(settings: Pick<LightSettings, 'lights'>, made: ReadonlySet<MapKind>): LightPart[] {
  const names = groupNames(settings);
  const groups = names.map((name, i) => ({ kind: GROUP_KINDS[i]!, label: name }));
  if (groups.every(({ kind }) => made.has(kind))) return groups;
  const division = DIVISIONS.find((kinds) => kinds.every((kind) => made.has(kind)));
  return (division ?? []).map((kind) => ({ kind, label: describeKind(kind).label }));
}

/** The maps that make up what is shown: one, or of the combined light those of its parts that are on. */
export function kindsShown(kind: MapKind, parts: readonly LightPart[], off: ReadonlySet<MapKind>): MapKind[] {
  const isMixed = kind === 'combined' && parts.some((part) => off.has(part.kind));
  return isMixed ? parts.filter((part) => !off.has(part.kind)).map((part) => part.kind) : [kind];
}
