import { describe, expect, it } from 'vitest';
import { checkPixels, checkTriangles, DEFAULT_LIMITS, limitFrom, limitsFrom } from './limits.ts';

describe('limits of files', () => {
  it('are the usual ones unless the environment sets others', () => {
    expect(limitsFrom({})).toEqual(DEFAULT_LIMITS);
    expect(limitsFrom({ ZOGRAPHOS_MAX_PIXELS: '100', ZOGRAPHOS_MAX_BYTES: '' })).toEqual({
      ...DEFAULT_LIMITS,
      pixels: 100,
    });
  });

  it.each(['0', '-4', '1.5', 'many', '1e400', ' '])('“%s” is refused by the name of the variable', (text) => {
    expect(() => limitFrom({ ZOGRAPHOS_MAX_TRIANGLES: text }, 'ZOGRAPHOS_MAX_TRIANGLES', 7)).toThrow(
      /ZOGRAPHOS_MAX_TRIANGLES is “.*”; set it to a whole number above 0/,
    );
  });

  it('hold at the figure itself, and one more is refused with the file, the figure and the way out', () => {
    const limits = { ...DEFAULT_LIMITS, pixels: 6, triangles: 3 };
    checkPixels('a.png', 2, 3, limits);
    checkTriangles('a.obj', 3, limits);
    expect(() => checkPixels('a.png', 7, 1, limits)).toThrow(/“a\.png” is 7 × 1 px .* raise ZOGRAPHOS_MAX_PIXELS/);
    expect(() => checkTriangles('a.obj', 4, limits)).toThrow(/“a\.obj” has more than 3 triangles.*raise the limit/);
  });
});
