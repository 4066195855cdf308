import { describe, expect, it } from 'vitest';
import { joinMeshes } from '../../mesh/join.ts';
import { linearToSrgb } from '../../color/srgb.ts';
import { reliefPlane, sphere } from '../../testing/shapes.ts';
import { idColors } from '../../color/idColors.ts';
import { piecesOf } from './pieces.ts';

const ball = { ...sphere('ball', 1, 6, 12), slots: ['brass'] };
const board = { ...reliefPlane('board', 2, 9), slots: ['oak'] };

describe('the pieces of an ID map', () => {
  it('have the same numbers whatever the order of the sources', () => {
    for (const by of ['slot', 'object'] as const) {
      const one = piecesOf([ball, board], by);
      const other = piecesOf([board, ball], by);
      expect(other.names).toEqual(one.names);
      const boardTriangles = board.indices.length / 3;
      expect(other.pieces[0]).toBe(one.pieces.at(-1));
      expect(other.pieces[boardTriangles]).toBe(one.pieces[0]);
    }
  });

  it('are connected parts where asked for, over UV seams', () => {
    const { pieces, names } = piecesOf([joinMeshes('both', [ball, board])], 'part');
    expect(names).toEqual(['both, part 0001', 'both, part 0002']);
    const ballTriangles = ball.indices.length / 3;
    expect(new Set(pieces.subarray(0, ballTriangles)).size).toBe(1);
    expect(pieces.at(-1)).not.toBe(pieces[0]);
  });

  it('have colours that 8 bits tell apart, the same every time', () => {
    const bytes = [...idColors(64)].map((value) => Math.round(linearToSrgb(value) * 255));
    const color = (i: number): number[] => bytes.slice(i * 3, i * 3 + 3);
    for (let a = 0; a < 64; a++) {
      for (let b = 0; b < a; b++) {
        expect(Math.max(...color(a).map((value, c) => Math.abs(value - color(b)[c]!)))).toBeGreaterThan(4);
      }
    }
    expect(idColors(3)).toEqual(idColors(64).subarray(0, 9));
  });
});
