import { borderCorners } from '../../uv/borders.ts';
import type { Size } from '../../math/size.ts';
import type { Receiver } from '../receiver.ts';
import type { Surface } from '../source/surface.ts';
import type { MapBaker } from './mapBaker.ts';

/** How bright the inside of an island, its inner edges and its border are. */
const TONES = { inside: 0.15, edge: 0.5, border: 1 };
/** Half the width of a line, in texels. */
const HALF_LINE = 0.75;

/** The layout to paint over: islands with their edges, borders brighter; anti-aliased by the bake's own samples. */
export function guideMap(receiver: Receiver, size: Size): MapBaker {
  // Borders of the layout as a whole: islands that touch have none between them.
  const borders = new Uint8Array(receiver.indices.length);
  for (const corner of borderCorners(receiver, new Uint32Array(receiver.partOf.length))) borders[corner] = 1;
  const tone = ({ samples }: Surface, s: number): number => {
    const triangle = samples.triangles[s]!;
    const wb = samples.weights[s * 2]!;
    const wc = samples.weights[s * 2 + 1]!;
    const heights = edgeHeights(receiver, size, triangle);
    // The weight of a corner is its distance from the edge across, as a share of the triangle's height there.
    const across = [wc, 1 - wb - wc, wb];
    let value = TONES.inside;
    for (let e = 0; e < 3; e++) {
      if (across[e]! * heights[e]! > HALF_LINE) continue;
      value = Math.max(value, borders[triangle * 3 + e] ? TONES.border : TONES.edge);
    }
    return value;
  };
  const mean = (surface: Surface, from: number, to: number, out: Float64Array): void => {
    out[0] = 0;
    for (let s = from; s < to; s++) out[0] += tone(surface, s) / (to - from);
  };
  return {
    channels: 1,
    texel: mean,
    missed: (surface, sample, out) => mean(surface, sample, sample + 1, out),
  };
}

/** Heights of a triangle over its edges a–b, b–c, c–a, in texels. */
function edgeHeights({ uvs, indices }: Receiver, { width, height }: Size, triangle: number): number[] {
  const [x, y] = [0, 1].map((k) =>
    [0, 1, 2].map((corner) => uvs[indices[triangle * 3 + corner]! * 2 + k]! * (k === 0 ? width : height)),
  ) as [number[], number[]];
  const twice = Math.abs((x[1]! - x[0]!) * (y[2]! - y[0]!) - (y[1]! - y[0]!) * (x[2]! - x[0]!));
  return [0, 1, 2].map((e) => {
    const next = (e + 1) % 3;
    return twice / (Math.hypot(x[next]! - x[e]!, y[next]! - y[e]!) || 1);
  });
}
