import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { errorCategory, ZographosError } from './errors.ts';
import {
  sharedCopyFloat32,
  sharedCopyUint32,
  sharedFloat32,
  sharedInt32,
  sharedUint16,
  sharedUint32,
  sharedUint8,
} from './sharedArrays.ts';

describe('arrays that threads share', () => {
  it.each([
    ['float32', sharedFloat32],
    ['uint32', sharedUint32],
    ['int32', sharedInt32],
    ['uint16', sharedUint16],
    ['uint8', sharedUint8],
  ] as const)('%s are as long as was asked for, and zero', (_, make) => {
    for (const length of [0, 1, 7, 1000]) {
      const array = make(length);
      expect(array).toHaveLength(length);
      expect(array.every((value) => value === 0)).toBe(true);
      expect(array.buffer).toBeInstanceOf(SharedArrayBuffer);
    }
  });

  it('are copied to the last bit', () => {
    fc.assert(
      fc.property(fc.float32Array(), fc.uint32Array(), (floats, numbers) => {
        expect([...sharedCopyFloat32(floats)]).toEqual([...floats]);
        expect([...sharedCopyUint32(numbers)]).toEqual([...numbers]);
      }),
    );
  });
});

describe('an error', () => {
  it('carries its code, its sentence and what it came of', () => {
    const cause = new Error('torn');
    const error = new ZographosError('input/unreadable-file', '“a.png” cannot be read. Export it again.', { cause });
    expect(error).toMatchObject({ name: 'ZographosError', code: 'input/unreadable-file', cause });
    expect(error).toBeInstanceOf(Error);
    expect(errorCategory(error.code)).toBe('input');
    expect(errorCategory('service/database')).toBe('service');
  });
});
