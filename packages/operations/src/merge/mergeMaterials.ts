import type { Image } from '@zographos/core/image';
import {
  boundsOf,
  diagonal,
  PLAIN_MATERIAL,
  UNMOVED,
  type Material,
  type MaterialPicture,
  type Mesh,
  type PictureUse,
} from '@zographos/core/mesh';
import { encodeImage } from '@zographos/formats/images';
import { bakeSettings, DEFAULT_BAKE } from '../bake/settings.ts';
import type { DrawCost, MergedKind, MergeSettings } from './settings.ts';
import type { RunResources } from '../context.ts';
import { costOf } from './drawCost.ts';
import { onOneLayout, withOneMaterial } from './mergeMeshes.ts';
import { runBake } from '../bake/bakeMaps.ts';
import { hashedMesh } from '../scene/runMesh.ts';

export interface Merged {
  meshes: Mesh[];
  maps: { kind: MergedKind; image: Image; states: Uint8Array }[];
  before: DrawCost;
  after: DrawCost;
}

/**
 * Melts the materials of some objects into one: one layout, one set of images without any light in it, and one mesh
 * (or the same meshes with one material). The objects given stay as they are.
 * @throws input/no-uvs, limit/packing, limit/memory, input/unreadable-file
 */
export async function mergeMaterials(
  objects: readonly Mesh[],
  settings: MergeSettings,
  context: RunResources,
  cancel?: AbortSignal,
): Promise<Merged> {
  const laidOut = await onOneLayout(objects, settings, () => {}, cancel);
  const inputs = laidOut.map(hashedMesh);
  const { maps } = await runBake({
    ...context,
    loadSeconds: 0,
    settings: bakeSettings.parse({
      ...DEFAULT_BAKE,
      maps: settings.maps,
      size: settings.size,
      padding: settings.padding,
      samples: settings.samples,
      // Each object sees its own triangles, whatever stands in the same place.
      aim: 'shared',
      reach: reachOf(laidOut),
      prove: false,
    }),
    inputs: { receivers: inputs, sources: inputs },
  });
  const done = maps.map(({ kind, image, states }) => ({ kind: kind as MergedKind, image, states }));
  const made = await materialOf(settings.name, done);
  const merged = withOneMaterial(laidOut, settings, made);
  return { meshes: merged, maps: done, before: await costOf(objects), after: await costOf(merged) };
}

function reachOf(meshes: readonly Mesh[]): { out: number; in: number } {
  const extent = Math.max(...meshes.map(({ positions }) => diagonal(boundsOf(positions))));
  return { out: extent * 1e-3, in: extent * 1e-3 };
}

/**
 * The material whose pictures are the maps; what has no map keeps the plain value. Roughness and metallic share one
 * picture, in green and blue, as glTF has them.
 */
export async function materialOf(
  name: string,
  maps: readonly { kind: MergedKind; image: Image }[],
): Promise<{ material: Material; pictures: MaterialPicture[] }> {
  const pictures: MaterialPicture[] = [];
  const uses: Partial<Record<MergedKind, PictureUse>> = {};
  const add = async (title: string, image: Image, channels: Partial<Record<MergedKind, number>>): Promise<void> => {
    const bytes = new Uint8Array(await encodeImage(image, 'png8'));
    const picture = pictures.push({ name: `${name}_${title}.png`, bytes }) - 1;
    for (const [kind, channel] of Object.entries(channels)) {
      uses[kind as MergedKind] = { picture, uvSet: 0, wrap: ['repeat', 'repeat'], transform: UNMOVED, channel };
    }
  };
  const of = (kind: MergedKind): Image | undefined => maps.find((each) => each.kind === kind)?.image;
  const [roughness, metallic] = [of('roughness'), of('metallic')];
  if (roughness && metallic) {
    await add('roughness-metallic', planes(roughness, metallic), { roughness: 1, metallic: 2 });
  }
  for (const { kind, image } of maps) if (!uses[kind]) await add(kind, image, { [kind]: 0 });
  const material: Material = {
    ...PLAIN_MATERIAL,
    ...(uses.basecolor ? { baseColor: [1, 1, 1] as const } : {}),
    ...(uses.emission ? { emission: [1, 1, 1] as const } : {}),
    ...(uses.roughness ? { roughness: 1 } : {}),
    ...(uses.metallic ? { metallic: 1 } : {}),
    tinted: true,
    pictures: uses,
  };
  return { material, pictures };
}

/** White in red, and two grey images in green and blue. */
function planes(green: Image, blue: Image): Image {
  const data = new Float32Array(green.data.length * 3).fill(1);
  for (let i = 0; i < green.data.length; i++) {
    data[i * 3 + 1] = green.data[i]!;
    data[i * 3 + 2] = blue.data[i]!;
  }
  return { width: green.width, height: green.height, channels: 3, data };
}
