import { describe, expect, it } from 'vitest';
import type { Image } from '../image/image.ts';
import { proveTile, seamVisibility, SEEN_FROM } from '../measure/index.ts';
import { DEFAULT_LAYER, fieldImage, type FieldLayer } from '../pattern/index.ts';
import { ownSize } from './ownSize.ts';
import type { Ends } from './seamlessSet.ts';
import { DEFAULT_TILE, TileMaker } from './tileMaker.ts';

const layer = (part: Partial<FieldLayer>): FieldLayer => ({ ...DEFAULT_LAYER, octaves: 1, seed: 3, ...part });

/** Five materials, made by code, as large photographs of them. */
const MATERIALS = {
  sand: [layer({ scale: 64, octaves: 3, gain: 0.6, levels: [0.2, 0.8] })],
  'cracked mud': [
    layer({ scale: 20, octaves: 4, levels: [-1, 2] }),
    layer({ kind: 'cracks', scale: 9, line: 0.07, invert: true, blend: 'multiply' }),
  ],
  cobble: [layer({ kind: 'cells', measure: 'border', scale: 12, levels: [0, 0.5] })],
  bricks: [layer({ kind: 'bricks', columns: 8, rows: 16, line: 0.08 })],
  clouds: [layer({ scale: 6, octaves: 6, levels: [0.2, 0.8] })],
} satisfies Record<string, FieldLayer[]>;
type Material = keyof typeof MATERIALS;

/** Texels of the whole material. */
const SIDE = 448;

/** A part of the material that does not repeat by itself. */
function photographOf(material: Material, [left, top, width, height] = [21, 28, 400, 340]): Image {
  const whole = fieldImage(
    { layers: MATERIALS[material], wrap: 'flat-torus', samples: 1 },
    { width: SIDE, height: SIDE },
  );
  const data = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    const from = (y + top) * SIDE + left;
    data.set(whole.data.subarray(from, from + width), y * width);
  }
  return { width: width, height: height, channels: 1, data, colorSpace: 'srgb' };
}

const WAYS = {
  cut: {},
  'hard cut': { softness: 0 },
  blend: { method: 'band', softness: 1 },
  'narrow blend': { method: 'band', width: 0.01, softness: 1 },
  untouched: { method: 'none' },
  mirror: { method: 'mirror' },
} satisfies Record<string, Partial<Ends>>;

function tileOf(photograph: Image, way: keyof typeof WAYS): Image {
  const ends = { ...DEFAULT_TILE.ends.across, ...WAYS[way] };
  const settings = { ...DEFAULT_TILE, ends: { across: ends, up: ends } };
  const size = ownSize(photograph, settings);
  return new TileMaker([{ kind: 'basecolor', image: photograph }], 0).make({ ...settings, size })[0]!;
}

const seen = (material: Material, ...ways: (keyof typeof WAYS)[]): number[] => {
  const photograph = photographOf(material);
  return ways.map((way) => seamVisibility(tileOf(photograph, way), photograph)!.visibility);
};

// How they rank was judged by eye, at 2 × 2 (invented materials; common practice, no source).
describe('the visibility of seams', () => {
  it('is nothing in sand, however it is joined', () => {
    for (const visible of seen('sand', 'cut', 'blend', 'narrow blend')) expect(visible).toBeLessThan(SEEN_FROM / 2);
  });

  it.each(['cracked mud', 'cobble'] as const)(
    'of %s is least along a cut, and most where nothing was joined',
    (name) => {
      const [cut, blend, narrow, untouched] = seen(name, 'cut', 'blend', 'narrow blend', 'untouched') as [
        number,
        number,
        number,
        number,
      ];
      expect(cut).toBeLessThan(blend * 0.85);
      expect(cut).toBeLessThan(narrow);
      expect(narrow).toBeLessThan(untouched);
      expect(untouched).toBeGreaterThan(4 * SEEN_FROM);
    },
  );

  it('of clouds is least where they are blended, and a hard cut through them shows', () => {
    const [blend, cut, hard, untouched] = seen('clouds', 'blend', 'cut', 'hard cut', 'untouched') as [
      number,
      number,
      number,
      number,
    ];
    expect(blend).toBeLessThan(SEEN_FROM);
    // The soft cut blends where there are no edges.
    expect(cut).toBeLessThan(hard / 2);
    expect(hard).toBeGreaterThan(2 * SEEN_FROM);
    expect(untouched).toBeGreaterThan(hard);
  });

  it('of bricks is nothing where whole ones were cut out, and large where courses do not meet', () => {
    const matching = photographOf('bricks', [28, 28, 336, 336]);
    const [good, blended] = [matching, photographOf('bricks')].map(
      (photograph, i) => seamVisibility(tileOf(photograph, i === 0 ? 'untouched' : 'blend'), photograph)!.visibility,
    );
    expect(good).toBeLessThan(SEEN_FROM);
    expect(blended).toBeGreaterThan(10 * SEEN_FROM);
  });

  it('is marked where it shows: along the border of a photograph that was not joined', () => {
    const photograph = photographOf('clouds');
    const { places, worst } = seamVisibility(tileOf(photograph, 'untouched'), photograph)!;
    expect(worst).toBeGreaterThan(4);
    expect(places.length).toBeGreaterThan(8);
    for (const { x, y, strength } of places) {
      expect(Math.min(x, 1 - x, y, 1 - y)).toBeLessThan(0.04);
      expect(strength).toBeGreaterThan(1.5);
    }
  });

  it('is the same each time', () => {
    const photograph = photographOf('cobble');
    const tile = tileOf(photograph, 'cut');
    expect(seamVisibility(tile, photograph)).toEqual(seamVisibility(tile, photograph));
  });

  it('is not told of a picture smaller than what is compared', () => {
    const dot: Image = { width: 4, height: 4, channels: 1, data: new Float32Array(16).fill(0.5) };
    expect(seamVisibility(dot, dot)).toBeNull();
  });
});

describe('a mirrored tile', () => {
  it('is its own mirror image, which no photograph is', () => {
    const photograph = photographOf('cobble');
    const mirrored = proveTile(tileOf(photograph, 'mirror'), photograph);
    expect(mirrored.repetition.mirrored).toBeGreaterThan(0.99);
    expect(mirrored.usual!.mirrored).toBeLessThan(0.4);
    expect(proveTile(tileOf(photograph, 'cut'), photograph).repetition.mirrored).toBeLessThan(0.4);
  });
});
