import { describe, expect, it } from 'vitest';
import { ZographosError } from '@zographos/core/errors';
import { splitSphere } from '@zographos/core/testing';
import { DEFAULT_LIMITS } from '../../limits.ts';
import { writeGlb } from '../write/writeGlb.ts';
import { dataBytes } from './gltfRanges.ts';
import { readMeshFile } from './readMeshFile.ts';

const text = (content: string): Uint8Array => new TextEncoder().encode(content);
const read = (name: string, bytes: Uint8Array) =>
  readMeshFile({ name, bytes, limits: DEFAULT_LIMITS, companion: () => Promise.resolve(null) });

/** The refusal of a file, and how long it took. */
async function refused(name: string, bytes: Uint8Array): Promise<{ code: string; message: string; ms: number }> {
  const since = performance.now();
  try {
    await read(name, bytes);
  } catch (error) {
    if (!(error instanceof ZographosError)) throw error;
    return { code: error.code, message: error.message, ms: performance.now() - since };
  }
  throw new Error('It was taken.');
}

/** A triangle as glTF with its 36 bytes of positions in a data address; parts of it can be made wrong. */
const TRIANGLE = {
  asset: { version: '2.0' },
  scenes: [{ nodes: [0] }],
  nodes: [{ mesh: 0 }],
  meshes: [{ primitives: [{ attributes: { POSITION: 0 } }] }],
  buffers: [
    {
      byteLength: 36,
      uri: `data:application/octet-stream;base64,${Buffer.from(Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0).buffer).toString('base64')}`,
    },
  ],
  bufferViews: [{ buffer: 0, byteLength: 36 }],
  accessors: [{ bufferView: 0, componentType: 5126, type: 'VEC3', count: 3, min: [0, 0, 0], max: [1, 1, 0] }],
};
const [accessor, view, buffer] = [TRIANGLE.accessors[0]!, TRIANGLE.bufferViews[0]!, TRIANGLE.buffers[0]!];
const gltf = (change: object): Uint8Array => text(JSON.stringify({ ...TRIANGLE, ...change }));

describe('glTF that points beyond its bytes', () => {
  it('is read where it does not', async () => {
    const { objects } = await read('triangle.gltf', gltf({}));
    expect([...objects[0]!.mesh.positions]).toEqual([0, 0, 0, 1, 0, 0, 0, 1, 0]);
    expect(dataBytes(buffer.uri)).toBe(36);
    expect(dataBytes('data:,a%20b')).toBe(3);
    expect(dataBytes('data:none')).toBeNaN();
  });

  const sparse = (count: number, offset: number) => ({
    accessors: [
      {
        ...accessor,
        sparse: {
          count,
          indices: { bufferView: 0, componentType: 5125, byteOffset: offset },
          values: { bufferView: 0, byteOffset: 0 },
        },
      },
    ],
  });
  it.each([
    ['an accessor beyond its view', { accessors: [{ ...accessor, count: 4 }] }],
    ['an accessor that begins beyond its view', { accessors: [{ ...accessor, byteOffset: 40 }] }],
    ['an accessor of a view that is not there', { accessors: [{ ...accessor, bufferView: 7 }] }],
    ['an accessor with a type that is none', { accessors: [{ ...accessor, componentType: 5124 }] }],
    ['a count below zero', { accessors: [{ ...accessor, count: -1 }] }],
    ['300 million zeros without a view', { accessors: [{ ...accessor, bufferView: undefined, count: 300_000_000 }] }],
    ['a stride that leads beyond the view', { bufferViews: [{ ...view, byteStride: 24 }] }],
    ['a view beyond its buffer', { bufferViews: [{ ...view, byteLength: 40 }] }],
    ['a view of a buffer that is not there', { bufferViews: [{ ...view, buffer: 3 }] }],
    ['a data address that is too short', { buffers: [{ ...buffer, uri: buffer.uri.slice(0, -8) }] }],
    ['a data address that is none', { buffers: [{ ...buffer, uri: 'data:none' }] }],
    ['a sparse part beyond its view', sparse(3, 30)],
    ['more sparse values than elements', sparse(9, 0)],
  ])('is refused: %s', async (_, change) => {
    const { code, message, ms } = await refused('triangle.gltf', gltf(change));
    expect({ code, message }).toMatchObject({
      code: 'input/unreadable-file',
      message: expect.stringContaining('damaged') as string,
    });
    expect(ms).toBeLessThan(2000);
  });

  it('is refused as a GLB cut off anywhere', async () => {
    const glb = await writeGlb([splitSphere('ball', 1, 8, 16)]);
    for (let share = 0.02; share < 1; share += 0.07) {
      const { code } = await refused('ball.glb', glb.slice(0, Math.floor(glb.length * share)));
      expect(code).toMatch(/^input\//);
    }
  });

  it('is told apart from glTF 1.0', async () => {
    const { message } = await refused('old.gltf', gltf({ asset: { version: '1.0' } }));
    expect(message).toContain('only glTF 2.0 can be read');
  });
});

describe('PLY that says more than it has', () => {
  const head = (lines: string) => text(`ply\nformat ascii 1.0\n${lines}\nend_header\n0 0 0\n1 0 0\n0 1 0\n3 0 1 2\n`);
  const VERTICES = 'property float x\nproperty float y\nproperty float z';
  it.each([
    ['four thousand million of nothing', `element junk 4000000000\nelement vertex 3\n${VERTICES}`],
    ['four thousand million vertices', `element vertex 4000000000\n${VERTICES}`],
    ['a count that is no number', `element vertex many\n${VERTICES}`],
    ['a count below zero', `element vertex -3\n${VERTICES}`],
  ])('is refused at once: %s', async (_, lines) => {
    const { message, ms } = await refused('torn.ply', head(lines));
    expect(message).toContain('cut off or damaged');
    expect(ms).toBeLessThan(1000);
  });
});

describe('what no mesh can be', () => {
  it('is told: UTF-16, a matrix beyond all numbers, more slots than there are numbers for', async () => {
    const wide = Buffer.from('\ufeffo bell\nv 0 0 0\n', 'utf16le');
    expect((await refused('wide.obj', wide)).message).toContain('UTF-16');
    const matrix = [1e38, 0, 0, 0, 0, 1e38, 0, 0, 0, 0, 1e38, 0, 1e38, 0, 0, 1];
    const far = gltf({ nodes: [{ mesh: 0, matrix: matrix.map((value) => value * 10) }] });
    expect(await refused('far.gltf', far)).toMatchObject({ code: 'input/not-finite' });
    const lines = ['v 0 0 0', 'v 1 0 0', 'v 0 1 0'];
    for (let i = 0; i < 65_540; i++) lines.push(`usemtl m${i}`, 'f 1 2 3');
    expect((await refused('slots.obj', text(lines.join('\n')))).message).toContain('65540 material slots');
  });
});

// Found by reading faulty files: a control character was met for ever.
describe('a PLY in words', () => {
  it('with a list of any length and control characters in it ends', async () => {
    const head = 'ply\nformat ascii 1.0\nelement vertex 1\nproperty float x\nproperty list uchar int odd\nend_header\n';
    const { code, ms } = await refused('words.ply', text(`${head}0 4000000000 1 \x10 \x00 2 3\n`));
    expect(code).toBe('input/unreadable-file');
    expect(ms).toBeLessThan(5000);
  });
});
