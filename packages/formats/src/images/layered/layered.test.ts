import { unzipSync, zipSync, strToU8 } from 'fflate';
import { readPsd } from 'ag-psd';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { DEFAULT_LIMITS } from '../../limits.ts';
import { readLayeredFile } from './layeredFile.ts';
import { encodeOpenRaster } from './openRaster.ts';
import { encodePsd } from './psd.ts';

const size = { width: 6, height: 4 };
/** One colour with its alpha on a canvas, or on a part of it. */
const flat = async (rgba: readonly number[], { width, height } = size): Promise<Uint8Array> =>
  sharp(
    Uint8Array.from({ length: width * height * 4 }, (_, i) => rgba[i % 4]!),
    { raw: { width, height, channels: 4 } },
  )
    .png()
    .toBuffer();
const texels = async (png: Uint8Array): Promise<number[]> => [...(await sharp(png).raw().toBuffer())];
const openRaster = (stack: string, files: Record<string, Uint8Array> = {}): Uint8Array =>
  zipSync({ mimetype: strToU8('image/openraster'), 'stack.xml': strToU8(stack), ...files });

describe('OpenRaster (its specification, version 0.0.3)', () => {
  it('begins with the stored media type, and lists the stack from the top down', async () => {
    const [red, half] = [await flat([255, 0, 0, 255]), await flat([0, 0, 255, 128])];
    const bytes = await encodeOpenRaster(size, [
      { name: 'Plank <1>', visible: true, png: red },
      { name: 'Guide', visible: false, png: await flat([0, 255, 0, 255]) },
      { name: 'Moss & "salt"', visible: true, png: half },
    ]);
    // The first local header: name at 30, and its content uncompressed right behind.
    expect(new TextDecoder('latin1').decode(bytes.subarray(30, 54))).toBe('mimetypeimage/openraster');
    const files = unzipSync(bytes);
    const stack = new TextDecoder().decode(files['stack.xml']);
    expect(stack).toContain('w="6" h="4"');
    expect([...stack.matchAll(/layer name="([^"]*)"/g)].map(([, name]) => name)).toEqual([
      'Moss &amp; &quot;salt&quot;',
      'Guide',
      'Plank &lt;1&gt;',
    ]);
    // What is seen: half blue over red.
    const [r, g, b] = await texels(files['mergedimage.png']!);
    expect(Math.max(Math.abs(r! - 127), g!, Math.abs(b! - 128))).toBeLessThanOrEqual(1);
    const read = await readLayeredFile('plank.ora', bytes, DEFAULT_LIMITS);
    expect(read.layers.map(({ name, visible }) => [name, visible])).toEqual([
      ['Plank <1>', true],
      ['Guide', false],
      ['Moss & "salt"', true],
    ]);
    expect(await texels(read.layers[2]!.png)).toEqual(await texels(half));
  });

  it('knows groups, places, opacity and blend modes, and says what it does not know', async () => {
    const stack = `<?xml version="1.0"?><image w="6" h="4"><stack>
      <stack name="Signs"><layer name="Number" src="data/a.png" x="4" y="-1" opacity="0.5" composite-op="svg:multiply"/></stack>
      <layer name="Odd" src="data/b.png" composite-op="svg:dissolve"/><layer name="Lost" src="data/c.png"/>
    </stack></image>`;
    const png = await flat([10, 20, 30, 255], { width: 3, height: 2 });
    const { layers, notes } = await readLayeredFile(
      'signs.ora',
      openRaster(stack, { 'data/a.png': png, 'data/b.png': png }),
      DEFAULT_LIMITS,
    );
    expect(layers.map(({ name, opacity, blend }) => [name, opacity, blend])).toEqual([
      ['Odd', 1, 'normal'],
      ['Signs / Number', 0.5, 'multiply'],
    ]);
    // Of 3 × 2 px at (4, -1), 2 × 1 px lie on the canvas.
    const alpha = (await texels(layers[1]!.png)).filter((_, i) => i % 4 === 3);
    expect(alpha.map((value, i) => (value > 0 ? i : -1)).filter((i) => i >= 0)).toEqual([4, 5]);
    expect(notes).toEqual([
      '“Lost” is not in the file, and left out.',
      '“Odd” blends by dissolve, which is not known here; it lies plainly.',
    ]);
  });

  it('that is damaged, or too large, is refused with the way out', async () => {
    const refused = async (bytes: Uint8Array, limits = DEFAULT_LIMITS): Promise<string> =>
      readLayeredFile('x.ora', bytes, limits).then(
        () => '',
        (error: unknown) => String(error),
      );
    expect(await refused(strToU8('no archive'))).toContain('cannot be unpacked');
    expect(await refused(openRaster('<image/>'))).toContain('how large it is');
    expect(await refused(zipSync({ a: strToU8('b') }))).toContain('no stack.xml');
    const huge = openRaster('<image w="90000" h="90000"><stack/></image>');
    expect(await refused(huge)).toMatch(/90000 × 90000 px/);
  });
});

describe('PSD (as ag-psd reads and writes them)', () => {
  const pixels = (rgba: readonly number[]): Uint8ClampedArray =>
    Uint8ClampedArray.from({ length: size.width * size.height * 4 }, (_, i) => rgba[i % 4]!);

  it('hold their layers and what they look like together', async () => {
    const bytes = encodePsd(size, [
      { name: 'Ground', visible: true, rgba: pixels([255, 0, 0, 255]) },
      { name: 'Paint', visible: true, rgba: pixels([0, 0, 255, 128]) },
    ]);
    const psd = readPsd(bytes, { useImageData: true });
    expect(psd.children!.map(({ name }) => name)).toEqual(['Ground', 'Paint']);
    expect([...psd.imageData!.data.slice(0, 4)]).toEqual([127, 0, 128, 255]);
    const { layers } = await readLayeredFile('a.psd', bytes, DEFAULT_LIMITS);
    expect(layers.map(({ name, visible, blend }) => [name, visible, blend])).toEqual([
      ['Ground', true, 'normal'],
      ['Paint', true, 'normal'],
    ]);
    expect(await texels(layers[1]!.png)).toEqual([...pixels([0, 0, 255, 128])]);
  });

  it('in modes that cannot be read, or damaged, are refused with the way out', async () => {
    const bytes = encodePsd(size, [{ name: 'a', visible: true, rgba: pixels([1, 2, 3, 255]) }]);
    const changed = (at: number, value: number): Uint8Array => {
      const copy = bytes.slice();
      copy[at] = value;
      return copy;
    };
    const refused = (file: Uint8Array): Promise<string> =>
      readLayeredFile('a.psd', file, DEFAULT_LIMITS).then(
        () => '',
        (error: unknown) => String(error),
      );
    // The header tells bits at 22 and the mode at 24 (its published specification).
    expect(await refused(changed(25, 4))).toContain('CMYK');
    expect(await refused(changed(23, 32))).toContain('32 bits');
    expect(await refused(changed(0, 0))).toContain('no PSD');
    expect(await refused(bytes.slice(0, 60))).toContain('damaged');
  });
});
