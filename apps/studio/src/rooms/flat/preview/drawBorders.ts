import type { Axis } from '@zographos/core/seamless';

/** Places along a border that are shown as one. */
const PARTS = 48;
/** Jumps over a border that are as large as those within are not marked; the mark is widest at so many times as large. */
const [QUIET, LOUD] = [1.3, 5];

/** Where tiles meet on the view, in CSS pixels. */
export interface TileField {
  x: number;
  y: number;
  w: number;
  h: number;
  repeats: number;
}

/**
 * Draws the borders of tiles: a line of dashes, and on it, place by place, a bar that is the wider the more the border
 * shows there.
 * @param borders jumps over them, over those within
 */
export function drawBorders(
  context: CanvasRenderingContext2D,
  borders: Record<Axis, Float32Array>,
  { x, y, w, h, repeats }: TileField,
): void {
  context.strokeStyle = 'oklch(0.46 0.13 255)';
  context.setLineDash([6, 4]);
  for (let i = 0; i <= repeats; i++) {
    context.strokeRect(x + i * w, y, 0, h * repeats);
    context.strokeRect(x, y + i * h, w * repeats, 0);
  }
  context.setLineDash([]);
  context.fillStyle = 'oklch(0.6 0.2 30 / 0.85)';
  const [across, up] = [partsOf(borders.across), partsOf(borders.up)];
  for (let j = 0; j < repeats; j++) {
    for (let i = 0; i <= repeats; i++) {
      across.forEach((wide, k) => {
        const from = y + (j + k / across.length) * h;
        if (wide > 0) context.fillRect(x + i * w - wide / 2, from, wide, h / across.length + 0.5);
      });
      up.forEach((wide, k) => {
        const from = x + (j + k / up.length) * w;
        if (wide > 0) context.fillRect(from, y + i * h - wide / 2, w / up.length + 0.5, wide);
      });
    }
  }
}

/** How wide the bar is at each part of a border, in CSS pixels. */
export function partsOf(jumps: Float32Array): number[] {
  const parts = Math.min(PARTS, jumps.length);
  return Array.from({ length: parts }, (_, k) => {
    const own = jumps.subarray(Math.floor((k * jumps.length) / parts), Math.floor(((k + 1) * jumps.length) / parts));
    const mean = own.reduce((sum, jump) => sum + Math.min(LOUD, jump), 0) / own.length;
    return mean <= QUIET ? 0 : 2 + 8 * Math.min(1, (mean - QUIET) / (LOUD - QUIET));
  });
}
