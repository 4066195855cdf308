import sharp from 'sharp';
import { afterAll, describe, expect, it } from 'vitest';
import { pickChannel, TexelState, type ChannelPick, type Image, type MapKind } from '@zographos/core/image';
import { addUvSet, PLAIN_MATERIAL, UNMOVED, type Mesh } from '@zographos/core/mesh';
import { reliefPlane, sphere } from '@zographos/core/testing';
import { encodeImage } from '@zographos/formats/images';
import { layoutSettings } from '../layout/settings.ts';
import { layOut } from '../layout/layOut.ts';
import { run as runMerge } from '../merge/run.ts';
import { mergeSettings } from '../merge/settings.ts';
import { ticketOfMerge } from '../merge/ticketOfMerge.ts';
import { costOf } from '../merge/drawCost.ts';
import { materialOf } from '../merge/materialOf.ts';
import { withOneMaterial } from '../merge/mergeMeshes.ts';
import type { MergedKind } from '../merge/settings.ts';
import { hashedMesh } from '../scene/runMesh.ts';
import { collect, quietly } from '../testing/collect.ts';
import { bakeTicket } from './bakeTicket.ts';
import { closeBakePool } from './bakeMaps.ts';
import { transferSettings, type MapToCarry, type TransferOptions } from './transferSettings.ts';

afterAll(closeBakePool);

const settings: TransferOptions = {
  size: { width: 256, height: 256 },
  padding: 'all',
  samples: 2,
  uvSet: 0,
  sourceUvSet: 0,
  wrap: 'clamp',
  aim: 'auto',
  reach: 'auto',
  normalY: 'up',
};
const hashed = (mesh: Mesh) => ({
  mesh,
  hash: `${mesh.name} ${mesh.uvSets.map(({ name, coords }) => name + coords.slice(0, 64).join()).join()}`,
});
const unwrapped = async (mesh: Mesh): Promise<Mesh> =>
  (
    await layOut(
      [mesh],
      layoutSettings.parse({ method: 'unwrap', size: { width: 512, height: 512 }, gap: 8, edge: 8, passes: 1 }),
    )
  ).meshes[0]!;

/** A picture without edges: what bilinear sampling loses of it is far below one step of eight bits. */
function waves(side: number, channels: 1 | 3): Image {
  const data = new Float32Array(side * side * channels);
  for (let y = 0; y < side; y++) {
    for (let x = 0; x < side; x++) {
      for (let c = 0; c < channels; c++) {
        const turn = ((x * (c + 1) + y * (3 - c)) / side) * 2 * Math.PI;
        data[(y * side + x) * channels + c] = 0.5 + 0.4 * Math.sin(turn);
      }
    }
  }
  return { width: side, height: side, channels, data };
}

interface GivenMap extends MapToCarry {
  picture: { name: string; bytes: Uint8Array; hash: string };
}

/** Carries maps over from sources to receivers. */
async function transfer(
  receivers: ReturnType<typeof hashed>[],
  sources: ReturnType<typeof hashed>[],
  carried: readonly GivenMap[],
  options: TransferOptions,
) {
  const meshes = (inputs: typeof receivers) => inputs.map(({ mesh }) => mesh);
  const ticket = transferSettings(meshes(receivers), meshes(sources), carried, options);
  const pictures = carried.map(({ picture }) => picture);
  const { maps } = await bakeTicket({
    ...quietly(2),
    loadSeconds: 0,
    settings: ticket,
    inputs: { receivers, sources },
    pictures,
  });
  return { how: ticket.aim, maps };
}

const mapOf = async (kind: MapKind, image: Image, pick: ChannelPick | null = null): Promise<GivenMap> => ({
  ...{ kind, pick },
  picture: {
    name: `${kind}.png`,
    bytes: await encodeImage(image, 'png16'),
    hash: `${kind} ${image.data.slice(0, 99).join()}`,
  },
});

/** Mean and greatest difference where the layout covers texels well within islands. */
function difference(a: Image, b: Image, states: Uint8Array): { mean: number; most: number } {
  let [sum, count, most] = [0, 0, 0];
  const { width, height, channels } = a;
  for (let y = 4; y < height - 4; y++) {
    for (let x = 4; x < width - 4; x++) {
      const around = [-4, 0, 4].every((dy) =>
        [-4, 0, 4].every((dx) => states[(y + dy) * width + x + dx] === TexelState.covered),
      );
      if (!around) continue;
      for (let c = 0; c < channels; c++) {
        const d = Math.abs(a.data[(y * width + x) * channels + c]! - b.data[(y * width + x) * channels + c]!);
        sum += d;
        count++;
        most = Math.max(most, d);
      }
    }
  }
  return { mean: sum / count, most };
}

describe('carrying maps over', () => {
  it('there and back gives the same picture, away from seams, to less than a step of eight bits', async () => {
    const old = sphere('float', 1, 24, 48);
    const fresh = await unwrapped(old);
    const picture = waves(256, 1);
    const large = { ...settings, size: { width: 512, height: 512 } };
    const there = await transfer([hashed(fresh)], [hashed(old)], [await mapOf('roughness', picture)], large);
    expect(there.how).toBe('shared');
    const back = await transfer(
      [hashed(old)],
      [hashed(fresh)],
      [await mapOf('roughness', there.maps[0]!.image)],
      settings,
    );
    const { mean } = difference(back.maps[0]!.image, picture, back.maps[0]!.states);
    expect(mean).toBeLessThan(1 / 255);
  });

  it('expresses normals in the new frame: on a plane turned by a quarter, x becomes y', async () => {
    const plane = reliefPlane('plane', 4, 1);
    // u of the new layout runs along −y of the old one, v along x.
    const turned = plane.uvSets[0]!.coords.map((_, i, all) => (i % 2 === 0 ? 1 - all[i + 1]! : all[i - 1]!));
    const fresh = addUvSet(plane, { name: 'turned', coords: turned });
    const lean = [0.6, 0, 0.8];
    const flat: Image = {
      width: 8,
      height: 8,
      channels: 3,
      data: new Float32Array(192).map((_, i) => (lean[i % 3]! + 1) / 2),
    };
    const { maps } = await transfer([hashed(fresh)], [hashed(plane)], [await mapOf('normal', flat)], settings);
    const at = 128 * 256 * 3 + 128 * 3;
    const { data } = maps[0]!.image;
    [0, 0.6, 0.8].forEach((value, k) => expect(data[at + k]).toBeCloseTo((value + 1) / 2, 3));
  });

  it('never mixes colours that stand for things, and keeps data as they are', async () => {
    const old = sphere('float', 1, 12, 24);
    const fresh = await unwrapped(old);
    const checks: Image = { ...waves(64, 3), colorSpace: 'srgb' };
    for (let i = 0; i < checks.data.length; i++) {
      const texel = Math.floor(i / 3);
      checks.data[i] = (Math.floor((texel % 64) / 8) + Math.floor(texel / 64 / 8)) % 2 === i % 2 ? 1 : 0;
    }
    const { maps } = await transfer(
      [hashed(fresh)],
      [hashed(old)],
      [await mapOf('id', checks), await mapOf('ao', waves(64, 1))],
      settings,
    );
    expect(maps.map(({ kind, image }) => [kind, image.channels])).toEqual([
      ['id', 3],
      ['ao', 1],
    ]);
    const colours = new Set<string>();
    const { data } = maps[0]!.image;
    for (let i = 0; i < data.length; i += 3)
      colours.add(
        data
          .slice(i, i + 3)
          .map((v) => Math.round(v * 1e4) / 1e4)
          .join(),
      );
    expect([...colours].sort()).toEqual(['0,1,0', '1,0,1']);
    expect(Math.min(...maps[1]!.image.data)).toBeCloseTo(0.1, 1);
    expect(Math.max(...maps[1]!.image.data)).toBeCloseTo(0.9, 1);
  });

  it('takes any channel of a file, for a kind that materials have and for one that they have not', async () => {
    const plane = reliefPlane('plane', 4, 1);
    const orm = waves(256, 3);
    const picks: Partial<Record<MapKind, ChannelPick>> = {
      ao: { channel: 0 },
      roughness: { channel: 1 },
      metallic: { channel: 2, invert: true },
      // There is none: it is 1 everywhere.
      cavity: { channel: 3 },
    };
    const given = await Promise.all(Object.entries(picks).map(([kind, pick]) => mapOf(kind as MapKind, orm, pick)));
    const { maps } = await transfer([hashed(plane)], [hashed(plane)], given, settings);
    expect(maps.map(({ kind }) => kind).sort()).toEqual(Object.keys(picks).sort());
    for (const { kind, image, states } of maps) {
      expect(image.channels).toBe(1);
      expect(difference(image, pickChannel(orm, picks[kind]), states).mean, kind).toBeLessThan(1 / 255);
    }
  });

  it('between different meshes goes by the nearest place, and refuses what has no UVs', async () => {
    const [fine, coarse] = [sphere('fine', 1, 32, 64), sphere('coarse', 1.01, 24, 48)];
    const map = await mapOf('roughness', waves(256, 1));
    const { how, maps } = await transfer([hashed(coarse)], [hashed(fine)], [map], settings);
    expect(how).toBe('nearest');
    expect(difference(maps[0]!.image, waves(256, 1), maps[0]!.states).mean).toBeLessThan(0.02);
    const shared = transfer([hashed(coarse)], [hashed(fine)], [map], { ...settings, aim: 'shared' });
    await expect(shared).rejects.toMatchObject({ code: 'input/no-shared-triangles' });
    const bare = transfer([hashed({ ...coarse, uvSets: [] })], [hashed(fine)], [map], settings);
    await expect(bare).rejects.toMatchObject({ code: 'input/no-uvs' });
  });
});

describe('melting materials', () => {
  const picture = async (r: number, g: number, b: number) => ({
    name: `${r}.png`,
    bytes: new Uint8Array(
      await sharp({ create: { width: 8, height: 8, channels: 3, background: { r, g, b } } })
        .png()
        .toBuffer(),
    ),
  });

  it('of solid colours and pictures gives one image set, one mesh and one draw call, and counts them', async () => {
    const brass: Mesh = {
      ...sphere('cleat', 1, 12, 24),
      slots: ['brass', 'paint'],
      materials: [
        { ...PLAIN_MATERIAL, baseColor: [1, 0, 0], roughness: 0.25, metallic: 1 },
        {
          ...PLAIN_MATERIAL,
          baseColor: [1, 1, 1],
          pictures: { basecolor: { picture: 0, uvSet: 0, wrap: ['repeat', 'repeat'], transform: UNMOVED, channel: 0 } },
        },
      ],
      pictures: [await picture(0, 0, 255)],
    };
    brass.triangleSlots = brass.triangleSlots.map((_, t) => (t % 2 === 0 ? 0 : 1));
    const ring: Mesh = { ...sphere('ring', 0.5, 12, 24), materials: [{ ...PLAIN_MATERIAL, baseColor: [0, 1, 0] }] };
    const size = { width: 256, height: 256 };
    const settings = mergeSettings.parse({
      maps: ['basecolor', 'roughness', 'metallic', 'normal'],
      layout: layoutSettings.parse({ method: 'unwrap', size, gap: 4, edge: 4, passes: 1 }),
      ...{ size, padding: 4, samples: 2, keepObjects: false, name: 'kit' },
    });
    const objects = [brass, ring].map(hashedMesh);
    const merge = await collect(runMerge, { settings, inputs: { receivers: objects, sources: [] } });
    const { maps } = await bakeTicket({
      ...{ ...quietly(2), loadSeconds: 0, settings: ticketOfMerge(settings) },
      inputs: { receivers: merge.meshes.map(hashedMesh), sources: objects },
    });
    const done = maps.map(({ kind, image }) => ({ kind: kind as MergedKind, image }));
    const meshes = withOneMaterial(merge.meshes, settings, await materialOf('kit', done));
    const { before, after } = merge.report;
    expect(await costOf(meshes)).toEqual(after);
    expect(before).toMatchObject({ objects: 2, materials: 3, images: 1, drawCalls: 3 });
    expect(after).toMatchObject({ objects: 1, materials: 1, images: 3, drawCalls: 1 });
    expect(meshes).toHaveLength(1);
    expect(meshes[0]!.indices.length).toBe(brass.indices.length + ring.indices.length);
    // At the middle of each triangle stands the colour of its old material.
    const [color, roughness] = maps.map(({ image }) => image);
    const { indices, uvSets } = meshes[0]!;
    const middle = (image: Image, t: number): number[] => {
      const [u, v] = [0, 1].map((k) =>
        [0, 1, 2].reduce((sum, c) => sum + uvSets[0]!.coords[indices[t * 3 + c]! * 2 + k]! / 3, 0),
      ) as [number, number];
      const at = Math.floor((1 - v) * 256) * 256 + Math.floor(u * 256);
      return [...image.data.slice(at * image.channels, (at + 1) * image.channels)].map(
        (value) => Math.round(value * 100) / 100,
      );
    };
    // Triangles of the middle rows are several texels large.
    const triangle = brass.indices.length / 6 - ((brass.indices.length / 6) % 2);
    expect(middle(color!, triangle)).toEqual([1, 0, 0]);
    expect(middle(color!, triangle + 1)).toEqual([0, 0, 1]);
    expect(middle(color!, brass.indices.length / 3 + triangle)).toEqual([0, 1, 0]);
    expect(middle(roughness!, triangle)).toEqual([0.25]);
    expect(middle(roughness!, triangle + 1)).toEqual([0.5]);
    // A mesh seen by itself is flat: 128, 128, 255 (common practice, no source), but for rounding in a few texels.
    const normals = await sharp(await encodeImage(maps[3]!.image, 'png8'))
      .raw()
      .toBuffer();
    expect(normals.filter((value) => value !== 128 && value !== 255).length).toBeLessThan(normals.length / 2000);
  });
});
