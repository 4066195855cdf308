/** Rounds of relaxation at each size. */
const ROUNDS = 16;
/** Smaller grids are settled as they are. */
const SMALLEST = 8;

/**
 * The membrane that is fixed at some places and hangs freely between them: each free value is the mean of its four
 * neighbours (the Laplace equation). Found on ever finer grids, each beginning with what the one before it found, by
 * successive over-relaxation. Used to fit pictures into each other (Pérez, Gangnet and Blake, "Poisson Image Editing",
 * 2003).
 * @param values one for each place, row by row, made the membrane in place; what is not fixed need not be set
 * @param isFixed 1 for places that keep their value
 * @example const grid = new Float32Array([0, 0, 4]); membrane(grid, new Uint8Array([1, 0, 1]), 3, 1); // 0, 2, 4
 */
export function membrane(values: Float32Array, isFixed: Uint8Array, width: number, height: number): void {
  const [w, h] = [Math.ceil(width / 2), Math.ceil(height / 2)];
  if (Math.max(width, height) > SMALLEST) {
    const half = new Float32Array(w * h);
    const isHalfFixed = new Uint8Array(w * h);
    for (let y = 0; y < h; y++) {
      for (let x = 0; x < w; x++) {
        let [sum, count] = [0, 0];
        for (let j = 2 * y; j < Math.min(height, 2 * y + 2); j++) {
          for (let i = 2 * x; i < Math.min(width, 2 * x + 2); i++) {
            if (isFixed[j * width + i] === 0) continue;
            sum += values[j * width + i]!;
            count++;
          }
        }
        if (count === 0) continue;
        half[y * w + x] = sum / count;
        isHalfFixed[y * w + x] = 1;
      }
    }
    membrane(half, isHalfFixed, w, h);
    for (let y = 0, at = 0; y < height; y++) {
      for (let x = 0; x < width; x++, at++) if (isFixed[at] === 0) values[at] = between(half, w, h, x, y);
    }
  } else {
    for (let at = 0; at < values.length; at++) if (isFixed[at] === 0) values[at] = 0;
  }
  relax(values, isFixed, width, height, Math.max(width, height) > SMALLEST ? ROUNDS : ROUNDS * 8);
}

/** A value of the grid half as large, at the middle of a place of the larger one. */
function between(half: Float32Array, w: number, h: number, x: number, y: number): number {
  const [u, v] = [(x - 0.5) / 2, (y - 0.5) / 2];
  const [left, top] = [Math.floor(u), Math.floor(v)];
  const [sx, sy] = [u - left, v - top];
  const at = (i: number, j: number): number =>
    half[Math.max(0, Math.min(h - 1, j)) * w + Math.max(0, Math.min(w - 1, i))]!;
  const upper = at(left, top) * (1 - sx) + at(left + 1, top) * sx;
  const lower = at(left, top + 1) * (1 - sx) + at(left + 1, top + 1) * sx;
  return upper * (1 - sy) + lower * sy;
}

const OVER = 1.8;

function relax(values: Float32Array, isFixed: Uint8Array, width: number, height: number, rounds: number): void {
  for (let round = 0; round < rounds; round++) {
    for (let y = 0, at = 0; y < height; y++) {
      for (let x = 0; x < width; x++, at++) {
        if (isFixed[at] === 1) continue;
        let [sum, count] = [0, 0];
        if (x > 0) [sum, count] = [sum + values[at - 1]!, count + 1];
        if (x + 1 < width) [sum, count] = [sum + values[at + 1]!, count + 1];
        if (y > 0) [sum, count] = [sum + values[at - width]!, count + 1];
        if (y + 1 < height) [sum, count] = [sum + values[at + width]!, count + 1];
        if (count > 0) values[at]! += OVER * (sum / count - values[at]!);
      }
    }
  }
}
