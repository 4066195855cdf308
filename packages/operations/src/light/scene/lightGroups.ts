/** What of a placed light says which group it is in. */
interface Grouped {
  kind: string;
  group?: string | undefined;
}

/** The group of a light that nobody has put into one: its kind and number. */
export const groupOfLight = ({ group, kind }: Grouped, i: number): string => group ?? `${kind}-${i + 1}`;

/** The light groups of a bake, in order: the surroundings, surfaces that send light, and what is placed by its names. */
export function groupNames({ lights }: { lights: readonly Grouped[] }): string[] {
  return [...new Set(['environment', 'surfaces', ...lights.map(groupOfLight)])];
}

/** The number of each placed light's group. */
export function groupNumbers(settings: { lights: readonly Grouped[] }): number[] {
  const names = groupNames(settings);
  return settings.lights.map((light, i) => names.indexOf(groupOfLight(light, i)));
}
