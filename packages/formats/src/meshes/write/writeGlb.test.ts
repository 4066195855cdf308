import sharp from 'sharp';
import { validateBytes } from 'gltf-validator';
import { describe, expect, it } from 'vitest';
import { addUvSet, PLAIN_MATERIAL, UNMOVED, type Material, type Mesh, type PictureUse } from '@zographos/core/mesh';
import { layoutFingerprint, layoutOf } from '@zographos/core/uv';
import { reliefPlane, sphere } from '@zographos/core/testing';
import { limitsFrom } from '../../limits.ts';
import { readMeshFile } from '../read/readMeshFile.ts';
import { writeGlb, writeGlbBeside } from './writeGlb.ts';
import { writeMeshFiles } from './writeMeshFiles.ts';
import { writeMtl } from './writeMtl.ts';
import { writeObj } from './writeObj.ts';

const picture = async (channels: 3 | 4, name: string) => ({
  name,
  bytes: new Uint8Array(
    await sharp({ create: { width: 4, height: 4, channels, background: { r: 200, g: 100, b: 50, alpha: 0.5 } } })
      .png()
      .toBuffer(),
  ),
});
const use = (picture: number, more: Partial<PictureUse> = {}): PictureUse => ({
  picture,
  uvSet: 0,
  wrap: ['repeat', 'repeat'],
  transform: UNMOVED,
  channel: 0,
  ...more,
});

/** A ball with two slots, pictures on both of its UV sets, and one that is turned and scaled. */
async function dressedBall(): Promise<Mesh> {
  const ball = sphere('Net float', 1, 12, 24);
  const turned = [0.6 * 2, -0.8 * 3, 0.25, 0.8 * 2, 0.6 * 3, 0.5] as const;
  const materials: Material[] = [
    {
      ...PLAIN_MATERIAL,
      tinted: true,
      baseColor: [1, 1, 1],
      pictures: {
        basecolor: use(0),
        opacity: use(0, { channel: 3 }),
        normal: use(1, { uvSet: 1, wrap: ['clamp', 'mirror'] }),
      },
    },
    {
      ...PLAIN_MATERIAL,
      tinted: true,
      metallic: 0.5,
      emission: [0, 0.25, 1],
      pictures: {
        roughness: use(1, { channel: 1 }),
        metallic: use(1, { channel: 2 }),
        emission: use(1, { transform: turned }),
      },
    },
  ];
  return {
    ...addUvSet(ball, { name: 'Layout', coords: ball.uvSets[0]!.coords.map((value) => value * 0.5) }),
    slots: ['brass', 'paint'],
    triangleSlots: ball.triangleSlots.map((_, t) => t % 2),
    materials,
    pictures: [await picture(4, 'brass.png'), await picture(3, 'paint.png')],
  };
}

const read = async (name: string, bytes: Uint8Array, beside: Record<string, Uint8Array> = {}): Promise<Mesh[]> => {
  const companion = (part: string): Promise<Uint8Array | null> => Promise.resolve(beside[part] ?? null);
  const { objects } = await readMeshFile({ name, bytes, companion, limits: limitsFrom({}) });
  return objects.map(({ mesh }) => mesh);
};

describe('GLB', () => {
  it('has neither errors nor warnings (Khronos glTF Validator)', async () => {
    const plane = reliefPlane('Plane', 3, 1);
    const bytes = await writeGlb([await dressedBall(), plane]);
    const { issues } = await validateBytes(bytes);
    expect(issues.messages.filter(({ severity }) => severity < 2)).toEqual([]);
    expect([issues.numErrors, issues.numWarnings]).toEqual([0, 0]);
  });

  it('comes back as it went: names, triangles, all UV sets, slots, materials', async () => {
    const ball = await dressedBall();
    const [back, plane] = await read('set.glb', await writeGlb([ball, reliefPlane('Plane', 3, 1)]));
    expect([back!.name, plane!.name]).toEqual(['Net float', 'Plane']);
    expect(back!.slots).toEqual(ball.slots);
    expect(back!.uvSets).toHaveLength(2);
    // Slots come one after another in a file; each triangle keeps its corners.
    const trianglesOf = (mesh: Mesh, slot: number): number[][] =>
      [...mesh.triangleSlots.keys()]
        .filter((t) => mesh.triangleSlots[t] === slot)
        .map((t) =>
          [0, 1, 2].flatMap((c) => {
            const v = mesh.indices[t * 3 + c]!;
            return [...mesh.positions.slice(v * 3, v * 3 + 3), ...mesh.uvSets[1]!.coords.slice(v * 2, v * 2 + 2)].map(
              (value) => Math.round(value * 1e6) / 1e6 + 0,
            );
          }),
        );
    for (const slot of [0, 1]) expect(trianglesOf(back!, slot)).toEqual(trianglesOf(ball, slot));
    expect(back!.materials![0]!.pictures.normal).toMatchObject({ uvSet: 1, wrap: ['clamp', 'mirror'] });
    expect(back!.materials![1]).toMatchObject({ metallic: 0.5, emission: [0, 0.25, 1] });
    const [given, found] = [ball, back!].map((mesh) => mesh.materials![1]!.pictures.emission!.transform);
    found!.forEach((value, i) => expect(value).toBeCloseTo(given![i]!, 5));
  });

  it('packs roughness and metallic that come as pictures of their own into green and blue', async () => {
    const ball = await dressedBall();
    ball.materials![1]!.pictures = { roughness: use(0), metallic: use(1, { channel: 2 }) };
    const bytes = await writeGlb([ball]);
    expect((await validateBytes(bytes)).issues.numErrors).toBe(0);
    const back = (await read('set.glb', bytes))[0]!;
    const { roughness, metallic } = back.materials![1]!.pictures;
    expect([roughness!.channel, metallic!.channel]).toEqual([1, 2]);
    const { data } = await sharp(back.pictures![roughness!.picture]!.bytes).raw().toBuffer({ resolveWithObject: true });
    expect([...data.subarray(0, 3)]).toEqual([255, 200, 50]);
  });

  it('carries occlusion in red, of a picture that is shared or of its own, and brings it back', async () => {
    const ball = await dressedBall();
    ball.materials![0]!.pictures = { ao: use(1, { channel: 2 }) };
    ball.materials![1]!.pictures = { ao: use(1), roughness: use(1, { channel: 1 }), metallic: use(1, { channel: 2 }) };
    const bytes = await writeGlb([ball]);
    expect((await validateBytes(bytes)).issues.numErrors).toBe(0);
    const [own, shared] = (await read('set.glb', bytes))[0]!.materials!;
    expect(own!.pictures.ao!.channel).toBe(0);
    expect(shared!.pictures.ao!.picture).toBe(shared!.pictures.roughness!.picture);
    expect(own!.pictures.ao!.picture).not.toBe(shared!.pictures.ao!.picture);
  });
});

describe('OBJ with its library', () => {
  it('comes back with materials and pictures', async () => {
    const ball = await dressedBall();
    const beside = {
      'set.mtl': writeMtl([ball]),
      ...Object.fromEntries(ball.pictures!.map(({ name, bytes }) => [name, bytes])),
    };
    const back = (await read('set.obj', writeObj([ball], 'set.mtl'), beside))[0]!;
    expect(back.slots).toEqual(['brass', 'paint']);
    expect(back.materials![1]).toMatchObject({ roughness: 1, emission: [1, 1, 1] });
    expect(back.pictures!.map(({ name }) => name)).toEqual(['brass.png', 'paint.png']);
  });
});

describe('meshes as files', () => {
  const read = (name: string, bytes: Uint8Array) =>
    readMeshFile({ name, bytes, companion: () => Promise.resolve(null), limits: limitsFrom({}) });

  it('have pictures beside the GLB that names them, and names of UV sets', async () => {
    const [glb, ...pictures] = await writeGlbBeside('Net float', [await dressedBall()]);
    const { issues } = await validateBytes(glb.bytes, {
      externalResourceFunction: (uri: string) => Promise.resolve(pictures.find(({ name }) => name === uri)!.bytes),
    });
    expect([issues.numErrors, issues.numWarnings]).toEqual([0, 0]);
    expect(pictures.length).toBeGreaterThan(1);
    const beside = await readMeshFile({
      name: glb.name,
      bytes: glb.bytes,
      companion: (part) => Promise.resolve(pictures.find(({ name }) => name === part)?.bytes ?? null),
      limits: limitsFrom({}),
    });
    expect(beside.objects[0]!.mesh.uvSets.map(({ name }) => name)).toEqual(['Layout', 'UV 1']);
  });

  it('keep all UV sets in PLY, and in an OBJ for each', async () => {
    const ball = await dressedBall();
    const [ply] = await writeMeshFiles('ball', [ball], 'ply');
    const { uvSets } = (await read('ball.ply', ply.bytes)).objects[0]!.mesh;
    expect(uvSets).toHaveLength(2);
    expect(
      layoutFingerprint({
        uvs: uvSets[1]!.coords,
        indices: (await read('ball.ply', ply.bytes)).objects[0]!.mesh.indices,
      }),
    ).toBe(layoutFingerprint(layoutOf(ball, 1)));
    const files = await writeMeshFiles('ball', [ball], 'obj');
    const objs = files.filter(({ name }) => name.endsWith('.obj'));
    expect(objs.map(({ name }) => name)).toEqual(['ball.obj', 'ball.UV_1.obj']);
    for (const [set, { name, bytes }] of objs.entries()) {
      const { mesh } = (await read(name, bytes)).objects[0]!;
      expect(layoutFingerprint(layoutOf(mesh, 0))).toBe(layoutFingerprint(layoutOf(ball, set)));
    }
  });
});
