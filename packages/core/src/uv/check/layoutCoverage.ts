import type { Size } from '../../math/size.ts';
import type { Layout } from '../layout.ts';
import { tileOrigin } from '../udim.ts';

/** The share of a tile's texels whose centres lie in a triangle, 0 to 1; what lies twice counts once. */
export function layoutCoverage({ uvs, indices }: Pick<Layout, 'uvs' | 'indices'>, tile: number, size: Size): number {
  const { width, height } = size;
  const covered = new Uint8Array(width * height);
  const [u0, v0] = tileOrigin(tile);
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [indices[t]! * 2, indices[t + 1]! * 2, indices[t + 2]! * 2];
    const [ax, bx, cx] = [(uvs[a]! - u0) * width, (uvs[b]! - u0) * width, (uvs[c]! - u0) * width];
    const [ay, by, cy] = [(uvs[a + 1]! - v0) * height, (uvs[b + 1]! - v0) * height, (uvs[c + 1]! - v0) * height];
    const y1 = Math.min(height - 1, Math.floor(Math.max(ay, by, cy) - 0.5));
    for (let y = Math.max(0, Math.ceil(Math.min(ay, by, cy) - 0.5)); y <= y1; y++) {
      let [from, to] = [Infinity, -Infinity];
      const cut = (px: number, py: number, qx: number, qy: number): void => {
        if (py === qy || (y + 0.5 - py) * (y + 0.5 - qy) > 0) return;
        const x = px + ((y + 0.5 - py) / (qy - py)) * (qx - px);
        from = Math.min(from, x);
        to = Math.max(to, x);
      };
      cut(ax, ay, bx, by);
      cut(bx, by, cx, cy);
      cut(cx, cy, ax, ay);
      const x0 = Math.max(0, Math.ceil(from - 0.5));
      const x1 = Math.min(width - 1, Math.floor(to - 0.5));
      if (x0 <= x1) covered.fill(1, y * width + x0, y * width + x1 + 1);
    }
  }
  return covered.reduce((sum, value) => sum + value, 0) / covered.length;
}
