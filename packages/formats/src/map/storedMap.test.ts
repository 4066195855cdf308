import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Image, MapConvention } from '@zographos/core/image';
import { loadImage, storeImage, storeStates, type ByteSource } from './storedMap.ts';
import { shufflePlanes, TILE, tileSize, unshufflePlanes } from './tiles.ts';

/** Somewhere to keep bytes, that can be asked for ranges of them. */
function shelf(): { sink: (bytes: Uint8Array) => Promise<void>; source: ByteSource; length: () => number } {
  let kept = new Uint8Array(0);
  return {
    sink: (bytes) => {
      const longer = new Uint8Array(kept.length + bytes.length);
      longer.set(kept);
      longer.set(bytes, kept.length);
      kept = longer;
      return Promise.resolve();
    },
    source: (offset, length) => Promise.resolve(kept.subarray(offset, offset + length)),
    length: () => kept.length,
  };
}

const size = fc.record({
  width: fc.integer({ min: 1, max: 2 * TILE + 3 }),
  height: fc.integer({ min: 1, max: TILE + 3 }),
  channels: fc.constantFrom(1, 3, 4),
});
const conventions: (MapConvention | undefined)[] = [
  undefined,
  { of: 'direction', space: 'tangent', y: 'down', axes: 'xzy' },
  { of: 'height', unit: 'mm', mid: 0.5, span: 4 },
];

describe('a stored map', () => {
  it('comes back to the last bit with its meaning, whatever its size', async () => {
    await fc.assert(
      fc.asyncProperty(size, fc.constantFrom(...conventions), async ({ width, height, channels }, convention) => {
        const data = new Float32Array(width * height * channels).map((_, i) => Math.sin(i * 12.9898) * 1e3);
        const image: Image = {
          ...{ width, height, channels, data, range: [-1000, 1000], colorSpace: 'linear' },
          ...(convention ? { convention } : {}),
        };
        const { sink, source, length } = shelf();
        const directory = await storeImage(image, sink);
        const { data: texels, ...meaning } = await loadImage(directory, source);
        expect(meaning).toEqual({ ...image, data: undefined });
        expect(Buffer.compare(Buffer.from(texels.buffer), Buffer.from(data.buffer))).toBe(0);
        expect(directory.levels.at(-1)!.offsets.at(-1)).toBe(length());
        const last = directory.levels.at(-1)!;
        expect(Math.max(last.width, last.height)).toBeLessThanOrEqual(TILE);
      }),
      { numRuns: 12 },
    );
  });

  it('halves from level to level, and keeps the mean of an even one', async () => {
    const side = TILE * 4;
    const data = new Float32Array(side * side).map((_, i) => (i % 7) / 6);
    const { sink, source } = shelf();
    const directory = await storeImage({ width: side, height: side, channels: 1, data }, sink);
    expect(directory.levels.map(({ width }) => width)).toEqual([1024, 512, 256]);
    const mean = (values: Float32Array): number => values.reduce((sum, value) => sum + value, 0) / values.length;
    for (const level of [1, 2]) {
      expect(mean((await loadImage(directory, source, level)).data)).toBeCloseTo(mean(data), 4);
    }
  });

  it('has states of texels beside it, which are never mixed into new ones', async () => {
    const [width, height] = [TILE + 44, 17];
    const states = new Uint8Array(width * height).map((_, i) => (i * 31) % 4);
    const { sink, source } = shelf();
    const directory = await storeStates({ width, height }, states, sink);
    expect(directory.samples).toBe('uint8');
    expect([...(await loadImage(directory, source)).data]).toEqual([...states]);
    const small = await loadImage(directory, source, 1);
    expect([small.width, small.height]).toEqual([150, 9]);
    for (const state of small.data) expect([0, 1, 2, 3]).toContain(state);
  });
});

describe('tiles', () => {
  it('at the borders are what is left', () => {
    const level = { width: TILE + 10, height: 20, columns: 2, rows: 1, offsets: [] };
    expect(tileSize(level, 0, 0)).toEqual({ width: TILE, height: 20 });
    expect(tileSize(level, 1, 0)).toEqual({ width: 10, height: 20 });
  });

  it('sorted into planes and back are the same bits, also of what is no number', () => {
    fc.assert(
      fc.property(fc.float32Array(), (values) => {
        expect(unshufflePlanes(shufflePlanes(values))).toEqual(values);
      }),
    );
  });
});
