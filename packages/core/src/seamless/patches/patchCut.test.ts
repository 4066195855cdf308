import { describe, expect, it } from 'vitest';
import { randomNumbers } from '../../math/randomNumbers.ts';
import { fieldImage } from '../../pattern/field.ts';
import { DEFAULT_LAYER } from '../../pattern/fieldLayer.ts';
import { CutSide, minCut } from '../cut/minCut.ts';
import { joined } from './patchCut.ts';
import { PatchMeeting } from './patchMeeting.ts';
import { PatchTile } from './patchTile.ts';
import type { Place } from './patchMeeting.ts';

const SIDE = 260;

/** A tile with two patches in it, and where a third goes that lies on both and over the border. */
function beginning(random: () => number): { tile: PatchTile; to: Place; from: Place } {
  const layers = [
    { ...DEFAULT_LAYER, kind: 'cells' as const },
    { ...DEFAULT_LAYER, blend: 'overlay' as const, octaves: 5 },
  ];
  const source = fieldImage({ layers, wrap: 'none', samples: 1 }, { width: 600, height: 600 });
  const somewhere = (): Place => [Math.floor(random() * 340), Math.floor(random() * 340)];
  const tile = new PatchTile(source, { width: 420, height: 420 }, SIDE);
  tile.put([0, 0], somewhere());
  tile.put([0, 150], somewhere());
  return { tile, to: [160, 310], from: somewhere() };
}

describe('where a large patch is joined', () => {
  it('costs hardly more than the best of all cuts, though it is sought in ever smaller cells', () => {
    const random = randomNumbers(4);
    for (let round = 0; round < 3; round++) {
      const { tile, to, from } = beginning(random);
      const meeting = new PatchMeeting(tile, to, from);
      const { width: wide } = meeting;
      const kind = Uint8Array.from({ length: wide * wide }, (_, at) =>
        meeting.kindAt(at % wide, Math.floor(at / wide), 1),
      );
      const [right, below] = (['right', 'below'] as const).map((way) =>
        Int32Array.from(kind, (_, at) => meeting.costAt(at % wide, Math.floor(at / wide), way)),
      ) as [Int32Array, Int32Array];
      const cost = (isFresh: (at: number) => boolean): number => {
        let sum = 0;
        for (let at = 0; at < wide * (wide - 1) - 1; at++) {
          for (const [next, cost] of [
            [at + 1, right[at]!],
            [at + wide, below[at]!],
          ] as const) {
            if (kind[at] !== CutSide.either && kind[next] !== CutSide.either) continue;
            if (isFresh(at) !== isFresh(next)) sum += 1 + cost;
          }
        }
        return sum;
      };
      const exact = minCut({ right, below }, kind, wide, wide);
      const shows = joined(tile, to, from);
      const found = cost((at) => {
        const [x, y] = [(at % wide) - 1, Math.floor(at / wide) - 1];
        return x >= 0 && y >= 0 && x < SIDE && y < SIDE && shows[y * SIDE + x]! >= 4;
      });
      const ratio = found / cost((at) => exact[at] === 1);
      // Softening moves single texels.
      expect(ratio).toBeGreaterThan(0.99);
      expect(ratio).toBeLessThan(1.15);
    }
  });

  it('fills all that was empty', () => {
    const { tile, to, from } = beginning(randomNumbers(8));
    const before = tile.filled.slice();
    const { shows } = tile.put(to, from);
    for (let y = 0; y < SIDE; y++) {
      for (let x = 0; x < SIDE; x++) {
        const texel = ((to[1] + y) % 420) * 420 + ((to[0] + x) % 420);
        expect(tile.filled[texel]).toBe(1);
        if (before[texel] === 0 && shows[y * SIDE + x] !== 8) throw new Error(`hole at ${x}, ${y}`);
      }
    }
  });
});
