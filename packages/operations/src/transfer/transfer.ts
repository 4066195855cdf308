import { NO_TWIN, sharedTriangles } from '@zographos/core/bake';
import type { BakedKind, Image, MapKind, Wrap } from '@zographos/core/image';
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
import { sceneOf } from '@zographos/core/trace';
import { bakeSettings, DEFAULT_BAKE, type BakeOperationSettings } from '../bake/settings.ts';
import { asMeant, isChannel, isColour, requireUvSet } from '../bake/carriedMaps.ts';
import type { RunResources } from '../context.ts';
import { runBake } from '../bake/bakeMaps.ts';
import type { RunMesh } from '../scene/runMesh.ts';

/** A map that lies on the source's layout. */
export interface TransferredMap {
  kind: MapKind;
  picture: MaterialPicture;
}

export interface TransferSettings {
  size: BakeOperationSettings['size'];
  padding: BakeOperationSettings['padding'];
  samples: number;
  /** UV sets of receiver and source. */
  uvSet: number;
  sourceUvSet: number;
  wrap: Wrap;
  /** Through the triangles that both share; the nearest place; rays; or whichever of the first two is possible. */
  how: 'auto' | BakeOperationSettings['aim'];
  reach: BakeOperationSettings['reach'];
  normalY: 'up' | 'down';
}

export interface Transferred {
  how: BakeOperationSettings['aim'];
  maps: { kind: MapKind; image: Image; states: Uint8Array }[];
}

/**
 * Carries maps over from one layout to another. Colours and data are filtered; colours that stand for things are not;
 * tangent normals are expressed in the receiver's frame; heights keep their values.
 * @throws input/no-uvs, input/unreadable-file, input/no-shared-triangles, run/nothing-hit
 */
export async function transfer(
  receivers: readonly RunMesh[],
  sources: readonly RunMesh[],
  maps: readonly TransferredMap[],
  settings: TransferSettings,
  context: RunResources,
): Promise<Transferred> {
  requireUvSet(sources, settings.sourceUvSet, 'the maps lie');
  const how = settings.how === 'auto' ? wayOf(receivers, sources) : settings.how;
  const done: Transferred['maps'] = [];
  // What materials have a channel for goes together, through the same samples; other maps each stand for a colour.
  const together = maps.filter(({ kind }) => isChannel(kind));
  const groups = [
    ...(together.length > 0 ? [together] : []),
    ...maps.filter(({ kind }) => !isChannel(kind)).map((map) => [map]),
  ];
  for (const group of groups) {
    const channels = group.map(({ kind }) => (isChannel(kind) ? kind : 'emission'));
    const baked = await runBake({
      ...context,
      loadSeconds: 0,
      settings: settingsOf(receivers, channels, how, settings, group),
      inputs: {
        receivers: [...receivers],
        sources: sources.map((source) => dressed(source, group, channels, settings)),
      },
    });
    baked.maps.forEach(({ kind, image, states }) => {
      const wanted = group[channels.findIndex((channel) => channel === kind)]!;
      done.push({ kind: wanted.kind, image: asMeant(wanted.kind, image), states });
    });
  }
  return { how, maps: maps.map(({ kind }) => done.find((each) => each.kind === kind)!) };
}

/** Meshes that are one but for their layouts share their triangles; else the nearest place is asked for. */
function wayOf(receivers: readonly RunMesh[], sources: readonly RunMesh[]): BakeOperationSettings['aim'] {
  const [receiver, source] = [receivers, sources].map((inputs) => sceneOf(inputs.map(({ mesh }) => mesh)));
  return sharedTriangles(receiver!, source!).includes(NO_TWIN) ? 'nearest' : 'shared';
}

function settingsOf(
  receivers: readonly RunMesh[],
  channels: readonly BakedKind[],
  how: BakeOperationSettings['aim'],
  { size, padding, samples, uvSet, reach, normalY }: TransferSettings,
  group: readonly TransferredMap[],
): BakeOperationSettings {
  const extent = Math.max(...receivers.map(({ mesh }) => diagonal(boundsOf(mesh.positions))));
  return bakeSettings.parse({
    ...DEFAULT_BAKE,
    maps: channels,
    size,
    padding,
    // A texel of colours that stand for things is the one at its middle.
    samples: group.some(({ kind }) => kind === 'id') ? 1 : samples,
    uvSet,
    aim: how,
    reach: how === 'rays' ? reach : { out: extent * 0.05, in: extent * 0.05 },
    normal: { space: 'tangent', y: normalY },
    prove: false,
  });
}

/** A source whose only material is what is carried over. */
function dressed(
  { hash, mesh }: RunMesh,
  group: readonly TransferredMap[],
  channels: readonly BakedKind[],
  { sourceUvSet, wrap }: TransferSettings,
): RunMesh {
  const pictures = Object.fromEntries(
    channels.map((channel, picture): [BakedKind, PictureUse] => [
      channel,
      {
        picture,
        uvSet: sourceUvSet,
        wrap: [wrap, wrap],
        transform: UNMOVED,
        channel: 0,
        ...(group[picture]!.kind === 'id' ? { unfiltered: true } : {}),
      },
    ]),
  );
  const material: Material = {
    ...PLAIN_MATERIAL,
    baseColor: [1, 1, 1],
    emission: [1, 1, 1],
    roughness: 1,
    metallic: 1,
    opacity: 1,
    pictures,
  };
  const bare: Mesh = {
    ...mesh,
    colors: null,
    slots: ['carried over'],
    triangleSlots: new Uint16Array(mesh.triangleSlots.length),
    materials: [material],
    pictures: group.map(({ kind, picture }) => ({ ...picture, isData: !isColour(kind) })),
  };
  return { hash: `${hash} dressed in ${group.map(({ picture }) => picture.name).join()}`, mesh: bare };
}
