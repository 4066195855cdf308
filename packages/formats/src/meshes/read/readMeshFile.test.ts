import { Document, WebIO, type Material as GltfMaterial } from '@gltf-transform/core';
import {
  KHRMaterialsEmissiveStrength,
  KHRMaterialsIOR,
  KHRMaterialsTransmission,
  KHRMaterialsVolume,
  KHRONOS_EXTENSIONS,
} from '@gltf-transform/extensions';
import { OBJLoader } from 'three/addons/loaders/OBJLoader.js';
import { PLYLoader } from 'three/addons/loaders/PLYLoader.js';
import { STLLoader } from 'three/addons/loaders/STLLoader.js';
import { describe, expect, it } from 'vitest';
import { ZographosError } from '@zographos/core/errors';
import { degenerateTriangles, type Mesh } from '@zographos/core/mesh';
import { splitSphere } from '@zographos/core/testing';
import { DEFAULT_LIMITS, type FormatLimits } from '../../limits.ts';
import type { MeshFile } from '../meshFile.ts';
import { packMesh, unpackMesh } from '../packedMesh.ts';
import { readMeshFile } from './readMeshFile.ts';
import { writeObj } from '../write/writeObj.ts';
import { writeGlb } from '../write/writeGlb.ts';
import { writePly } from '../write/writePly.ts';

const text = (content: string): Uint8Array => new TextEncoder().encode(content);

function read(
  name: string,
  bytes: Uint8Array,
  beside: Record<string, Uint8Array> = {},
  limits: FormatLimits = DEFAULT_LIMITS,
): Promise<MeshFile> {
  return readMeshFile({ name, bytes, limits, companion: (part) => Promise.resolve(beside[part] ?? null) });
}

/** The corners of all triangles as positions, whatever the order of vertices. */
const corners = ({ positions, indices }: Mesh): number[][] =>
  Array.from(indices, (v) => [...positions.subarray(v * 3, v * 3 + 3)]);

const KIT = `
mtllib kit.mtl
v 0 0 0 1 0 0
v 1 0 0 0 1 0
v 1 1 0 0 0 1
v 0 1 0 1 1 1
v 2 0.5 0
vt 0 0
vt 1 0
vt 1 1
vt 0 1
vn 0 0 1
o Cleat
usemtl brass
f 1/1/1 2/2/1 3/3/1 4/4/1
usemtl rope
f -4/2/1 -1/1/1 -3/3/1
o Ring
usemtl brass
f 1//1 2//1 \\
  3//1
`;

describe('OBJ', () => {
  it('keeps objects, slots, UVs, vertex colours and materials, and splits polygons', async () => {
    const mtl = text('newmtl brass\nKd 1 0.5 0\nPr 0.3\nPm 1\nmap_Kd brass.png\nnewmtl rope\nKd 0.2 0.2 0.2\n');
    const { objects, missingPictures } = await read('kit.obj', text(KIT), { 'kit.mtl': mtl });
    expect(objects.map(({ mesh }) => [mesh.name, mesh.indices.length / 3, mesh.slots])).toEqual([
      ['Cleat', 3, ['brass', 'rope']],
      ['Ring', 1, ['brass']],
    ]);
    const cleat = objects[0]!.mesh;
    expect([...cleat.triangleSlots]).toEqual([0, 0, 1]);
    expect(corners(cleat)[6]).toEqual([1, 0, 0]);
    expect([...cleat.colors!.subarray(0, 4)]).toEqual([1, 0, 0, 1]);
    expect(cleat.uvSets).toHaveLength(1);
    expect(objects[1]!.mesh.uvSets).toHaveLength(0);
    const brass = objects[0]!.mesh.materials![objects[0]!.mesh.slots.indexOf('brass')]!;
    expect(brass).toMatchObject({ metallic: 1, roughness: 0.3 });
    expect(missingPictures).toEqual(['brass.png']);
    // IEC 61966-2-1: 0.5 as stored is 0.214041 in light.
    expect(brass.baseColor[1]).toBeCloseTo(0.214041, 5);
  });

  it('tells light in numbers as they stand, and what is diffuse alone', async () => {
    const mtl = text('newmtl brass\nKd 0.5 0.25 0\nPr 0.3\nnewmtl rope\nKd 0.2 0.2 0.2\nKs 0 0 0\nKe 7 0 -1\n');
    const { objects } = await read('kit.obj', text(KIT), { 'kit.mtl': mtl });
    const { materials, slots } = objects[0]!.mesh;
    const lit = (slot: string) => materials![slots.indexOf(slot)]!.lit;
    expect(lit('brass')).toEqual({ reflectance: [0.5, 0.25, 0], radiance: [0, 0, 0], isDiffuse: false });
    expect(lit('rope')).toEqual({ reflectance: [0.2, 0.2, 0.2], radiance: [7, 0, 0], isDiffuse: true });
  });

  it('reads the same triangles as the loader of three', async () => {
    const group = new OBJLoader().parse(KIT.replace('\\\n', ''));
    const reference = group.children.flatMap((child) => {
      const { position } = (child as unknown as { geometry: { attributes: { position: { array: Float32Array } } } })
        .geometry.attributes;
      return Array.from({ length: position.array.length / 3 }, (_, i) => [
        ...position.array.subarray(i * 3, i * 3 + 3),
      ]);
    });
    const { objects } = await read('kit.obj', text(KIT));
    expect(objects.flatMap(({ mesh }) => corners(mesh))).toEqual(reference);
  });

  it('splits a concave polygon within its outline', async () => {
    // An arrowhead: a fan from its first corner would cover ground outside.
    const { objects } = await read('arrow.obj', text('v 0 0 0\nv 2 1 0\nv 0 2 0\nv 1 1 0\nf 1 2 3 4\n'));
    const c = corners(objects[0]!.mesh);
    const area = [0, 3].reduce((sum, t) => {
      const [a, b, d] = [c[t]!, c[t + 1]!, c[t + 2]!];
      return sum + ((b[0]! - a[0]!) * (d[1]! - a[1]!) - (b[1]! - a[1]!) * (d[0]! - a[0]!)) / 2;
    }, 0);
    expect(area).toBeCloseTo(1, 9);
    expect(objects[0]!.computedNormals).toBe(true);
  });

  it('leaves out triangles that are not numbers and counts them', async () => {
    const { objects } = await read('nan.obj', text('v 0 0 0\nv 1 0 0\nv 0 1 0\nv nan 1 0\nf 1 2 3\nf 1 2 4\n'));
    expect(objects[0]).toMatchObject({ droppedTriangles: 1 });
    expect(objects[0]!.mesh.indices).toHaveLength(3);
  });
});

/** A quad with two UV sets, vertex colours and a node that mirrors and moves it. */
async function glb(change: (document: Document, material: GltfMaterial) => void = () => {}): Promise<Uint8Array> {
  const document = new Document();
  const brass = document.createMaterial('brass').setMetallicFactor(1).setRoughnessFactor(0.4);
  change(document, brass);
  const buffer = document.createBuffer();
  const accessor = (type: 'VEC2' | 'VEC3' | 'VEC4', values: number[]) =>
    document.createAccessor().setType(type).setArray(Float32Array.from(values)).setBuffer(buffer);
  const primitive = document
    .createPrimitive()
    .setAttribute('POSITION', accessor('VEC3', [0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0]))
    .setAttribute('NORMAL', accessor('VEC3', [0, 0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1]))
    .setAttribute('TEXCOORD_0', accessor('VEC2', [0, 1, 1, 1, 1, 0, 0, 0]))
    .setAttribute('TEXCOORD_1', accessor('VEC2', [0, 0.5, 0.5, 0.5, 0.5, 0, 0, 0]))
    .setAttribute('COLOR_0', accessor('VEC3', [1, 0, 0, 0, 1, 0, 0, 0, 1, 1, 1, 1]))
    .setIndices(
      document
        .createAccessor()
        .setType('SCALAR')
        .setArray(Uint16Array.of(0, 1, 2, 0, 2, 3))
        .setBuffer(buffer),
    )
    .setMaterial(brass);
  const node = document
    .createNode('Plate')
    .setMesh(document.createMesh().addPrimitive(primitive))
    .setScale([-2, 1, 1])
    .setTranslation([5, 0, 0]);
  document.createScene().addChild(node);
  return new WebIO().registerExtensions(KHRONOS_EXTENSIONS).writeBinary(document);
}

describe('glTF', () => {
  it('keeps all UV sets (origin turned to bottom-left), colours, slots and the node’s place', async () => {
    const { objects, unit } = await read('plate.glb', await glb());
    const { mesh } = objects[0]!;
    expect(unit).toBe('m');
    expect(mesh.name).toBe('Plate');
    expect(mesh.slots).toEqual(['brass']);
    expect(objects[0]!.mesh.materials![0]).toMatchObject({ metallic: 1, roughness: 0.4 });
    expect(mesh.uvSets.map(({ coords }) => [...coords.subarray(0, 4)])).toEqual([
      [0, 0, 1, 0],
      [0, 0.5, 0.5, 0.5],
    ]);
    expect([...mesh.colors!.subarray(0, 4)]).toEqual([1, 0, 0, 1]);
    expect([...mesh.positions.subarray(3, 6)]).toEqual([3, 0, 0]);
    // Mirrored: the winding is turned, so that it still faces the way of its normals.
    const [a, b, c] = corners(mesh) as [number[], number[], number[]];
    expect((b[0]! - a[0]!) * (c[1]! - a[1]!) - (b[1]! - a[1]!) * (c[0]! - a[0]!)).toBeGreaterThan(0);
    expect(mesh.normals[2]).toBe(1);
  });

  it('tells what goes through glass, and how strongly it sends light (KHR_materials_…)', async () => {
    const bytes = await glb((document, material) => {
      material
        .setEmissiveFactor([0.5, 0.25, 1])
        .setExtension(
          'KHR_materials_emissive_strength',
          document.createExtension(KHRMaterialsEmissiveStrength).createEmissiveStrength().setEmissiveStrength(8),
        )
        .setExtension(
          'KHR_materials_transmission',
          document.createExtension(KHRMaterialsTransmission).createTransmission().setTransmissionFactor(0.75),
        )
        .setExtension('KHR_materials_ior', document.createExtension(KHRMaterialsIOR).createIOR().setIOR(1.25))
        .setExtension(
          'KHR_materials_volume',
          document
            .createExtension(KHRMaterialsVolume)
            .createVolume()
            .setAttenuationColor([0.5, 1, 0.25])
            .setAttenuationDistance(2),
        );
    });
    const [material] = (await read('plate.glb', bytes)).objects[0]!.mesh.materials!;
    expect(material).toMatchObject({ emission: [0.5, 0.25, 1], emissionStrength: 8 });
    expect(material!.glass).toEqual({
      ...{ transmission: 0.75, ior: 1.25 },
      attenuation: { color: [0.5, 1, 0.25], distance: 2 },
    });
  });

  it('names the missing buffer of a .gltf', async () => {
    const json = { asset: { version: '2.0' }, buffers: [{ uri: 'quay.bin', byteLength: 4 }] };
    await expect(read('quay.gltf', text(JSON.stringify(json)))).rejects.toThrow(/quay\.bin.*together/);
  });

  it('refuses compression it cannot read by its name', async () => {
    const json = { asset: { version: '2.0' }, extensionsRequired: ['KHR_draco_mesh_compression'] };
    await expect(read('quay.gltf', text(JSON.stringify(json)))).rejects.toThrow(/KHR_draco_mesh_compression/);
  });
});

describe('PLY', () => {
  it('written and read again is the same, and the loader of three agrees', async () => {
    const { mesh } = (await read('plate.glb', await glb())).objects[0]!;
    const bytes = writePly(mesh);
    const again = (await read('plate.ply', bytes)).objects[0]!.mesh;
    expect(corners(again)).toEqual(corners(mesh));
    const reference = new PLYLoader().parse(bytes.buffer);
    expect([...(reference.getAttribute('position').array as Float32Array)]).toEqual([...mesh.positions]);
    expect([...(reference.getAttribute('uv').array as Float32Array)]).toEqual([...mesh.uvSets[0]!.coords]);
    expect([...reference.index!.array]).toEqual([...mesh.indices]);
  });

  it('reads ASCII with colours, and big-endian binary', async () => {
    const header = (format: string): string =>
      `ply\nformat ${format} 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\n` +
      'property uchar red\nproperty uchar green\nproperty uchar blue\n' +
      'element face 1\nproperty list uchar int vertex_indices\nend_header\n';
    const ascii = await read('a.ply', text(`${header('ascii')}0 0 0 255 0 0\n1 0 0 0 255 0\n0 1 0 0 0 255\n3 0 1 2\n`));
    expect([...ascii.objects[0]!.mesh.colors!.subarray(4, 8)]).toEqual([0, 1, 0, 1]);
    const body = new DataView(new ArrayBuffer(3 * 15 + 13));
    [0, 0, 0, 1, 0, 0, 0, 1, 0].forEach((value, i) => body.setFloat32(Math.floor(i / 3) * 15 + (i % 3) * 4, value));
    body.setUint8(45, 3);
    [0, 1, 2].forEach((value, i) => body.setInt32(46 + i * 4, value));
    const binary = await read('b.ply', Buffer.concat([text(header('binary_big_endian')), new Uint8Array(body.buffer)]));
    expect(corners(binary.objects[0]!.mesh)).toEqual(corners(ascii.objects[0]!.mesh));
  });
});

function binaryStl(triangles: number[][]): Uint8Array {
  const bytes = new Uint8Array(84 + triangles.length * 50);
  const view = new DataView(bytes.buffer);
  view.setUint32(80, triangles.length, true);
  triangles.forEach((values, t) =>
    values.forEach((value, i) => view.setFloat32(84 + t * 50 + 12 + i * 4, value, true)),
  );
  return bytes;
}

const TETRAHEDRON = [
  [0, 0, 0, 0, 1, 0, 1, 0, 0],
  [0, 0, 0, 1, 0, 0, 0, 0, 1],
  [0, 0, 0, 0, 0, 1, 0, 1, 0],
  [1, 0, 0, 0, 1, 0, 0, 0, 1],
];

describe('STL', () => {
  it('unites a triangle soup, and agrees with the loader of three', async () => {
    const bytes = binaryStl(TETRAHEDRON);
    const { objects } = await read('t.stl', bytes);
    const { mesh, computedNormals } = objects[0]!;
    expect(mesh.positions).toHaveLength(12);
    expect(computedNormals).toBe(true);
    const reference = new STLLoader().parse(new Uint8Array(bytes).buffer);
    expect(corners(mesh).flat()).toEqual([...(reference.getAttribute('position').array as Float32Array)]);
  });

  it('reads each ASCII solid as an object', async () => {
    const solid = (name: string): string =>
      `solid ${name}\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 0\nendloop\nendfacet\nendsolid ${name}\n`;
    const { objects } = await read('two.stl', text(solid('hoop') + solid('rib')));
    expect(objects.map(({ mesh }) => mesh.name)).toEqual(['hoop', 'rib']);
  });
});

describe('bad mesh files are refused with what, why and the way out', () => {
  const plate = glb();
  const cases: [string, () => Promise<Uint8Array> | Uint8Array, string, RegExp][] = [
    ['empty.obj', () => new Uint8Array(), 'input/empty-file', /0 bytes/],
    ['picture.obj', () => text('\x89PNG\r\n'), 'input/no-triangles', /holds no triangles/],
    ['mesh.ply', () => text('v 0 0 0'), 'input/wrong-file-type', /named \.ply/],
    ['mesh.glb', () => text('ply\nformat ascii 1.0\n'), 'input/wrong-file-type', /content is PLY/],
    ['mesh.fbx', () => text('x'), 'input/wrong-file-type', /OBJ, glTF/],
    ['points.obj', () => text('v 0 0 0\nv 1 0 0\n'), 'input/no-triangles', /faces/],
    ['index.obj', () => text('v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 9\n'), 'input/bad-index', /line 4.*vertex 9.*only 3/],
    ['half.obj', () => text('v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2'), 'input/unreadable-file', /line 4.*2 corners/],
    ['nan.obj', () => text('v a 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n'), 'input/not-finite', /not numbers/],
    ['huge.obj', () => text('v 1e99 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n'), 'input/not-finite', /not numbers/],
    ['cut.stl', () => binaryStl(TETRAHEDRON).subarray(0, 150), 'input/unreadable-file', /announces 4.*holds 1/],
    ['cut.glb', async () => (await plate).subarray(0, 300), 'input/unreadable-file', /cut off or damaged/],
    [
      'cut.ply',
      async () => {
        const bytes = writePly((await read('p.glb', await plate)).objects[0]!.mesh);
        return bytes.subarray(0, bytes.length - 9);
      },
      'input/unreadable-file',
      /ends before/,
    ],
    [
      'index.ply',
      () =>
        text(
          'ply\nformat ascii 1.0\nelement vertex 1\nproperty float x\nproperty float y\nproperty float z\nelement face 1\nproperty list uchar int vertex_indices\nend_header\n0 0 0\n3 0 1 2\n',
        ),
      'input/bad-index',
      /vertex 1, but the file has only 1/,
    ],
  ];
  it.each(cases)('%s', async (name, bytes, code, sentence) => {
    const failure = await read(name, await bytes()).catch((error: unknown) => error);
    expect(failure).toBeInstanceOf(ZographosError);
    expect((failure as ZographosError).code).toBe(code);
    expect((failure as ZographosError).message).toMatch(sentence);
  });

  it('beyond the triangle limit, naming it', async () => {
    const limits = { ...DEFAULT_LIMITS, triangles: 3 };
    await expect(read('t.stl', binaryStl(TETRAHEDRON), {}, limits)).rejects.toThrow(
      /more than 3.*ZOGRAPHOS_MAX_TRIANGLES/,
    );
    await expect(read('kit.obj', text(KIT), {}, limits)).rejects.toThrow(/ZOGRAPHOS_MAX_TRIANGLES/);
  });
});

describe('triangles without area', () => {
  it('survive being written and read again', async () => {
    const ball = splitSphere('ball', 1, 8, 16);
    for (const [name, bytes] of [
      ['ball.obj', writeObj([ball])],
      ['ball.ply', writePly(ball)],
      ['ball.glb', await writeGlb([ball])],
    ] as const) {
      const { objects } = await read(name, bytes);
      const { indices, positions } = objects[0]!.mesh;
      expect(indices.length, name).toBe(ball.indices.length);
      expect(degenerateTriangles(positions, indices), name).toHaveLength(32);
    }
  });
});

describe('our own forms', () => {
  it('packed meshes come back exactly, and equal meshes give equal bytes', async () => {
    const { mesh } = (await read('plate.glb', await glb())).objects[0]!;
    expect(unpackMesh(packMesh(mesh))).toEqual(mesh);
    expect(packMesh(structuredClone(mesh))).toEqual(packMesh(mesh));
    expect(() => unpackMesh(packMesh(mesh).subarray(0, -20))).toThrow(/cut off/);
    expect(() => unpackMesh(packMesh(mesh).subarray(0, 100))).toThrow(/cut off/);
  });

  it('OBJ written and read again is the same to the last bit', async () => {
    const { mesh } = (await read('plate.glb', await glb())).objects[0]!;
    mesh.positions[4] = Math.fround(1 / 3);
    const again = (await read('plate.obj', writeObj([mesh]))).objects[0]!.mesh;
    expect(corners(again)).toEqual(corners(mesh));
    expect(again.uvSets[0]!.coords).toHaveLength(8);
  });
});
