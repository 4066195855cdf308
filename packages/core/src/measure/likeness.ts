import type { Receiver } from '../bake/receiver.ts';
import { channelsOfAxes, type NormalSpace } from '../image/convention.ts';
import { bilinear } from '../image/sample.ts';
import type { Image } from '../image/image.ts';
import { boundsOf, diagonal } from '../mesh/bounds.ts';
import { hitBatch, rayBatch, type RayBatch, type Tracer } from '../trace/rays.ts';
import type { Scene } from '../trace/scene.ts';
import { tileAt, tileOrigin } from '../uv/udim.ts';
import { ssim } from './ssim.ts';

/** The source and the receiver with its normal map from one side, under the same light. */
export interface LikenessView {
  /** From where it is seen, a unit vector in object space. */
  from: readonly [number, number, number];
  /** Structural similarity over what either shows. */
  ssim: number;
  /** Grey 0 to 1, side × side texels: the source, the receiver, and how far they differ. */
  source: Float32Array;
  receiver: Float32Array;
  difference: Float32Array;
}

export const VIEW_SIDE = 192;

/** Six views that between them see all of a body, and favour none of its axes. */
const VIEWS: readonly (readonly [number, number, number])[] = [
  [0.8, 0.4, 0.45],
  [-0.45, 0.4, 0.8],
  [-0.8, 0.4, -0.45],
  [0.45, 0.4, -0.8],
  [0.2, 0.96, 0.2],
  [-0.3, -0.9, 0.3],
];
const BACKGROUND = 0.5;
/** Views in which the receiver fills less than this share are left out. */
const LEAST_SEEN = 0.005;

interface Body {
  scene: Scene;
  tracer: Pick<Tracer, 'closestHits'>;
}

/** What the receiver wears. */
export interface WornNormals {
  receiver: Receiver;
  tiles: ReadonlyMap<number, Image>;
  space: NormalSpace;
}

/**
 * How much the receiver with its normal map looks like the source, under a light from the side.
 * @returns a view from each of six sides from which the receiver shows its front
 */
export function likeness(source: Body, receiver: Body, worn: WornNormals): LikenessView[] {
  const bounds = boundsOf(receiver.scene.positions);
  const centre = bounds.min.map((low, k) => (low + bounds.max[k]!) / 2);
  const far = diagonal(bounds);
  const wearing = new Wearing(worn);
  const { normals, indices } = source.scene;
  const n = new Float64Array(3);
  return VIEWS.flatMap((view) => {
    const length = Math.hypot(...view);
    const from = view.map((value) => value / length) as [number, number, number];
    const { rays, light } = lookFrom(from, centre, far, receiver.scene.positions);
    const both = new Uint8Array(VIEW_SIDE * VIEW_SIDE);
    let seen = 0;
    const pictureOf = (body: Body, normalAt: (triangle: number, wb: number, wc: number) => void): Float32Array => {
      const hits = hitBatch(rays.count);
      body.tracer.closestHits(rays, hits, 'ignore');
      const picture = new Float32Array(rays.count).fill(BACKGROUND);
      for (let r = 0; r < rays.count; r++) {
        const triangle = hits.triangles[r]!;
        if (triangle < 0) continue;
        both[r] = 1;
        seen++;
        normalAt(triangle, hits.weights[r * 2]!, hits.weights[r * 2 + 1]!);
        const size = Math.hypot(n[0]!, n[1]!, n[2]!) || 1;
        const lit = Math.max(0, (n[0]! * light[0]! + n[1]! * light[1]! + n[2]! * light[2]!) / size);
        picture[r] = 0.12 + 0.88 * lit;
      }
      return picture;
    };
    const real = pictureOf(source, (triangle, wb, wc) => {
      const a = indices[triangle * 3]! * 3;
      const b = indices[triangle * 3 + 1]! * 3;
      const c = indices[triangle * 3 + 2]! * 3;
      for (let k = 0; k < 3; k++) {
        n[k] = normals[a + k]! * (1 - wb - wc) + normals[b + k]! * wb + normals[c + k]! * wc;
      }
    });
    seen = 0;
    const baked = pictureOf(receiver, (triangle, wb, wc) => wearing.normalAt(triangle, wb, wc, n));
    // From behind, a surface with one side shows nothing that could be like the source.
    if (seen < LEAST_SEEN * rays.count) return [];
    return [
      {
        from,
        ssim: ssim(real, baked, VIEW_SIDE, VIEW_SIDE, both),
        source: real,
        receiver: baked,
        difference: real.map((value, i) => Math.abs(value - baked[i]!)),
      },
    ];
  });
}

/** Parallel rays that just take in a body, and the light that falls on it from the upper left of the viewer. */
function lookFrom(
  from: readonly [number, number, number],
  centre: readonly number[],
  far: number,
  positions: Float32Array,
): { rays: RayBatch; light: number[] } {
  const flat = Math.hypot(from[0], from[2]);
  const right = [from[2] / flat, 0, -from[0] / flat];
  const up = [from[1] * right[2]!, from[2] * right[0]! - from[0] * right[2]!, -from[1] * right[0]!];
  let radius = 0;
  for (let v = 0; v < positions.length; v += 3) {
    const x = positions[v]! - centre[0]!;
    const y = positions[v + 1]! - centre[1]!;
    const z = positions[v + 2]! - centre[2]!;
    const across = Math.abs(x * right[0]! + y * right[1]! + z * right[2]!);
    const along = Math.abs(x * up[0]! + y * up[1]! + z * up[2]!);
    if (across > radius) radius = across;
    if (along > radius) radius = along;
  }
  radius *= 1.05;
  const rays = rayBatch(VIEW_SIDE * VIEW_SIDE);
  rays.count = VIEW_SIDE * VIEW_SIDE;
  for (let y = 0; y < VIEW_SIDE; y++) {
    for (let x = 0; x < VIEW_SIDE; x++) {
      const r = (y * VIEW_SIDE + x) * 3;
      const across = (((x + 0.5) / VIEW_SIDE) * 2 - 1) * radius;
      const down = (1 - ((y + 0.5) / VIEW_SIDE) * 2) * radius;
      for (let k = 0; k < 3; k++) {
        rays.origins[r + k] = centre[k]! + from[k]! * far + right[k]! * across + up[k]! * down;
        rays.directions[r + k] = -from[k]!;
      }
    }
  }
  rays.lengths.fill(far * 2);
  const light = [0, 1, 2].map((k) => from[k]! * 0.55 - right[k]! * 0.6 + up[k]! * 0.58);
  return { rays, light };
}

/** Decodes a normal map as a renderer does. */
class Wearing {
  private readonly worn: WornNormals;
  private readonly channels: number[];
  private readonly n = new Float64Array(3);
  private readonly t = new Float64Array(3);
  private readonly d = new Float64Array(3);

  constructor(worn: WornNormals) {
    this.worn = worn;
    this.channels = channelsOfAxes(worn.space.axes);
  }

  normalAt(triangle: number, wb: number, wc: number, out: Float64Array): void {
    const { receiver, tiles, space } = this.worn;
    const { indices, uvs, normals, tangents } = receiver;
    const { n, t, d, channels } = this;
    const wa = 1 - wb - wc;
    const a = indices[triangle * 3]!;
    const b = indices[triangle * 3 + 1]!;
    const c = indices[triangle * 3 + 2]!;
    const u = uvs[a * 2]! * wa + uvs[b * 2]! * wb + uvs[c * 2]! * wc;
    const v = uvs[a * 2 + 1]! * wa + uvs[b * 2 + 1]! * wb + uvs[c * 2 + 1]! * wc;
    for (let k = 0; k < 3; k++) {
      n[k] = normals[a * 3 + k]! * wa + normals[b * 3 + k]! * wb + normals[c * 3 + k]! * wc;
      const f = triangle * 12 + k;
      t[k] = tangents[f]! * wa + tangents[f + 4]! * wb + tangents[f + 8]! * wc;
    }
    const tile = tileAt(u, v);
    const image = tile === null ? undefined : tiles.get(tile);
    if (!image) {
      out.set(n);
      return;
    }
    const [u0, v0] = tileOrigin(tile!);
    for (let k = 0; k < 3; k++) d[k] = bilinear(image, u - u0, v - v0, channels[k]!) * 2 - 1;
    if (space.space === 'object') {
      out.set(d);
      return;
    }
    const sign = tangents[triangle * 12 + 3]! * (space.y === 'down' ? -1 : 1);
    const across = d[1]! * sign;
    out[0] = t[0]! * d[0]! + across * (n[1]! * t[2]! - n[2]! * t[1]!) + n[0]! * d[2]!;
    out[1] = t[1]! * d[0]! + across * (n[2]! * t[0]! - n[0]! * t[2]!) + n[1]! * d[2]!;
    out[2] = t[2]! * d[0]! + across * (n[0]! * t[1]! - n[1]! * t[0]!) + n[2]! * d[2]!;
  }
}

/** All views below each other as one picture, each with the source, the receiver, and their difference as heat. */
export function likenessImage(views: readonly LikenessView[]): Image {
  const width = VIEW_SIDE * 3;
  const height = VIEW_SIDE * views.length;
  const data = new Float32Array(width * height * 3);
  views.forEach(({ source, receiver, difference }, row) => {
    for (let i = 0; i < VIEW_SIDE * VIEW_SIDE; i++) {
      const at = ((row * VIEW_SIDE + Math.floor(i / VIEW_SIDE)) * width + (i % VIEW_SIDE)) * 3;
      data.fill(source[i]!, at, at + 3);
      data.fill(receiver[i]!, at + VIEW_SIDE * 3, at + VIEW_SIDE * 3 + 3);
      data.set(heat(difference[i]! * 4), at + VIEW_SIDE * 6);
    }
  });
  return { width, height, channels: 3, data };
}

/** Dark to bright through red and yellow. */
function heat(value: number): [number, number, number] {
  const t = Math.min(1, value);
  return [0.08 + 0.92 * Math.min(1, t * 2), 0.08 + 0.8 * Math.max(0, t * 1.6 - 0.6), 0.08];
}
