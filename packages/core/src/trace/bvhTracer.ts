import type { Bvh } from './bvh.ts';
import type { BackFaces, HitBatch, RayBatch, Tracer } from './rays.ts';

/** Deep enough for any float32 input: sixteen bins a level use up an axis' range in under 70 levels. */
const STACK_DEPTH = 512;

/** Slightly beyond one, so that rounding in the slab test never loses a box that holds a hit. */
const SLAB_GUARD = 1 + 2 ** -48;

/**
 * The plain tracer: single rays through the binary tree with the watertight test of Woop, Benthin and Wald
 * ("Watertight Ray/Triangle Intersection", JCGT 2013) in double precision. Neighbouring triangles shear
 * their common vertices alike, so a ray cannot slip through a shared edge or vertex.
 */
export function bvhTracer(bvh: Bvh): Tracer {
  const traversal = new Traversal(bvh);
  return {
    closestHits(rays, hits, backFaces) {
      for (let r = 0; r < rays.count; r++) {
        traversal.cast(rays, r, backFaces, false);
        traversal.writeHit(hits, r);
      }
    },
    anyHits(rays, blocked, backFaces) {
      for (let r = 0; r < rays.count; r++) blocked[r] = traversal.cast(rays, r, backFaces, true) ? 1 : 0;
    },
  };
}

class Traversal {
  private readonly stack = new Int32Array(STACK_DEPTH);
  private readonly stackNear = new Float64Array(STACK_DEPTH);
  private readonly bvh: Bvh;
  private triangle = -1;
  private distance = 0;
  private weightB = 0;
  private weightC = 0;

  constructor(bvh: Bvh) {
    this.bvh = bvh;
  }

  writeHit(hits: HitBatch, r: number): void {
    hits.triangles[r] = this.triangle;
    hits.distances[r] = this.distance;
    hits.weights[r * 2] = this.weightB;
    hits.weights[r * 2 + 1] = this.weightC;
  }

  /** Casts one ray and keeps its nearest (or, with `any`, its first found) hit. */
  cast(rays: RayBatch, r: number, backFaces: BackFaces, any: boolean): boolean {
    const { bounds, first, counts, order, corners } = this.bvh;
    const { stack, stackNear } = this;
    const cull = backFaces === 'ignore';

    const ox = rays.origins[r * 3]!;
    const oy = rays.origins[r * 3 + 1]!;
    const oz = rays.origins[r * 3 + 2]!;
    const dx = rays.directions[r * 3]!;
    const dy = rays.directions[r * 3 + 1]!;
    const dz = rays.directions[r * 3 + 2]!;
    const ix = inverse(dx);
    const iy = inverse(dy);
    const iz = inverse(dz);
    // Where in a node's bounds the sides lie that the ray meets first: the low ones, or 3 further the high ones.
    const sx = ix < 0 ? 3 : 0;
    const sy = iy < 0 ? 4 : 1;
    const sz = iz < 0 ? 5 : 2;

    // Shear that carries the ray to the z axis; z is its longest component, x and y swap to keep the winding.
    const ax = Math.abs(dx);
    const ay = Math.abs(dy);
    const az = Math.abs(dz);
    const kz = ax > ay ? (ax > az ? 0 : 2) : ay > az ? 1 : 2;
    const along = kz === 0 ? dx : kz === 1 ? dy : dz;
    let kx = (kz + 1) % 3;
    let ky = (kz + 2) % 3;
    if (along < 0) {
      const swap = kx;
      kx = ky;
      ky = swap;
    }
    const shearX = (kx === 0 ? dx : kx === 1 ? dy : dz) / along;
    const shearY = (ky === 0 ? dx : ky === 1 ? dy : dz) / along;
    const shearZ = 1 / along;
    const okx = kx === 0 ? ox : kx === 1 ? oy : oz;
    const oky = ky === 0 ? ox : ky === 1 ? oy : oz;
    const okz = kz === 0 ? ox : kz === 1 ? oy : oz;

    let nearest = rays.lengths[r]!;
    let triangle = -1;
    let weightB = 0;
    let weightC = 0;

    let top = 0;
    let node = 0;
    if (slab(bounds, 0, sx, sy, sz, ox, oy, oz, ix, iy, iz, nearest) === Infinity) node = -1;
    while (node >= 0) {
      const count = counts[node]!;
      if (count === 0) {
        const left = first[node]!;
        const right = left + 1;
        const nearLeft = slab(bounds, left * 6, sx, sy, sz, ox, oy, oz, ix, iy, iz, nearest);
        const nearRight = slab(bounds, right * 6, sx, sy, sz, ox, oy, oz, ix, iy, iz, nearest);
        if (nearLeft !== Infinity) {
          if (nearRight !== Infinity) {
            const leftFirst = nearLeft <= nearRight;
            stack[top] = leftFirst ? right : left;
            stackNear[top++] = leftFirst ? nearRight : nearLeft;
            node = leftFirst ? left : right;
          } else node = left;
          continue;
        }
        if (nearRight !== Infinity) {
          node = right;
          continue;
        }
      } else {
        const start = first[node]!;
        for (let i = start; i < start + count; i++) {
          const at = i * 9;
          const za = corners[at + kz]! - okz;
          const zb = corners[at + 3 + kz]! - okz;
          const zc = corners[at + 6 + kz]! - okz;
          const xa = corners[at + kx]! - okx - shearX * za;
          const ya = corners[at + ky]! - oky - shearY * za;
          const xb = corners[at + 3 + kx]! - okx - shearX * zb;
          const yb = corners[at + 3 + ky]! - oky - shearY * zb;
          const xc = corners[at + 6 + kx]! - okx - shearX * zc;
          const yc = corners[at + 6 + ky]! - oky - shearY * zc;
          const u = xc * yb - yc * xb;
          const v = xa * yc - ya * xc;
          const w = xb * ya - yb * xa;
          if (u < 0 || v < 0 || w < 0) {
            if (cull || u > 0 || v > 0 || w > 0) continue;
          }
          const determinant = u + v + w;
          if (determinant === 0) continue;
          const distance = ((u * za + v * zb + w * zc) * shearZ) / determinant;
          if (!(distance >= 0) || distance > nearest) continue;
          const t = order[i]!;
          if (distance === nearest && triangle >= 0 && t > triangle) continue;
          nearest = distance;
          triangle = t;
          weightB = v / determinant;
          weightC = w / determinant;
          if (any) return true;
        }
      }
      node = -1;
      while (top > 0) {
        top--;
        if (stackNear[top]! <= nearest) {
          node = stack[top]!;
          break;
        }
      }
    }
    this.triangle = triangle;
    this.distance = nearest;
    this.weightB = weightB;
    this.weightC = weightC;
    return triangle >= 0;
  }
}

/** A finite stand-in for 1/0, so that 0 · ∞ never turns a slab distance into NaN. */
function inverse(component: number): number {
  return component === 0 ? 1e300 : 1 / component;
}

/** The distance at which a ray enters a box, or Infinity if it passes by or enters beyond `nearest`. */
function slab(
  bounds: Float32Array,
  at: number,
  sx: number,
  sy: number,
  sz: number,
  ox: number,
  oy: number,
  oz: number,
  ix: number,
  iy: number,
  iz: number,
  nearest: number,
): number {
  let near = (bounds[at + sx]! - ox) * ix;
  let far = (bounds[at + 3 - sx]! - ox) * ix;
  const nearY = (bounds[at + sy]! - oy) * iy;
  const farY = (bounds[at + 5 - sy]! - oy) * iy;
  if (nearY > near) near = nearY;
  if (farY < far) far = farY;
  const nearZ = (bounds[at + sz]! - oz) * iz;
  const farZ = (bounds[at + 7 - sz]! - oz) * iz;
  if (nearZ > near) near = nearZ;
  if (farZ < far) far = farZ;
  if (near < 0) near = 0;
  return near <= far * SLAB_GUARD && near <= nearest ? near : Infinity;
}
