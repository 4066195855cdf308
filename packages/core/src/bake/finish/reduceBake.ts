import { TexelState, type Image } from '../../image/image.ts';

/** How the texels of a larger bake become one. */
export type Reduction = 'mean' | 'direction' | 'first';

/**
 * Halves a bake made at twice the size: each texel is the mean of those of its four that the layout covers. Texels that
 * met nothing count only where all of them did.
 * @param reduction `direction` makes means unit vectors again, `first` mixes nothing
 */
export function reduceBaked(
  { width, height, channels, data, ...meaning }: Image,
  states: Uint8Array,
  reduction: Reduction,
  into: Float32Array,
): Image {
  const [w, h] = [width / 2, height / 2];
  const from = new Int32Array(4);
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      const best = bestOfFour(states, width, x, y, from);
      const to = (y * w + x) * channels;
      if (reduction === 'first' || best.count === 1) {
        for (let c = 0; c < channels; c++) into[to + c] = data[from[0]! * channels + c]!;
        continue;
      }
      let squares = 0;
      for (let c = 0; c < channels; c++) {
        let sum = 0;
        for (let k = 0; k < best.count; k++) sum += data[from[k]! * channels + c]!;
        into[to + c] = sum / best.count;
        squares += (into[to + c]! * 2 - 1) ** 2;
      }
      if (reduction !== 'direction' || squares === 0) continue;
      const length = Math.sqrt(squares);
      for (let c = 0; c < channels; c++) into[to + c] = (into[to + c]! * 2 - 1) / length / 2 + 0.5;
    }
  }
  return { width: w, height: h, channels, data: into, ...meaning };
}

/** The states of the halved bake: covered where any of four texels is, else the largest. */
export function reduceStates(width: number, height: number, states: Uint8Array, into: Uint8Array): void {
  const from = new Int32Array(4);
  for (let y = 0; y < height / 2; y++) {
    for (let x = 0; x < width / 2; x++) into[y * (width / 2) + x] = bestOfFour(states, width, x, y, from).state;
  }
}

/** The islands of the halved bake. */
export function reduceIslands(width: number, states: Uint8Array, islands: Uint16Array, into: Uint16Array): void {
  const from = new Int32Array(4);
  const w = width / 2;
  for (let i = 0; i < into.length; i++) {
    bestOfFour(states, width, i % w, Math.floor(i / w), from);
    into[i] = islands[from[0]!]!;
  }
}

const WORTH = { [TexelState.background]: 0, [TexelState.padding]: 0, [TexelState.missed]: 1, [TexelState.covered]: 2 };

/** @param from told those of the four texels that count */
function bestOfFour(
  states: Uint8Array,
  width: number,
  x: number,
  y: number,
  from: Int32Array,
): { state: number; count: number } {
  let state: number = TexelState.background;
  let count = 0;
  for (let k = 0; k < 4; k++) {
    const at = (y * 2 + (k >> 1)) * width + x * 2 + (k & 1);
    const here = states[at]! as keyof typeof WORTH;
    if (WORTH[here] > WORTH[state as keyof typeof WORTH]) {
      state = here;
      count = 0;
    }
    if (WORTH[here] === WORTH[state as keyof typeof WORTH]) from[count++] = at;
  }
  return { state, count };
}
