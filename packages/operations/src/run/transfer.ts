import {
  boundsOf,
  diagonal,
  MATERIAL_CHANNELS,
  NO_TWIN,
  PLAIN_MATERIAL,
  sharedTriangles,
  sceneOf,
  UNMOVED,
  ZographosError,
  type Image,
  type MapKind,
  type Material,
  type MaterialPicture,
  type Mesh,
  type PictureUse,
  type Wrap,
} from '@zographos/core';
import { bakeSettings, DEFAULT_BAKE, type BakeOperationSettings } from '../bake/bakeSettings.ts';
import type { RunResources } from './context.ts';
import { runBake } from './runBake.ts';
import type { RunMesh } from './runMesh.ts';

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
  requireUvs(sources, settings.sourceUvSet);
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
      done.push({ kind: wanted.kind, image: asMeant(image, wanted), states });
    });
  }
  return { how, maps: maps.map(({ kind }) => done.find((each) => each.kind === kind)!) };
}

/** A layout that is not there would be read as a single point. */
function requireUvs(sources: readonly RunMesh[], uvSet: number): void {
  const bare = sources.find(({ mesh }) => !mesh.uvSets[uvSet]);
  if (!bare) return;
  throw new ZographosError(
    'input/no-uvs',
    `“${bare.mesh.name}” has no UV set ${uvSet + 1}, so it cannot be told where the maps lie on it. Choose another of its sets, or another source.`,
  );
}

type Channel = (typeof MATERIAL_CHANNELS)[number] | 'normal';
const isChannel = (kind: MapKind): kind is Channel =>
  kind === 'normal' || (MATERIAL_CHANNELS as readonly string[]).includes(kind);

/** Meshes that are one but for their layouts share their triangles; else the nearest place is asked for. */
function wayOf(receivers: readonly RunMesh[], sources: readonly RunMesh[]): BakeOperationSettings['aim'] {
  const [receiver, source] = [receivers, sources].map((inputs) => sceneOf(inputs.map(({ mesh }) => mesh)));
  return sharedTriangles(receiver!, source!).includes(NO_TWIN) ? 'nearest' : 'shared';
}

function settingsOf(
  receivers: readonly RunMesh[],
  channels: readonly Channel[],
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
  channels: readonly Channel[],
  { sourceUvSet, wrap }: TransferSettings,
): RunMesh {
  const pictures = Object.fromEntries(
    channels.map((channel, picture): [Channel, PictureUse] => [
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

const isColour = (kind: MapKind): boolean =>
  kind === 'basecolor' || kind === 'emission' || kind === 'id' || kind === 'image';

/** The image as its own kind: what is data goes as it is, what is grey as one channel. */
function asMeant(image: Image, { kind }: TransferredMap): Image {
  if (isChannel(kind) || isColour(kind)) return image;
  const { width, height, channels, data } = image;
  const plain: Image = { width, height, channels, data };
  return GREY.includes(kind) ? firstChannel(plain) : plain;
}

const GREY: readonly MapKind[] = ['height', 'ao', 'thickness', 'curvature', 'gradient', 'coverage', 'guide', 'mask'];

function firstChannel(image: Image): Image {
  const data = new Float32Array(image.width * image.height);
  for (let i = 0; i < data.length; i++) data[i] = image.data[i * image.channels]!;
  return { ...image, channels: 1, data };
}
