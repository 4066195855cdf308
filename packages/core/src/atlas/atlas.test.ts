import { describe, expect, it } from 'vitest';
import type { Image } from '../image/image.ts';
import { reliefPlane } from '../testing/shapes.ts';
import { composeAtlas, moveToPlace } from './composeAtlas.ts';
import { inRows, onShelves } from './placements.ts';

const square = (side: number) => ({ width: side, height: side });
const plain = (side: number, ...texel: number[]): Image => ({
  ...square(side),
  channels: texel.length,
  data: new Float32Array(side * side * texel.length).map((_, i) => texel[i % texel.length]!),
});

describe('placing image sets in an atlas', () => {
  it('puts four squares into one of twice their side: UVs by 0.5, moved by 0 or 0.5 (common practice)', () => {
    const atlas = square(4096);
    const places = inRows([2048, 2048, 2048, 2048].map(square), atlas, 0);
    const plane = reliefPlane('plane', 3, 1);
    const offsets = places.map((place) => {
      const { coords } = moveToPlace(plane, 0, place, atlas).uvSets[0]!;
      const [u0, v0] = [coords[0]!, coords[1]!];
      coords.forEach((value, i) =>
        expect(value).toBe(Math.fround((i % 2 === 0 ? u0 : v0) + plane.uvSets[0]!.coords[i]! * 0.5)),
      );
      return [u0, v0];
    });
    expect(offsets).toEqual([
      [0, 0],
      [0.5, 0],
      [0, 0.5],
      [0.5, 0.5],
    ]);
  });

  it('says what size would do, with gutters and without', () => {
    const sets = [64, 64, 64].map(square);
    expect(() => inRows(sets, square(64), 0)).toThrow(/3 image sets do not fit into 64 × 64 px. 128 px would do/);
    expect(() => inRows(sets, square(128), 4)).toThrow(/256 px would do, or a smaller gutter/);
    expect(() => onShelves([128, 64, 64, 32].map(square), square(128), 0)).toThrow(/256 px would do/);
  });

  it('packs mixed sizes without overlap', () => {
    const sizes = [64, 128, 32, 64, 64, 32].map(square);
    const places = onShelves(sizes, square(256), 4);
    places.forEach((a, i) => {
      expect(Math.min(a.x, a.y, 256 - a.x - a.width, 256 - a.y - a.height)).toBeGreaterThanOrEqual(4);
      for (const b of places.slice(i + 1)) {
        const apart = Math.max(b.x - a.x - a.width, a.x - b.x - b.width, b.y - a.y - a.height, a.y - b.y - b.height);
        expect(apart).toBeGreaterThanOrEqual(8);
      }
    });
  });

  it('copies texels as they are, draws borders out, and fills the rest with what is neutral', () => {
    const places = [
      { x: 2, y: 2, ...square(4) },
      { x: 10, y: 2, ...square(4) },
    ];
    const red = { ...plain(4, 1, 0, 0) };
    red.data[0] = 0.25; // its top left texel
    const atlas = composeAtlas('basecolor', [red, plain(4, 0.5)], places, square(16), 2);
    const at = (x: number, y: number): number[] => [...atlas.data.slice((y * 16 + x) * 3, (y * 16 + x) * 3 + 3)];
    expect(at(2, 10)).toEqual([0.25, 0, 0]);
    expect(at(0, 8)).toEqual([0.25, 0, 0]);
    expect(at(5, 13)).toEqual([1, 0, 0]);
    expect(at(12, 12)).toEqual([0.5, 0.5, 0.5]);
    // The neutral base colour of the table of kinds.
    for (const value of at(0, 0)) expect(value).toBeCloseTo(0.2, 6);
    const normals = composeAtlas('normal', [plain(4, 0.2, 0.4, 0.9), null], places, square(16), 0);
    expect([...normals.data.slice(0, 3)]).toEqual([0.5, 0.5, 1]);
    expect([...normals.data.slice((12 * 16 + 11) * 3, (12 * 16 + 11) * 3 + 3)]).toEqual([0.5, 0.5, 1]);
  });

  it('refuses UVs that would lie on a neighbour, and maps of another size', () => {
    const plane = reliefPlane('plane', 1, 1);
    plane.uvSets[0]!.coords[0] = -0.5;
    expect(() => moveToPlace(plane, 0, { x: 0, y: 0, ...square(8) }, square(16))).toThrow(
      /1 triangles of “plane”|2 triangles of “plane”/,
    );
    expect(() => composeAtlas('ao', [plain(4, 1)], [{ x: 0, y: 0, ...square(8) }], square(8), 0)).toThrow(
      /4 × 4 px.*8 × 8/,
    );
  });
});
