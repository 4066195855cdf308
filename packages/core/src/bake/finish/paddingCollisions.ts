import { TexelState } from '../../image/image.ts';
import { BLOCK } from '../coverage/blocks.ts';

export interface Collisions {
  /** Texels of padding at which another island begins. */
  texels: number;
  /** Blocks with most of them, and the first such texel. */
  places: { texels: number; x: number; y: number }[];
}

const PLACES = 12;

/**
 * Where the padding of one island meets another island or its padding: their gap is too narrow for the padding asked.
 * @param islands the island that each covered or padded texel belongs to
 */
export function paddingCollisions(width: number, height: number, states: Uint8Array, islands: Uint16Array): Collisions {
  const found = new Map<number, { texels: number; x: number; y: number }>();
  let texels = 0;
  const apart = (at: number, other: number): boolean =>
    states[other]! >= TexelState.padding && islands[other] !== islands[at];
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const at = y * width + x;
      if (states[at] !== TexelState.padding) continue;
      const meets =
        (x > 0 && apart(at, at - 1)) ||
        (x + 1 < width && apart(at, at + 1)) ||
        (y > 0 && apart(at, at - width)) ||
        (y + 1 < height && apart(at, at + width));
      if (!meets) continue;
      texels++;
      const block = Math.floor(y / BLOCK) * Math.ceil(width / BLOCK) + Math.floor(x / BLOCK);
      const known = found.get(block);
      if (known) known.texels++;
      else found.set(block, { texels: 1, x, y });
    }
  }
  const places = [...found].sort(([a, p], [b, q]) => q.texels - p.texels || a - b).map(([, place]) => place);
  return { texels, places: places.slice(0, PLACES) };
}
