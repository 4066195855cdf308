import { describe, expect, it } from 'vitest';
import type { Image } from '../../image/image.ts';
import { DEFAULT_LAYER, fieldImage } from '../../pattern/index.ts';
import { castShadowsOf, withoutShadows } from './castShadows.ts';
import { evenOut } from './evenOut.ts';
import { withoutHighlights } from './highlights.ts';

const [WIDTH, HEIGHT] = [420, 320];

/** Ground with a fine texture, of one colour or of two that lie in broad stripes. */
function ground(colors: readonly (readonly [number, number, number])[]): Image {
  const layers = [{ ...DEFAULT_LAYER, scale: 70, octaves: 3, levels: [-1, 2] as const }];
  const grain = fieldImage({ layers, wrap: 'none', samples: 1 }, { width: WIDTH, height: HEIGHT }).data;
  const data = new Float32Array(WIDTH * HEIGHT * 3);
  for (let i = 0; i < grain.length; i++) {
    const stripe = Math.floor(((i % WIDTH) / WIDTH) * 4) % colors.length;
    for (let c = 0; c < 3; c++) data[i * 3 + c] = colors[stripe]![c]! * (0.5 + grain[i]!);
  }
  return { width: WIDTH, height: HEIGHT, channels: 3, data, colorSpace: 'srgb' };
}

/** What is left of the light in a shadow that only the sky lights: bluer than the sun (invented values). */
const SKY = [0.42, 0.47, 0.58] as const;

/** How deep in the shadow of a pole a place is: 0 or 1, with a soft border. */
const shadeAt = (i: number): number => {
  const [u, v] = [(i % WIDTH) / WIDTH, Math.floor(i / WIDTH) / HEIGHT];
  return 1 / (1 + Math.exp(((Math.abs(u - 0.35 - 0.3 * v) - 0.12) * WIDTH) / 1.5));
};

const shaded = (image: Image): Image => ({
  ...image,
  data: image.data.map((value, k) => value * (1 + (SKY[k % 3]! - 1) * shadeAt(Math.floor(k / 3)))),
});

/** Means of each channel in the shadow over those of another picture there. */
function ratioInShadow(image: Image, other: Image): number[] {
  const sums = [image, other].map(({ data }) => {
    const sum = [0, 0, 0];
    data.forEach((value, k) => {
      if (shadeAt(Math.floor(k / 3)) > 0.99) sum[k % 3]! += value;
    });
    return sum;
  });
  return sums[0]!.map((sum, c) => sum / sums[1]![c]!);
}

describe('cast shadows', () => {
  it('are given the light and the colour that they lack', () => {
    const true_ = ground([[0.4, 0.34, 0.26]]);
    const dark = shaded(true_);
    ratioInShadow(dark, true_).forEach((ratio, c) => expect(ratio).toBeCloseTo(SKY[c]!, 1));
    const light = withoutShadows(dark, castShadowsOf(dark)!, 1);
    for (const ratio of ratioInShadow(light, true_)) expect(Math.abs(ratio - 1)).toBeLessThan(0.15);
    const half = withoutShadows(dark, castShadowsOf(dark)!, 0.5);
    for (const ratio of ratioInShadow(half, true_)) expect(ratio).toBeGreaterThan(0.6);
    for (const ratio of ratioInShadow(half, true_)) expect(ratio).toBeLessThan(0.85);
  });

  it('are none where the ground changes its colour, however dark it becomes', () => {
    const striped = ground([
      [0.45, 0.36, 0.24],
      [0.12, 0.19, 0.06],
    ]);
    const left = withoutShadows(striped, castShadowsOf(striped)!, 1);
    let off = 0;
    left.data.forEach((value, k) => (off += Math.abs(Math.log(value / striped.data[k]!))));
    expect(off / left.data.length).toBeLessThan(0.12);
  });

  it('are not looked for in pictures without colours', () => {
    expect(castShadowsOf({ width: 4, height: 4, channels: 1, data: new Float32Array(16) })).toBeNull();
  });
});

describe('highlights', () => {
  const clean = ground([[0.35, 0.2, 0.1]]);
  const isGlossy = (i: number): boolean => {
    const [x, y] = [i % WIDTH, Math.floor(i / WIDTH)];
    return Math.hypot((x % 70) - 35, (y % 70) - 35) < 5;
  };
  const glossy: Image = {
    ...clean,
    data: clean.data.map((value, k) => value + (isGlossy(Math.floor(k / 3)) ? 0.4 : 0)),
  };
  const errorOf = ({ data }: Image): number =>
    data.reduce((sum, value, k) => sum + (isGlossy(Math.floor(k / 3)) ? Math.abs(value - clean.data[k]!) : 0), 0);

  it('of white light vanish from coloured ground, and nothing else does', () => {
    const left = withoutHighlights(glossy, 1);
    expect(errorOf(left)).toBeLessThan(errorOf(glossy) * 0.25);
    left.data.forEach((value, k) => {
      if (!isGlossy(Math.floor(k / 3))) expect(Math.abs(value - clean.data[k]!)).toBeLessThan(0.03);
    });
  });

  it('stay as far as their strength leaves them', () => {
    expect(withoutHighlights(glossy, 0)).toBe(glossy);
    const ratio = errorOf(withoutHighlights(glossy, 0.5)) / errorOf(glossy);
    expect(ratio).toBeGreaterThan(0.45);
    expect(ratio).toBeLessThan(0.7);
  });
});

describe('evening out', () => {
  it('leaves a picture alone of which nothing is to be taken', () => {
    const image = ground([[0.3, 0.3, 0.3]]);
    expect(evenOut(image, { radius: 0.2, light: 0, color: 0, shadows: 0, highlights: 0 })).toBe(image);
  });
});
