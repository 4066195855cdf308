import { ZographosError } from '@zographos/core/errors';
import type { BakedKind } from '@zographos/core/image';
import { PLAIN_MATERIAL, type Material, type PictureLayer } from '@zographos/core/mesh';
import type { BakeOperationSettings, PictureOfTicket } from './settings.ts';
import { asMeant, isChannel, isColour, requireUvSet } from './carriedMaps.ts';
import type { RunContext, RunResult } from '../context.ts';
import { runBake } from './bakeMaps.ts';
import type { RunMesh } from '../scene/runMesh.ts';

type Context = RunContext<BakeOperationSettings>;

/**
 * Bakes the maps of a ticket; those that its pictures give are carried over from them. Colours and numbers are filtered
 * and mixed as the ticket says; colours that stand for things are taken as they are; normals are expressed in the
 * receiver's frame.
 * @throws as `runBake`; input/bad-settings for a picture that is not among the ticket's, input/no-uvs for a source
 * without the UV set that a picture is to lie on, input/unreadable-file
 */
export async function bakeTicket(context: Context): Promise<RunResult> {
  const { maps } = context.settings;
  const carried = maps.filter((kind) => context.settings.pictures[kind]);
  if (carried.length === 0) return runBake(context);
  requirePictures(context, carried);
  // What materials have a channel for goes along with the other maps; the rest stands for a light of its own.
  const apart: BakedKind[] = carried.filter((kind) => !isChannel(kind));
  const together = maps.filter((kind) => !apart.includes(kind));
  const results: RunResult[] = [];
  if (together.length > 0) {
    const settings = { ...context.settings, maps: together };
    results.push(await runBake({ ...context, settings, inputs: dressedInputs(context, carried, (kind) => kind) }));
  }
  for (const kind of apart) {
    const samples = kind === 'id' ? 1 : context.settings.samples;
    const settings = { ...context.settings, maps: ['emission' as const], samples, prove: false };
    const inputs = dressedInputs(context, [kind], () => 'emission');
    const { maps: made, ...rest } = await runBake({ ...context, settings, inputs, earlier: null });
    results.push({ ...rest, maps: made.map((map) => ({ ...map, kind, image: asMeant(kind, map.image) })) });
  }
  const [first] = results;
  const all = results.flatMap((result) => result.maps);
  const inOrder = maps.flatMap((kind) => all.filter((map) => map.kind === kind));
  // Of a bake in parts, none can be taken over as a whole.
  return { ...first!, maps: inOrder, records: results.length > 1 ? [] : first!.records };
}

function requirePictures({ settings, inputs, pictures = [] }: Context, carried: readonly BakedKind[]): void {
  for (const kind of carried) {
    for (const { picture, uvSet } of settings.pictures[kind]!) {
      if (!pictures[picture]) {
        throw new ZographosError(
          'input/bad-settings',
          `The ${kind} map is to come from picture ${picture + 1}, but the ticket has ${pictures.length}. Choose it again.`,
        );
      }
      requireUvSet(inputs.sources, uvSet, `“${pictures[picture].name}” lies`);
    }
  }
}

/** The same inputs, whose sources wear the ticket's pictures. */
function dressedInputs(
  { inputs, settings, pictures = [] }: Context,
  carried: readonly BakedKind[],
  as: (kind: BakedKind) => BakedKind,
): Context['inputs'] {
  const worn = carried.filter((kind) => isChannel(as(kind)));
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
      for (const kind of worn) material = wearing(material, as(kind), kind, settings.pictures[kind]!, own.length);
      return material;
    });
    const data = worn.every((kind) => !isColour(kind));
    return {
      hash: `${hash} wearing ${JSON.stringify(worn.map((kind) => [kind, settings.pictures[kind]]))} ${pictures.map((each) => each.hash).join()}`,
      mesh: { ...mesh, materials, pictures: [...own, ...pictures.map((each) => ({ ...each, isData: data }))] },
    };
  };
  return { ...inputs, sources: inputs.sources.map(dress) };
}

function wearing(
  material: Material,
  channel: BakedKind,
  kind: BakedKind,
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
  { picture, uvSet, wrap, tiling, blend, opacity, tint, contrast, saturation }: PictureOfTicket,
  kind: BakedKind,
  first: number,
): PictureLayer {
  return {
    use: {
      picture: first + picture,
      uvSet,
      wrap: [wrap, wrap],
      transform: [tiling[0], 0, 0, 0, tiling[1], 0],
      channel: 0,
      ...(kind === 'id' ? { unfiltered: true } : {}),
    },
    blend,
    opacity,
    change: { tint, contrast, saturation },
    ...(kind === 'id' || !isColour(kind) ? { isData: true } : {}),
  };
}
