import { decode as decodePng } from 'fast-png';
import fc from 'fast-check';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { GLTF_NORMAL, type Image } from '@zographos/core/image';
import { PLAIN_MATERIAL, triangleCount, UNMOVED, type Material, type Mesh } from '@zographos/core/mesh';
import { reliefPlane, sphere } from '@zographos/core/testing';
import { bakeSettings } from '../bake/settings.ts';
import { costOf, costOfMerge } from './drawCost.ts';
import { materialOf } from './materialOf.ts';
import { onOneLayout, withOneMaterial } from './mergeMeshes.ts';
import { DEFAULT_MERGE, MERGED_KINDS, mergeSettings, type MergedKind } from './settings.ts';
import { ticketOfMerge } from './ticketOfMerge.ts';

const image = (channels: number, value: (i: number) => number, more: Partial<Image> = {}): Image => ({
  ...{ width: 4, height: 2, channels, data: new Float32Array(8 * channels).map((_, i) => value(i)) },
  ...more,
});
const grey = (value: number): Image => image(1, () => value);

describe('the material of merged maps', () => {
  it('has roughness and metallic in green and blue of one picture, as glTF 2.0 has them', async () => {
    const { material, pictures } = await materialOf('Kit', [
      { kind: 'roughness', image: grey(0.25) },
      { kind: 'metallic', image: grey(0.75) },
    ]);
    expect(pictures.map(({ name }) => name)).toEqual(['Kit_roughness-metallic.png']);
    expect([material.pictures.roughness!.channel, material.pictures.metallic!.channel]).toEqual([1, 2]);
    expect([...decodePng(pictures[0]!.bytes).data.slice(0, 3)]).toEqual([255, 64, 191]);
    // What a picture says is not weakened by the plain value.
    expect([material.roughness, material.metallic]).toEqual([1, 1]);
  });

  it('has occlusion in red of that picture where it is as large, and in one of its own where it is not', async () => {
    const rest = [
      { kind: 'roughness' as const, image: grey(0.25) },
      { kind: 'metallic' as const, image: grey(0.75) },
    ];
    const alike = await materialOf('Kit', [{ kind: 'ao', image: grey(0.5) }, ...rest]);
    expect(alike.pictures.map(({ name }) => name)).toEqual(['Kit_occlusion-roughness-metallic.png']);
    expect([...decodePng(alike.pictures[0]!.bytes).data.slice(0, 3)]).toEqual([128, 64, 191]);
    expect(alike.material.pictures.ao).toMatchObject({ picture: 0, channel: 0 });
    const small: Image = { width: 1, height: 1, channels: 1, data: Float32Array.of(0.5) };
    const apart = await materialOf('Kit', [{ kind: 'ao', image: small }, ...rest]);
    expect(apart.pictures.map(({ name }) => name)).toEqual(['Kit_roughness-metallic.png', 'Kit_ao.png']);
  });

  it('writes normals as glTF asks, and refuses those it cannot hold', async () => {
    const texel = [0.25, 0.25, 1];
    const normal = (convention: object): Image =>
      image(3, (i) => texel[i % 3]!, { convention: { of: 'direction', ...GLTF_NORMAL, ...convention } });
    const down = await materialOf('Kit', [{ kind: 'normal', image: normal({ y: 'down' }) }]);
    expect([...decodePng(down.pictures[0]!.bytes).data.slice(0, 3)]).toEqual([64, 191, 255]);
    await expect(materialOf('Kit', [{ kind: 'normal', image: normal({ space: 'object' }) }])).rejects.toThrow(
      /“Kit_normal” holds normals in object space/,
    );
  });

  it('keeps plain values where there is no map', async () => {
    const { material, pictures } = await materialOf('Kit', []);
    expect(material).toEqual({ ...PLAIN_MATERIAL, tinted: true, pictures: {} });
    expect(pictures).toEqual([]);
    const bright = await materialOf('Kit', [{ kind: 'basecolor', image: image(3, () => 0.5) }]);
    expect(bright.material.baseColor).toEqual([1, 1, 1]);
  });
});

const use = (picture: number) => ({
  picture,
  uvSet: 0,
  wrap: ['repeat', 'repeat'] as ['repeat', 'repeat'],
  transform: UNMOVED,
  channel: 0,
});
const png = async (side: number): Promise<Uint8Array> =>
  new Uint8Array(
    await sharp({ create: { width: side, height: side, channels: 3, background: '#808080' } })
      .png()
      .toBuffer(),
  );

describe('what is drawn', () => {
  it('is counted by material of each object, pictures once, and with a third more for their halves', async () => {
    const picture = { name: 'rust.png', bytes: await png(16) };
    const rusty: Material = { ...PLAIN_MATERIAL, pictures: { basecolor: use(0) } };
    const two: Mesh = {
      ...reliefPlane('two', 1, 1),
      ...{ slots: ['brass', 'rope', 'unused'], triangleSlots: Uint16Array.from([0, 1]) },
      ...{ materials: [rusty, PLAIN_MATERIAL, PLAIN_MATERIAL], pictures: [picture] },
    };
    const other: Mesh = { ...two, name: 'other', triangleSlots: Uint16Array.from([0, 0]) };
    expect(await costOf([two, other])).toEqual({
      ...{ objects: 2, drawCalls: 3, materials: 2, images: 1 },
      textureBytes: Math.round((16 * 16 * 4 * 4) / 3),
    });
  });

  it('after a merge is one for each object that stays apart, and never more pictures than maps', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 500 }),
        fc.subarray([...MERGED_KINDS], { minLength: 1 }),
        fc.boolean(),
        (objects, maps, keepObjects) => {
          const settings = mergeSettings.parse({ ...DEFAULT_MERGE, maps, keepObjects });
          const cost = costOfMerge(objects, settings);
          expect([cost.drawCalls, cost.objects, cost.materials]).toEqual([
            keepObjects ? objects : 1,
            keepObjects ? objects : 1,
            1,
          ]);
          expect(cost.images).toBeLessThanOrEqual(maps.length);
          expect(cost.images).toBeGreaterThan(0);
        },
      ),
    );
  });
});

describe('merged meshes', () => {
  const parts: Mesh[] = [
    { ...reliefPlane('a', 2, 1), colors: new Float32Array(36).fill(1), slots: ['brass'] },
    { ...sphere('b', 1, 4, 6), slots: ['rope'] },
  ];
  const material = { material: PLAIN_MATERIAL, pictures: [] };

  it('are one mesh of one material, or objects apart that share it, without the colours of vertices', () => {
    const [one] = withOneMaterial(parts, { name: 'Merged', keepObjects: false }, material);
    expect([one!.name, one!.slots, one!.colors]).toEqual(['Merged', ['Merged'], null]);
    expect(triangleCount(one!)).toBe(triangleCount(parts[0]!) + triangleCount(parts[1]!));
    const apart = withOneMaterial(parts, { name: 'Merged', keepObjects: true }, material);
    expect(apart.map(({ name, slots, uvSets }) => [name, slots, uvSets.length])).toEqual([
      ['a', ['Merged'], 1],
      ['b', ['Merged'], 1],
    ]);
  });

  it('have one UV set, unless the others are to be kept', () => {
    const two = { ...parts[0]!, uvSets: [...parts[0]!.uvSets, { name: 'Paint', coords: new Float32Array(18) }] };
    const setsOf = (keepUvSets: boolean): string[] =>
      withOneMaterial([two, parts[1]!], { name: 'Merged', keepObjects: false, keepUvSets }, material)[0]!.uvSets.map(
        ({ name }) => name,
      );
    expect([setsOf(false), setsOf(true)]).toEqual([['UV 1'], ['UV 1', 'Paint']]);
  });

  it('on a layout that is there have it first, where they have it', async () => {
    const two = { ...parts[0]!, uvSets: [...parts[0]!.uvSets, { name: 'Paint', coords: new Float32Array(18) }] };
    const [first, second] = await onOneLayout([two, parts[1]!], { layout: null, uvSet: 1 });
    expect(first!.uvSets.map(({ name }) => name)).toEqual(['Paint', 'UV 1']);
    expect(second).toBe(parts[1]);
  });

  it('are baked each from its own triangles, whatever stands in the same place', () => {
    const maps: MergedKind[] = ['basecolor', 'normal'];
    const settings = ticketOfMerge(mergeSettings.parse({ ...DEFAULT_MERGE, maps, samples: 3, padding: 5 }));
    expect(settings).toMatchObject({ maps, aim: 'shared', samples: 3, padding: 5, prove: false });
    expect(bakeSettings.parse(settings)).toEqual(settings);
  });
});
