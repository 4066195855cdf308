import type { Size } from '@zographos/core/math';
import { ZographosError } from '@zographos/core/errors';
import {
  describeKind,
  followsNormalSpace,
  phraseOfKinds,
  type ColorSpace,
  type MapConvention,
  type MapKind,
} from '@zographos/core/image';
import { FIRST_TILE } from '@zographos/core/uv';
import { IMAGE_FORMATS } from '@zographos/formats/image-formats';
import type { DeliveredFile, DeliveryProfile, PackedChannel } from './settings.ts';

/** A map of a set, as far as a plan needs it. */
export interface MapFacts extends Size {
  kind: MapKind;
  tile: number;
  revision: number;
  colorSpace: ColorSpace;
  channels: number;
  range: readonly [number, number];
  /** How its directions or heights are meant. */
  convention?: MapConvention | undefined;
}

export interface SetFacts {
  name: string;
  maps: readonly MapFacts[];
  hasMesh: boolean;
}

/** One picture of a delivery before it is made. */
export interface PlannedFile extends Size {
  path: string;
  /** The number of the set. */
  set: number;
  tile: number;
  file: DeliveredFile;
}

export interface DeliveryPlan {
  files: PlannedFile[];
  /** Paths of what goes along, set by set. */
  meshes: { set: number; path: string }[];
  layered: { set: number; tile: number; path: string }[];
  /** What the artist should know: what is missing, resampled, or written as something else. */
  notes: string[];
}

/** Maps that the channels of a file come from. */
export function mapsOf(file: DeliveredFile): MapKind[] {
  if ('map' in file) return [file.map];
  return [...new Set(file.channels.flatMap((source) => ('map' in source ? [source.map] : [])))];
}

/**
 * Which files a delivery has, and what each is called.
 * @throws input/bad-settings when two files would get one name, or there is nothing to deliver
 */
export function planDelivery(profile: DeliveryProfile, project: string, sets: readonly SetFacts[]): DeliveryPlan {
  const plan: DeliveryPlan = { files: [], meshes: [], layered: [], notes: [] };
  sets.forEach((set, index) => {
    for (const tile of new Set(set.maps.map((map) => map.tile))) {
      const own = set.maps.filter((map) => map.tile === tile);
      for (const file of profile.files) planFile(plan, profile, project, set, index, own, tile, file);
      if (profile.layered && own.length > 0) {
        const path = named(profile, project, set, 'layers', tile, sizeOf(profile, own), revisionOf(own), 'ora');
        plan.layered.push({ set: index, tile, path });
      }
    }
    if (profile.mesh === 'none') return;
    if (!set.hasMesh) plan.notes.push(`“${set.name}” has no mesh, so none is included.`);
    else {
      requireGltfNormals(set);
      const folder = named(profile, project, set, 'mesh', FIRST_TILE, { width: 0, height: 0 }, 1, profile.mesh);
      plan.meshes.push({ set: index, path: folder });
    }
  });
  if (plan.files.length === 0) {
    throw new ZographosError(
      'input/bad-settings',
      `The profile “${profile.name}” asks for maps that the chosen sets do not have. Run their tickets first, or choose another profile.`,
    );
  }
  requireOwnNames(
    [...plan.files, ...plan.meshes, ...plan.layered].map(({ path }) => path),
    profile,
  );
  return { ...plan, notes: [...new Set(plan.notes)] };
}

/** @throws input/other-convention for normals that a material of glTF cannot hold */
function requireGltfNormals({ name, maps }: SetFacts): void {
  const normal = maps.find(({ kind }) => kind === 'normal');
  if (normal?.convention?.of !== 'direction' || normal.convention.space === 'tangent') return;
  throw new ZographosError(
    'input/other-convention',
    `The normal map of “${name}” is in object space, which a material of glTF cannot hold. Bake it in tangent space, or deliver without the mesh.`,
  );
}

function planFile(
  plan: DeliveryPlan,
  profile: DeliveryProfile,
  project: string,
  set: SetFacts,
  index: number,
  own: readonly MapFacts[],
  tile: number,
  file: DeliveredFile,
): void {
  const wanted = mapsOf(file);
  const there = own.filter(({ kind }) => wanted.includes(kind));
  const missing = wanted.filter((kind) => !own.some((map) => map.kind === kind));
  if (there.length === 0) {
    if (wanted.length > 0)
      plan.notes.push(`“${set.name}” has no ${phraseOfKinds(wanted)} map; “${file.label}” is left out.`);
    return;
  }
  for (const kind of missing) {
    plan.notes.push(
      `“${set.name}” has no ${describeKind(kind).phrase} map; “${file.label}” holds its neutral value instead.`,
    );
  }
  const size = sizeOf(profile, there);
  const largest = sizeOf({ halvings: 0, powerOfTwo: false }, there);
  for (const { kind, width, height } of there) {
    if (width === largest.width && height === largest.height) continue;
    plan.notes.push(
      `The ${describeKind(kind).phrase} map of “${set.name}” was resampled from ${width} × ${height} to ${largest.width} × ${largest.height} px for “${file.label}”.`,
    );
  }
  for (const { kind, convention } of there) {
    if (convention?.of !== 'direction' || convention.space === 'tangent' || !followsNormalSpace(kind)) continue;
    plan.notes.push(
      `The ${describeKind(kind).phrase} map of “${set.name}” is in object space and stays so in “${file.label}”; only a bake can turn it into tangent space.`,
    );
  }
  plan.notes.push(...mixedUp(set.name, file, there));
  const path = named(
    profile,
    project,
    set,
    file.label,
    tile,
    size,
    revisionOf(there),
    IMAGE_FORMATS[file.format].ending,
  );
  plan.files.push({ path, set: index, tile, file, ...size });
}

/** Colours written as data, and data as colours. */
function mixedUp(set: string, file: DeliveredFile, there: readonly MapFacts[]): string[] {
  if ('map' in file) {
    const { needsFloat, phrase } = describeKind(file.map);
    const { bits, label } = IMAGE_FORMATS[file.format];
    return needsFloat && bits < 32 ? [`The ${phrase} map of “${set}” loses steps in ${label}; 32 bits keep them.`] : [];
  }
  const spaces = file.channels.slice(0, 3).flatMap((source) => {
    const map = 'map' in source ? there.find(({ kind }) => kind === source.map) : undefined;
    return map ? [{ kind: map.kind, isColour: map.colorSpace === 'srgb' }] : [];
  });
  const colours = spaces.filter(({ isColour }) => isColour);
  if (colours.length === 0 || colours.length === spaces.length) {
    const alpha = file.channels[3];
    const isColourAlpha =
      alpha && 'map' in alpha && there.some(({ kind, colorSpace }) => kind === alpha.map && colorSpace === 'srgb');
    return isColourAlpha
      ? [
          `“${file.label}” packs ${describeKind(alpha.map).phrase}, which is sRGB, into alpha; its values are written unconverted. Put it into a file of its own if that is not intended.`,
        ]
      : [];
  }
  return [
    `“${file.label}” packs ${describeKind(colours[0]!.kind).phrase}, which is sRGB, together with linear data; its values are written unconverted, and the file counts as linear. Put it into a file of its own if that is not intended.`,
  ];
}

/** Whether red, green and blue are to be read through the sRGB curve. */
export function isColourFile(file: DeliveredFile, spaceOf: (kind: MapKind) => ColorSpace | undefined): boolean {
  const kinds =
    'map' in file
      ? [file.map]
      : file.channels.slice(0, 3).flatMap((source: PackedChannel) => ('map' in source ? [source.map] : []));
  return kinds.length > 0 && kinds.every((kind) => spaceOf(kind) === 'srgb');
}

/** The size of a file: that of its largest map, halved and made a power of two where that is asked for. */
function sizeOf(
  { halvings, powerOfTwo }: Pick<DeliveryProfile, 'halvings' | 'powerOfTwo'>,
  maps: readonly Size[],
): Size {
  const largest = maps.reduce((most, map) => (map.width * map.height > most.width * most.height ? map : most));
  const side = (length: number): number => {
    const halved = Math.max(1, Math.round(length / 2 ** halvings));
    return powerOfTwo ? 2 ** Math.round(Math.log2(halved)) : halved;
  };
  return { width: side(largest.width), height: side(largest.height) };
}

const revisionOf = (maps: readonly MapFacts[]): number => Math.max(...maps.map(({ revision }) => revision));

/** Signs that part folders or that systems do not take become dashes within a name. */
const plain = (name: string): string => name.replace(/[\\/:*?"<>|]/g, '-').replace(/^\.+/, '') || 'unnamed';

function named(
  { pattern }: DeliveryProfile,
  project: string,
  set: SetFacts,
  label: string,
  tile: number,
  { width, height }: Size,
  revision: number,
  ending: string,
): string {
  const tiles = new Set(set.maps.map((map) => map.tile));
  const values: Record<string, string> = {
    project: plain(project),
    set: plain(set.name),
    map: plain(label),
    tile: String(tile),
    size: width === height ? String(width) : `${width}x${height}`,
    revision: String(revision),
  };
  const filled = pattern.replace(/\{(\w+)\}/g, (all, key: string) => (Object.hasOwn(values, key) ? values[key]! : all));
  // With several tiles their number is always told.
  const suffix = tiles.size > 1 && !pattern.includes('{tile}') ? `.${tile}` : '';
  return `${filled}${suffix}.${ending}`;
}

function requireOwnNames(paths: readonly string[], { pattern }: DeliveryProfile): void {
  const seen = new Set<string>();
  for (const path of paths) {
    // Some systems do not tell capitals apart.
    const key = path.toLowerCase();
    if (key === 'manifest.json' || seen.has(key)) {
      throw new ZographosError(
        'input/bad-settings',
        `Two files would be called “${path}”. Give files other labels, or put {set} into the name “${pattern}”.`,
      );
    }
    seen.add(key);
  }
}
