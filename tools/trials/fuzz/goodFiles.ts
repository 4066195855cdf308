import { createHash } from 'node:crypto';
import { strToU8, zipSync } from 'fflate';
import type { Image } from '@zographos/core/image';
import type { Mesh } from '@zographos/core/mesh';
import { splitSphere } from '@zographos/core/testing';
import { encodeImage, IMAGE_FORMATS, type ImageFormat } from '@zographos/formats/images';
import { writeGlb, writeGlbBeside, writeObj, writePly } from '@zographos/formats/meshes';
import { DEFAULT_BAKE, READY_PROFILES } from '@zographos/operations';

/** A small good file of each kind that is read anywhere, by a name that says which reader it is for. */
export async function goodFiles(): Promise<Map<string, Uint8Array>> {
  const ball = splitSphere('ball', 1, 4, 6);
  const files = new Map<string, Uint8Array>([
    ['ball.obj', strToU8(`mtllib ball.mtl\nusemtl brass\n${new TextDecoder().decode(writeObj([ball]))}`)],
    ['brass.mtl', strToU8('newmtl brass\nKd 0.7 0.5 0.2\nNs 200\nPr 0.4\nmap_Kd -s 2 2 1 brass.png\n')],
    ['ball.glb', await writeGlb([ball])],
    ['ball.gltf', await gltf(ball)],
    ['ball.ply', writePly(ball)],
    ['words.ply', strToU8(PLY_IN_WORDS)],
    ['ball.stl', stl(ball)],
    [
      'words.stl',
      strToU8(
        'solid slate\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 0\nendloop\nendfacet\nendsolid slate\n',
      ),
    ],
    ['light.hdr', hdr()],
    ['ticket.json', strToU8(JSON.stringify(TICKET))],
    ['profile.json', strToU8(JSON.stringify(READY_PROFILES[0]))],
  ]);
  for (const format of Object.keys(IMAGE_FORMATS) as ImageFormat[]) {
    files.set(`${format}.${IMAGE_FORMATS[format].ending}`, await encodeImage(picture(), format));
  }
  const packed = {
    'kit/ball.obj': files.get('ball.obj')!,
    'kit/notes.txt': strToU8('ebb'),
    'kit/a.tga': files.get('tga.tga')!,
  };
  files.set('kit.zip', zipSync(packed));
  files.set('delivery.zip', delivery(files.get('exr.exr')!));
  return files;
}

const picture = (): Image => ({
  ...{ width: 12, height: 9, channels: 3 },
  data: new Float32Array(12 * 9 * 3).map((_, i) => ((i * 29) % 97) / 96),
});

const TICKET = {
  ...{ zographos: 'ticket', version: 2, name: 'Ball normal', operation: 'bake', settings: DEFAULT_BAKE },
  inputs: { receivers: [{ object: 'ball', file: 'ball.obj' }], sources: [{ object: 'ball', file: 'ball.glb' }] },
};

const PLY_IN_WORDS = `ply
format ascii 1.0
element vertex 4
property float x
property float y
property float z
property uchar red
property uchar green
property uchar blue
element face 2
property list uchar int vertex_indices
end_header
0 0 0 255 0 0
1 0 0 0 255 0
1 1 0 0 0 255
0 1 0 9 9 9
3 0 1 2
3 0 2 3
`;

/** glTF as text, its buffer in it. */
async function gltf(mesh: Mesh): Promise<Uint8Array> {
  const [{ bytes }] = await writeGlbBeside('ball', [mesh]);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const length = view.getUint32(12, true);
  const json = JSON.parse(new TextDecoder().decode(bytes.subarray(20, 20 + length))) as { buffers: object[] };
  const binary = Buffer.from(bytes.subarray(28 + length)).toString('base64');
  json.buffers[0] = { ...json.buffers[0], uri: `data:application/octet-stream;base64,${binary}` };
  return strToU8(JSON.stringify(json));
}

function stl({ positions, indices }: Mesh): Uint8Array {
  const view = new DataView(new ArrayBuffer(84 + (indices.length / 3) * 50));
  view.setUint32(80, indices.length / 3, true);
  indices.forEach((vertex, i) => {
    const at = 84 + Math.floor(i / 3) * 50 + 12 + (i % 3) * 12;
    for (let k = 0; k < 3; k++) view.setFloat32(at + 4 * k, positions[vertex * 3 + k]!, true);
  });
  return new Uint8Array(view.buffer);
}

/** Radiance RGBE, rows not packed. */
function hdr(): Uint8Array {
  const header = strToU8('#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 4 +X 5\n');
  return Uint8Array.from([
    ...header,
    ...Array.from({ length: 4 * 5 * 4 }, (_, i) => (i % 4 === 3 ? 128 : (i * 37) % 256)),
  ]);
}

function delivery(exr: Uint8Array): Uint8Array {
  const channels = [0, 1, 2].map((channel) => ({ map: 'basecolor', channel, inverted: false, constant: null }));
  const file = {
    ...{ path: 'stone.exr', set: 'Stone', tile: 1001, kind: 'map', format: 'exr', width: 12, height: 9 },
    ...{ colorSpace: 'linear', channels, range: [0, 1], conventions: {}, bytes: exr.length, made: [] },
    sha256: createHash('sha256').update(exr).digest('hex'),
  };
  const manifest = {
    ...{ zographos: 'delivery', version: 2, project: 'Slip', profile: 'glTF 2.0', made: '2026-01-01T00:00:00.000Z' },
    ...{ sets: [{ name: 'Stone', tileWidth: null, mesh: null }], files: [file] },
  };
  return zipSync({ 'stone.exr': exr, 'manifest.json': strToU8(JSON.stringify(manifest)) }, { level: 0 });
}
