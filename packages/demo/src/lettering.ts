/** Strokes of the letters needed, in a cell 0 to 1 wide and high: each a line of points x, y. */
const STROKES: Record<string, number[][]> = {
  S: [
    [
      0.95, 0.85, 0.7, 1, 0.3, 1, 0.05, 0.85, 0.05, 0.65, 0.3, 0.52, 0.7, 0.48, 0.95, 0.35, 0.95, 0.15, 0.7, 0, 0.3, 0,
      0.05, 0.15,
    ],
  ],
  A: [
    [0, 0, 0.5, 1, 1, 0],
    [0.2, 0.38, 0.8, 0.38],
  ],
  L: [[0.1, 1, 0.1, 0, 0.9, 0]],
  T: [
    [0, 1, 1, 1],
    [0.5, 1, 0.5, 0],
  ],
  M: [[0, 0, 0.05, 1, 0.5, 0.35, 0.95, 1, 1, 0]],
  R: [[0.1, 0, 0.1, 1, 0.7, 1, 0.95, 0.85, 0.95, 0.65, 0.7, 0.5, 0.1, 0.5, 0.5, 0.5, 0.95, 0]],
  H: [
    [0.05, 0, 0.05, 1],
    [0.95, 0, 0.95, 1],
    [0.05, 0.5, 0.95, 0.5],
  ],
  Q: [
    [0.5, 0, 0.15, 0.15, 0, 0.5, 0.15, 0.85, 0.5, 1, 0.85, 0.85, 1, 0.5, 0.85, 0.15, 0.5, 0],
    [0.6, 0.3, 1, -0.05],
  ],
  U: [[0.05, 1, 0.05, 0.3, 0.2, 0.06, 0.5, 0, 0.8, 0.06, 0.95, 0.3, 0.95, 1]],
  Y: [
    [0, 1, 0.5, 0.5, 1, 1],
    [0.5, 0.5, 0.5, 0],
  ],
  '7': [[0.05, 1, 0.95, 1, 0.4, 0]],
};

/** Width of a letter and of its cell with the gap, in letter heights. */
const LETTER_WIDTH = 0.62;
const ADVANCE = 0.92;

/** Width of a text in letter heights. */
export const textWidth = (text: string): number => text.length * ADVANCE;

/**
 * Distance to the nearest stroke of a text.
 * @param x from the text's left end, in letter heights
 * @param y from its base line, in letter heights
 * @returns letter heights; Infinity away from any letter
 */
export function strokeDistance(text: string, x: number, y: number): number {
  const index = Math.floor(x / ADVANCE);
  const strokes = STROKES[text[index] ?? ' '];
  if (!strokes) return Infinity;
  const left = index * ADVANCE + (ADVANCE - LETTER_WIDTH) / 2;
  let nearest = Infinity;
  for (const stroke of strokes) {
    for (let i = 0; i + 3 < stroke.length; i += 2) {
      nearest = Math.min(
        nearest,
        segmentDistance(
          x - left,
          y,
          stroke[i]! * LETTER_WIDTH,
          stroke[i + 1]!,
          stroke[i + 2]! * LETTER_WIDTH,
          stroke[i + 3]!,
        ),
      );
    }
  }
  return nearest;
}

function segmentDistance(x: number, y: number, ax: number, ay: number, bx: number, by: number): number {
  const [dx, dy] = [bx - ax, by - ay];
  const share = Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy)));
  return Math.hypot(x - ax - dx * share, y - ay - dy * share);
}
