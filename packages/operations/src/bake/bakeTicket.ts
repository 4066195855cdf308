import { ZographosError } from '@zographos/core/errors';
import {
  describeKind,
  isCategory,
  isColor,
  type BakedKind,
  type MapConvention,
  type MapKind,
  normalSpaceOf,
} from '@zographos/core/image';
import { PLAIN_MATERIAL, type Material, type MaterialPicture, type PictureLayer } from '@zographos/core/mesh';
import { passOf, type BakeOperationSettings, type PictureOfTicket } from './settings.ts';
import { asMeant, isChannel, requireUvSet, seenAs } from './carriedMaps.ts';
import type { RunPicture } from '../runContext.ts';
import { note, type Finding } from '../proof/finding.ts';
import { namesText } from '../wording.ts';
import { runBake, type BakeContext, type BakeResult } from './bakeMaps.ts';
import type { RunMesh } from '../scene/runMesh.ts';

/** What a bake is given, with the pictures that lie on its sources: image files as they came. */
export interface TicketContext extends BakeContext<BakeOperationSettings> {
  pictures?: RunPicture[];
}

/**
 * Bakes the maps of a ticket; those that its pictures give are carried over from them. Colours and numbers are filtered
 * and mixed as the ticket says; colours that stand for things are taken as they are; normals are expressed in the
 * receiver's frame.
 * @throws as `runBake`; input/bad-settings for a picture that is not among the ticket's, input/no-uvs for a source
 * without the UV set that a picture is to lie on, input/unreadable-file
 */
export async function bakeTicket(context: TicketContext): Promise<BakeResult> {
  const { maps } = context.settings;
  const carried = maps.filter((kind) => context.settings.pictures[kind]);
  const pass = passOf(context.settings);
  if (carried.length === 0) return runBake({ ...context, settings: pass });
  requirePictures(context, carried);
  // What materials have a channel for goes along with the other maps; the rest stands for a light of its own.
  const apart = carried.filter((kind) => !isChannel(kind));
  const together = pass.maps.filter((kind) => !(apart as readonly MapKind[]).includes(kind));
  const results: BakeResult[] = [];
  if (together.length > 0) {
    const settings = { ...context.settings, maps: together };
    results.push(
      await runBake({ ...context, settings, inputs: dressedInputs(context, carried.filter(isChannel), seenAs) }),
    );
  }
  for (const kind of apart) {
    const samples = isCategory(kind) ? 1 : context.settings.samples;
    const normal = normalSpaceOf(kind, context.settings.normal);
    const settings = { ...context.settings, maps: [seenAs(kind)], samples, normal, prove: false };
    const inputs = dressedInputs(context, [kind], seenAs);
    const { maps: made, ...rest } = await runBake({ ...context, settings, inputs, earlier: null });
    const meant = conventionOf(context, kind);
    results.push({ ...rest, maps: made.map((map) => ({ ...map, kind, image: asMeant(kind, map.image, meant) })) });
  }
  const [first] = results;
  const all = results.flatMap((result) => result.maps);
  first!.report.findings.push(...aboutLayout(context, carried));
  const inOrder = maps.flatMap((kind) => all.filter((map) => map.kind === kind));
  // Of a bake in parts, none can be taken over as a whole.
  return { ...first!, maps: inOrder, records: results.length > 1 ? [] : first!.records };
}

/** Images on the receiver's own layout are taken at their word: a file does not say for which UVs it was made. */
function aboutLayout({ settings, inputs, pictures = [] }: TicketContext, carried: readonly MapKind[]): Finding[] {
  const { receivers, sources } = inputs;
  const isItself =
    settings.aim === 'shared' &&
    receivers.length === sources.length &&
    receivers.every(({ hash }) => sources.some((source) => source.hash === hash)) &&
    carried.every((kind) => settings.pictures[kind]!.every(({ uvSet }) => uvSet === settings.uvSet));
  if (!isItself) return [];
  const of = namesText([...new Set(pictures.map(({ name }) => `“${name}”`))], 'image');
  return [
    note(
      'unchecked-layout',
      `Whether ${of} ${pictures.length === 1 ? 'was' : 'were'} made for these UVs cannot be checked, for an image does not say so. Look at the maps on the model.`,
    ),
  ];
}

function requirePictures({ settings, inputs, pictures = [] }: TicketContext, carried: readonly MapKind[]): void {
  for (const kind of carried) {
    for (const { picture, uvSet } of settings.pictures[kind]!) {
      if (!pictures[picture]) {
        throw new ZographosError(
          'input/bad-settings',
          `The ${describeKind(kind).phrase} map is to come from picture ${picture + 1}, but the ticket has ${pictures.length}. Choose it again.`,
        );
      }
      requireUvSet(inputs.sources, uvSet, `“${pictures[picture].name}” lies`);
    }
  }
}

/** How the uppermost picture of a map is meant, which the map that is carried over from it takes on. */
const conventionOf = ({ settings, pictures = [] }: TicketContext, kind: MapKind): MapConvention | undefined =>
  pictures[settings.pictures[kind]!.at(-1)!.picture]?.convention;

/** The same inputs, whose sources wear the ticket's pictures. */
function dressedInputs(
  { inputs, settings, pictures = [] }: TicketContext,
  carried: readonly MapKind[],
  as: (kind: MapKind) => BakedKind,
): BakeContext['inputs'] {
  const known = new Map<RunMesh, RunMesh>();
  const dress = (source: RunMesh): RunMesh => {
    const done = known.get(source) ?? dressed(source);
    known.set(source, done);
    return done;
  };
  const dressed = ({ hash, mesh }: RunMesh): RunMesh => {
    const own = mesh.pictures ?? [];
    const materials = mesh.slots.map((_, slot) => {
      let material: Material = mesh.materials?.[slot] ?? PLAIN_MATERIAL;
      for (const kind of carried) material = wearing(material, as(kind), kind, settings.pictures[kind]!, own.length);
      return material;
    });
    const isData = carried.every((kind) => !isColor(kind));
    return {
      hash: `${hash} wearing ${JSON.stringify(carried.map((kind) => [kind, settings.pictures[kind]]))} ${pictures.map(nameOf).join()}`,
      mesh: { ...mesh, materials, pictures: [...own, ...pictures.map((each) => laidOn(each, isData))] },
    };
  };
  return { ...inputs, sources: inputs.sources.map(dress) };
}

/** What tells a picture, and how it is meant, from others. */
const nameOf = ({ hash, colorSpace, convention }: RunPicture): string =>
  colorSpace || convention ? `${hash} ${JSON.stringify([colorSpace, convention])}` : hash;

/** A picture as a material has it. @param isData whether its numbers are meant as they are */
const laidOn = ({ name, bytes, colorSpace, convention }: RunPicture, isData: boolean): MaterialPicture => ({
  ...{ name, bytes, isData: isData || colorSpace === 'linear' },
  ...(convention ? { convention } : {}),
});

function wearing(
  material: Material,
  channel: MapKind,
  kind: MapKind,
  given: readonly PictureOfTicket[],
  first: number,
): Material {
  const layers = given.map((layer) => layerOf(layer, kind, first));
  // Normals are not mixed: the uppermost counts.
  if (channel === 'normal') {
    return { ...material, normalScale: 1, pictures: { ...material.pictures, normal: layers.at(-1)!.use } };
  }
  return { ...material, layers: { ...material.layers, [channel]: layers } };
}

function layerOf(
  { picture, uvSet, wrap, tiling, blend, opacity, tint, contrast, saturation, pick }: PictureOfTicket,
  kind: MapKind,
  first: number,
): PictureLayer {
  return {
    use: {
      picture: first + picture,
      uvSet,
      wrap: [wrap, wrap],
      transform: [tiling[0], 0, 0, 0, tiling[1], 0],
      channel: 0,
      ...(pick ? { pick } : {}),
      ...(isCategory(kind) ? { unfiltered: true } : {}),
    },
    blend,
    opacity,
    change: { tint, contrast, saturation },
    ...(isCategory(kind) || !isColor(kind) ? { isData: true } : {}),
  };
}
