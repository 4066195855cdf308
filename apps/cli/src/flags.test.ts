import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { IMAGE_FORMAT_NAMES } from '@zographos/formats/images';
import {
  fraction,
  lengthOr,
  namesTiles,
  oneOf,
  parseDirection,
  parseFormat,
  parseOccluders,
  parseReach,
  parseRepeat,
  parseSize,
  parseTiles,
  parseTileSizes,
  positive,
  required,
} from './flags.ts';

describe('flags of the command line', () => {
  it('that are missing are named', () => {
    expect(required('a', 'out')).toBe('a');
    expect(() => required(undefined, 'out')).toThrow('The flag --out is missing.');
    expect(() => required('', 'out')).toThrow('--out');
  });

  it('sizes are one number or two', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 99_999 }), fc.integer({ min: 1, max: 99_999 }), (width, height) => {
        expect(parseSize(`${width}x${height}`)).toEqual({ width, height });
        expect(parseSize(String(width))).toEqual({ width, height: width });
      }),
    );
    for (const text of ['', '12x', 'x12', '12X12', '1.5', '-3', '12 x 12']) {
      expect(() => parseSize(text), text).toThrow(`“${text}” is not a size. Write 1024 or 2048x1024.`);
    }
  });

  it('words are one of those known, which are listed', () => {
    expect(oneOf('axis', 'up', ['both', 'across', 'up'])).toBe('up');
    expect(() => oneOf('axis', 'down', ['both', 'across', 'up'])).toThrow(
      '--axis takes both, across or up, not “down”.',
    );
    for (const format of IMAGE_FORMAT_NAMES) expect(parseFormat(format)).toBe(format);
    expect(() => parseFormat('bmp')).toThrow(/There is no format “bmp”\. Choose one of: png8/);
  });

  it('reach is measured, fitted, or two lengths, and not both', () => {
    expect(parseReach(undefined, undefined, undefined)).toBe('auto');
    expect(parseReach('fitted', undefined, undefined)).toBe('fitted');
    expect(parseReach(undefined, '0.5', '0')).toEqual({ out: 0.5, in: 0 });
    expect(() => parseReach('wide', undefined, undefined)).toThrow(/“auto” or “fitted”/);
    expect(() => parseReach('auto', '1', '1')).toThrow(/either --reach, or/);
    expect(() => parseReach(undefined, '1', undefined)).toThrow(/--reach-in is missing/);
    for (const wrong of ['-1', 'far', 'NaN', 'Infinity']) {
      expect(() => parseReach(undefined, wrong, '1'), wrong).toThrow(/--reach-out takes a length in mesh units/);
    }
  });

  it('numbers have their ranges', () => {
    expect([fraction('even', '0'), fraction('even', '1'), fraction('even', '0.25')]).toEqual([0, 1, 0.25]);
    for (const wrong of ['', '1.01', '-0.1', 'half'])
      expect(() => fraction('even', wrong), wrong).toThrow(/from 0 to 1/);
    expect([positive('1', 'threads'), positive('256', 'threads')]).toEqual([1, 256]);
    for (const wrong of ['0', '257', '1.5', '']) expect(() => positive(wrong, 'threads'), wrong).toThrow(/1 to 256/);
    expect([lengthOr('auto', undefined, 'd'), lengthOr('auto', 'auto', 'd'), lengthOr('auto', '2', 'd')]).toEqual([
      'auto',
      'auto',
      2,
    ]);
  });

  it('tiles are all or by number, each with a size of its own', () => {
    expect([parseTiles(undefined), parseTiles('all'), parseTiles('1001,1012')]).toEqual([[1001], 'all', [1001, 1012]]);
    expect([namesTiles([1001]), namesTiles([1002]), namesTiles([1001, 1002]), namesTiles('all')]).toEqual([
      false,
      true,
      true,
      true,
    ]);
    expect(parseTileSizes(['1002=2048', '1003=512x256'])).toEqual({
      1002: { width: 2048, height: 2048 },
      1003: { width: 512, height: 256 },
    });
    expect(() => parseTileSizes(['1002'])).toThrow(/is not a size/);
  });

  it('directions, patterns and occluders are read as they are written', () => {
    expect([parseDirection('y'), parseDirection('0,-1,0.5')]).toEqual([
      [0, 1, 0],
      [0, -1, 0.5],
    ]);
    expect([parseRepeat(undefined), parseRepeat('none')]).toEqual(['none', 'none']);
    expect(parseRepeat('staggered:4x6')).toEqual({ grid: 'staggered', columns: 4, rows: 6 });
    expect(parseRepeat('hexagonal:5')).toEqual({ grid: 'hexagonal', columns: 5, rows: 'follow' });
    expect(() => parseRepeat('round')).toThrow(/“round” is not a pattern/);
    expect([parseOccluders('own'), parseOccluders('all'), parseOccluders('a,b c')]).toEqual([
      'own',
      'all',
      ['a', 'b c'],
    ]);
  });
});
