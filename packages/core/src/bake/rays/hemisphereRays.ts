import { orthonormalBasis } from '../../math/orthonormalBasis.ts';
import type { HitBatch, RayBatch } from '../../trace/rays.ts';
import { triangleFace } from '../../mesh/triangleFace.ts';
import { BLOCK } from '../coverage/blocks.ts';
import { mixed, pointX, pointY } from '../../math/lowDiscrepancy.ts';
import { FAN_BATCH as BATCH, type Surface } from '../source/surface.ts';

/** Origins are moved off the surface by this share of the coordinates there: beyond the rounding of single precision. */
const LIFT = 2 ** -18;

export interface Fan {
  /** Rays from each place, 1 to 4096. */
  rays: number;
  spread: 'cosine' | 'uniform';
  /** How far they go, in mesh units. */
  distance: number;
  /** Above the surface, or into the body below it. */
  side: 'above' | 'below';
  seed: number;
  /** Directions in space in place of those over the surface: `RAY_SETS` sets of as many as there are rays, x, y, z. */
  inSpace?: Float32Array;
}

/** Sets of directions that samples draw from; each is turned by another angle every time. */
export const RAY_SETS = 64;

/**
 * Sends fans of rays from the places that a block's samples have met. Directions are low-discrepancy points: a sample
 * draws one of many sets and an angle to turn it by, which depend on nothing but its place in the map and the seed.
 */
export class HemisphereRays {
  private batch: { rays: RayBatch; hits: HitBatch } | null = null;
  /** The sample that each ray of the batch belongs to. */
  readonly owners = new Int32Array(BATCH);
  /** Which half of its fan each ray belongs to: both are nets of their own, so their difference tells of the noise. */
  readonly halves = new Uint8Array(BATCH);
  private readonly fan: Fan;
  /** x, y, z of the directions of all sets, z along the normal. */
  private readonly directions: Float32Array;
  /** The present place: normal, where its rays begin, and two directions along the surface. */
  private readonly basis = new Float64Array(6);
  private readonly place = new Float64Array(12);
  private readonly face = new Float64Array(9);

  constructor(fan: Fan) {
    this.fan = fan;
    this.directions = fan.inSpace ?? fanDirections(fan);
  }

  /** @param cast traces the rays and takes what it needs of the answer; told several times for a block */
  send(surface: Surface, cast: (rays: RayBatch, hits: HitBatch) => void): void {
    const { rays, hits: met } = (this.batch ??= surface.fanBatch());
    const { fan } = this;
    const { samples, hits } = surface;
    rays.count = 0;
    let texel = -1;
    let nth = 0;
    for (let s = 0; s < samples.count; s++) {
      nth = samples.texels[s] === texel ? nth + 1 : 0;
      texel = samples.texels[s]!;
      if (hits.triangles[s]! < 0) continue;
      const seed = mixed(mixed(surface.block * BLOCK * BLOCK + texel, nth), fan.seed);
      this.stand(surface, s);
      if (fan.inSpace) this.keepAxes();
      else this.turn(seed >>> 8);
      const set = (seed & (RAY_SETS - 1)) * fan.rays;
      let from = 0;
      while (from < fan.rays) {
        if (rays.count === BATCH) {
          cast(rays, met);
          rays.count = 0;
        }
        const some = Math.min(fan.rays - from, BATCH - rays.count);
        this.aim(rays, s, set, from, some);
        from += some;
      }
    }
    if (rays.count > 0) cast(rays, met);
    rays.count = 0;
  }

  /** Takes up position where a sample has met the source, on the side the ray came from. */
  private stand(surface: Surface, s: number): void {
    const { place, face, fan } = this;
    const { directions } = surface.rays;
    triangleFace(surface.scene, surface.hits.triangles[s]!, face);
    const gx = face[6]!;
    const gy = face[7]!;
    const gz = face[8]!;
    // Met from behind, the surface is seen as if turned over.
    const behind = gx * directions[s * 3]! + gy * directions[s * 3 + 1]! + gz * directions[s * 3 + 2]! > 0;
    const turn = behind !== (fan.side === 'below') ? -1 : 1;
    let size = 0;
    for (let k = 0; k < 3; k++) {
      place[k] = surface.normals[s * 3 + k]! * turn;
      place[3 + k] = surface.placeOf(s, k);
      size = Math.max(size, Math.abs(place[3 + k]!));
    }
    let longest = 0;
    for (let k = 0; k < 6; k++) longest = Math.max(longest, Math.abs(face[k]!));
    size += longest;
    const off = (turn * LIFT * size) / (Math.sqrt(gx * gx + gy * gy + gz * gz) || 1);
    place[3]! += gx * off;
    place[4]! += gy * off;
    place[5]! += gz * off;
  }

  /** Directions that are in space already stay what they are. */
  private keepAxes(): void {
    const { place } = this;
    place.set([0, 0, 1], 0);
    place.set([1, 0, 0, 0, 1, 0], 6);
  }

  /** Lays two directions along the surface, turned by an angle given as 24 bits of a full turn. */
  private turn(bits: number): void {
    const { place } = this;
    const nx = place[0]!;
    const ny = place[1]!;
    const nz = place[2]!;
    const angle = (bits / 2 ** 24) * 2 * Math.PI;
    const cos = Math.cos(angle);
    const sin = Math.sin(angle);
    orthonormalBasis(nx, ny, nz, this.basis);
    const { basis } = this;
    const ux = basis[0]!;
    const uy = basis[1]!;
    const uz = basis[2]!;
    const q = basis[3]!;
    const vy = basis[4]!;
    place[6] = ux * cos + q * sin;
    place[7] = uy * cos + vy * sin;
    place[8] = uz * cos - ny * sin;
    place[9] = q * cos - ux * sin;
    place[10] = vy * cos - uy * sin;
    place[11] = -ny * cos - uz * sin;
  }

  /** Adds rays from the present place to the batch. */
  private aim(rays: RayBatch, sample: number, set: number, from: number, count: number): void {
    const { owners, halves, place, directions, fan } = this;
    const half = Math.ceil(fan.rays / 2);
    const [nx, ny, nz] = [place[0]!, place[1]!, place[2]!];
    const [ox, oy, oz] = [place[3]!, place[4]!, place[5]!];
    const [ux, uy, uz] = [place[6]!, place[7]!, place[8]!];
    const [vx, vy, vz] = [place[9]!, place[10]!, place[11]!];
    const first = rays.count;
    for (let i = 0; i < count; i++) {
      const at = (set + from + i) * 3;
      const x = directions[at]!;
      const y = directions[at + 1]!;
      const z = directions[at + 2]!;
      const r = (first + i) * 3;
      rays.directions[r] = ux * x + vx * y + nx * z;
      rays.directions[r + 1] = uy * x + vy * y + ny * z;
      rays.directions[r + 2] = uz * x + vz * y + nz * z;
      rays.origins[r] = ox;
      rays.origins[r + 1] = oy;
      rays.origins[r + 2] = oz;
    }
    const inFirstHalf = Math.max(0, Math.min(count, half - from));
    halves.fill(0, first, first + inFirstHalf);
    halves.fill(1, first + inFirstHalf, first + count);
    owners.fill(sample, first, first + count);
    rays.lengths.fill(fan.distance, first, first + count);
    rays.count = first + count;
  }
}

/** Directions of all sets over the hemisphere around z. */
function fanDirections({ rays, spread, seed }: Fan): Float32Array {
  const directions = new Float32Array(RAY_SETS * rays * 3);
  for (let i = 0; i < RAY_SETS * rays; i++) {
    const set = mixed(Math.floor(i / rays), seed);
    const first = pointX(i % rays, set);
    const turn = 2 * Math.PI * pointY(i % rays, set);
    const z = spread === 'cosine' ? Math.sqrt(1 - first) : 1 - first;
    const radius = Math.sqrt(Math.max(0, 1 - z * z));
    directions[i * 3] = radius * Math.cos(turn);
    directions[i * 3 + 1] = radius * Math.sin(turn);
    directions[i * 3 + 2] = z;
  }
  return directions;
}
