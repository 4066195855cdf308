import { describe, expect, it } from 'vitest';
import { ZographosError } from '@zographos/core/errors';
import { DEFAULT_LIMITS } from '../limits.ts';
import { encodeImage } from './encodeImage.ts';
import { readImageFile } from './readImageFile.ts';

const LIMITS = { ...DEFAULT_LIMITS, pixels: 1e6 };
const image = (width: number, height: number) => ({
  ...{ width, height, channels: 3 },
  data: Float32Array.from({ length: width * height * 3 }, (_, i) => (i % 17) / 16),
});

/** The code of the refusal of a file. */
async function refusal(name: string, bytes: Uint8Array): Promise<string> {
  try {
    await readImageFile(name, bytes, LIMITS);
  } catch (error) {
    if (error instanceof ZographosError) return error.code;
    throw error;
  }
  throw new Error('It was taken.');
}

/** An EXR header with attributes of one's own. */
function exr(attributes: [name: string, type: string, value: Buffer][], tail = Buffer.alloc(0)): Uint8Array {
  const parts = attributes.map(([name, type, value]) => {
    const size = Buffer.alloc(4);
    size.writeUInt32LE(value.length);
    return Buffer.concat([Buffer.from(`${name}\0${type}\0`), size, value]);
  });
  return Buffer.concat([Buffer.from([0x76, 0x2f, 0x31, 1, 2, 0, 0, 0]), ...parts, Buffer.from([0]), tail]);
}
const box = (...values: number[]): Buffer => {
  const buffer = Buffer.alloc(16);
  values.forEach((value, i) => buffer.writeInt32LE(value, i * 4));
  return buffer;
};
const RED = Buffer.concat([Buffer.from('R\0'), Buffer.from([2, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 0])]);

describe('EXR', () => {
  it('cut off anywhere is refused', async () => {
    const whole = await encodeImage(image(40, 30), 'exr');
    for (const length of [8, 40, 100, 220, 260, 300, 400, whole.length - 1]) {
      expect(await refusal('cut.exr', whole.slice(0, length)), `${length} bytes`).toBe('input/unreadable-file');
    }
    for (let share = 0.05; share < 1; share += 0.05) {
      expect(await refusal('cut.exr', whole.slice(0, Math.floor(whole.length * share)))).toBe('input/unreadable-file');
    }
  });

  // Found by reading faulty files: the loader went astray after it, and never came back.
  it('with an attribute that has not the size of its type is refused', async () => {
    const whole = Buffer.from(await encodeImage(image(12, 9), 'exr16'));
    const at = whole.indexOf('box2i\0') + 6;
    expect(whole.readUInt32LE(at)).toBe(16);
    whole.writeUInt32LE(91, at);
    expect(await refusal('astray.exr', whole)).toBe('input/unreadable-file');
  });

  it('whose list of channels ends before its size says is refused', async () => {
    const whole = Buffer.from(await encodeImage(image(12, 9), 'exr'));
    const at = whole.indexOf('R\0', whole.indexOf('chlist'));
    whole[at] = 0;
    expect(await refusal('astray.exr', whole)).toBe('input/unreadable-file');
  });

  it('is refused for its size wherever that stands, and for one that cannot be', async () => {
    const large = box(0, 0, 59_999, 59_999);
    const comment = Buffer.alloc(6000, 'x');
    const channels: [string, string, Buffer] = ['channels', 'chlist', RED];
    const compression: [string, string, Buffer] = ['compression', 'compression', Buffer.from([0])];
    // The table of chunks of so many rows, each of which begins where the file does.
    const table = Buffer.alloc(60_000 * 8);
    expect(
      await refusal(
        'large.exr',
        exr([channels, compression, ['comments', 'string', comment], ['dataWindow', 'box2i', large]], table),
      ),
    ).toBe('limit/pixels');
    for (const window of [box(0, 0, -1, -1), box(5, 5, 4, 9), box(0, 0, -2147483648, 10)]) {
      expect(await refusal('odd.exr', exr([channels, compression, ['dataWindow', 'box2i', window]], table))).toBe(
        'input/unreadable-file',
      );
    }
    const endless = Buffer.concat([Buffer.from([0x76, 0x2f, 0x31, 1, 2, 0, 0, 0]), Buffer.alloc(500, 'n')]);
    expect(await refusal('endless.exr', endless)).toBe('input/unreadable-file');
  });
});

describe('TGA', () => {
  const head = (type: number, width: number, height: number): Buffer => {
    const buffer = Buffer.alloc(18);
    buffer[2] = type;
    buffer.writeUInt16LE(width, 12);
    buffer.writeUInt16LE(height, 14);
    buffer[16] = 24;
    return buffer;
  };
  it('that says more texels than it has is refused before room is made for them', async () => {
    for (const type of [2, 10]) expect(await refusal('bomb.tga', head(type, 900, 900))).toBe('input/unreadable-file');
    expect(await refusal('bomb.tga', head(2, 16384, 16384))).toMatch(/unreadable-file|limit/);
    // One packet of 128 texels, of 400.
    const packets = Buffer.concat([head(10, 20, 20), Buffer.from([255, 1, 2, 3])]);
    expect(await refusal('part.tga', packets)).toBe('input/unreadable-file');
    const whole = Buffer.concat([head(10, 16, 8), Buffer.from([255, 1, 2, 3])]);
    const { data } = await readImageFile('whole.tga', whole, LIMITS);
    expect(data.length / (16 * 8)).toBeGreaterThanOrEqual(3);
  });
});

describe('HDR', () => {
  const hdr = (resolution: string, comment = '', rows = Buffer.alloc(0)) =>
    Buffer.concat([Buffer.from(`#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n${comment}\n${resolution}\n`), rows]);
  it('is refused for its size wherever that stands, and where its first row is cut off', async () => {
    const long = `# ${'x'.repeat(9000)}\n`;
    expect(await refusal('large.hdr', hdr('-Y 60000 +X 60000', long, Buffer.alloc(300_000)))).toBe('limit/pixels');
    expect(await refusal('cut.hdr', hdr('-Y 40 +X 40', '', Buffer.from([2, 2, 0, 40, 129])))).toBe(
      'input/unreadable-file',
    );
    expect(await refusal('bare.hdr', hdr('40 by 40'))).toBe('input/unreadable-file');
    expect(await refusal('short.hdr', Buffer.from('#?RADIANCE\n'))).toBe('input/unreadable-file');
  });
});

// Found by reading faulty files.
describe('a Radiance file whose rows are not packed', () => {
  const header = '#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 2 +X 3\n';
  const withBytes = (count: number): Uint8Array =>
    Uint8Array.from([...new TextEncoder().encode(header), ...Array.from({ length: count }, () => 128)]);

  it('is read whatever follows it, and refused when it is cut off', async () => {
    const { width, height, channels, data } = await readImageFile('light.hdr', withBytes(2 * 3 * 4 + 5), LIMITS);
    expect([width, height, channels, data.length]).toEqual([3, 2, 3, 18]);
    expect(await refusal('light.hdr', withBytes(2 * 3 * 4 - 1))).toBe('input/unreadable-file');
  });
});
