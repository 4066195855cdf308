import type { Image } from '../image/image.ts';
import type { Receiver } from '../bake/receiver.ts';
import { channelsOfAxes, type NormalSpace } from '../image/convention.ts';
import { seamsOf, type Seam } from '../uv/seams.ts';
import { tileOfTriangle, tileOrigin } from '../uv/udim.ts';

/** One map over all its tiles. */
export interface TiledMap {
  /** The picture of each tile. */
  tiles: ReadonlyMap<number, Image>;
  /** Set for directions in tangent space, which two sides of a seam express in different frames. */
  tangentSpace: NormalSpace | null;
}

/** The four texels between which a place lies, and their weights. */
export interface Stencil {
  tile: number;
  texels: readonly [number, number, number, number];
  weights: readonly [number, number, number, number];
  /** Rows of three: turns stored channels (as −1 … 1) into object space; null where values are compared as they are. */
  frame: Float64Array | null;
}

/** A place on a seam, seen from both sides. */
export interface SeamPoint {
  seam: number;
  here: Stencil;
  there: Stencil;
  position: readonly [number, number, number];
}

/** Points for each texel of a seam's length. */
const PER_TEXEL = 1.5;

/** Places along all seams of a receiver that lie in a map's tiles on both sides. */
export function seamPoints(receiver: Receiver, map: TiledMap): SeamPoint[] {
  const points: SeamPoint[] = [];
  seamsOf(receiver).forEach((seam, number) => {
    const tiles = [seam.here, seam.there].map((side) => tileOfTriangle(receiver, Math.floor(side[0] / 3)));
    const [here, there] = tiles.map((tile) => (tile === null ? undefined : map.tiles.get(tile)));
    if (!here || !there) return;
    const texels = Math.max(lengthIn(receiver, seam.here, here), lengthIn(receiver, seam.there, there));
    const count = Math.max(2, Math.ceil(texels * PER_TEXEL));
    for (let i = 0; i < count; i++) {
      const share = (i + 0.5) / count;
      points.push({
        seam: number,
        here: stencilAt(receiver, seam.here, share, tiles[0]!, here, map.tangentSpace),
        there: stencilAt(receiver, seam.there, share, tiles[1]!, there, map.tangentSpace),
        position: positionAt(receiver, seam.here, share),
      });
    }
  });
  return points;
}

/** What a stencil reads, channel by channel. */
export function readStencil({ texels, weights }: Stencil, { data, channels }: Image, out: Float64Array): void {
  for (let c = 0; c < channels; c++) {
    let sum = 0;
    for (let k = 0; k < 4; k++) sum += weights[k]! * data[texels[k]! * channels + c]!;
    out[c] = sum;
  }
}

function lengthIn({ uvs, indices }: Receiver, [from, to]: Seam['here'], { width, height }: Image): number {
  const [a, b] = [indices[from]! * 2, indices[to]! * 2];
  return Math.hypot((uvs[a]! - uvs[b]!) * width, (uvs[a + 1]! - uvs[b + 1]!) * height);
}

function positionAt(
  { positions, indices }: Receiver,
  [from, to]: Seam['here'],
  share: number,
): [number, number, number] {
  const [a, b] = [indices[from]! * 3, indices[to]! * 3];
  return [0, 1, 2].map((k) => positions[a + k]! * (1 - share) + positions[b + k]! * share) as [number, number, number];
}

function stencilAt(
  receiver: Receiver,
  [from, to]: Seam['here'],
  share: number,
  tile: number,
  { width, height }: Image,
  space: NormalSpace | null,
): Stencil {
  const { uvs, indices } = receiver;
  const [u0, v0] = tileOrigin(tile);
  const [a, b] = [indices[from]! * 2, indices[to]! * 2];
  const x = (uvs[a]! * (1 - share) + uvs[b]! * share - u0) * width - 0.5;
  const y = (1 - (uvs[a + 1]! * (1 - share) + uvs[b + 1]! * share - v0)) * height - 0.5;
  const clampX = (value: number): number => Math.max(0, Math.min(width - 1, value));
  const clampY = (value: number): number => Math.max(0, Math.min(height - 1, value));
  const [left, top] = [Math.floor(x), Math.floor(y)];
  const [fx, fy] = [x - left, y - top];
  const [x0, x1] = [clampX(left), clampX(left + 1)];
  const [y0, y1] = [clampY(top) * width, clampY(top + 1) * width];
  return {
    tile,
    texels: [y0 + x0, y0 + x1, y1 + x0, y1 + x1],
    weights: [(1 - fx) * (1 - fy), fx * (1 - fy), (1 - fx) * fy, fx * fy],
    frame: space && frameAt(receiver, from, to, share, space),
  };
}

/** The tangent frame of a side as a matrix from the stored channels, its rows x, y, z. */
function frameAt(receiver: Receiver, from: number, to: number, share: number, space: NormalSpace): Float64Array {
  const { normals, indices, tangents } = receiver;
  const [a, b] = [indices[from]! * 3, indices[to]! * 3];
  const n = [0, 1, 2].map((k) => normals[a + k]! * (1 - share) + normals[b + k]! * share);
  const t = [0, 1, 2].map((k) => tangents[from * 4 + k]! * (1 - share) + tangents[to * 4 + k]! * share);
  const sign = tangents[from * 4 + 3]! * (space.y === 'down' ? -1 : 1);
  const cross = [
    sign * (n[1]! * t[2]! - n[2]! * t[1]!),
    sign * (n[2]! * t[0]! - n[0]! * t[2]!),
    sign * (n[0]! * t[1]! - n[1]! * t[0]!),
  ];
  const frame = new Float64Array(9);
  channelsOfAxes(space.axes).forEach((channel, axis) => {
    const direction = [t, cross, n][axis]!;
    for (let k = 0; k < 3; k++) frame[k * 3 + channel] = direction[k]!;
  });
  return frame;
}
