import { hitBatch, rayBatch, type HitBatch, type RayBatch } from '../trace/rays.ts';
import { BLOCK } from './blocks.ts';
import { mixed, pointX, pointY } from './lowDiscrepancy.ts';
import type { Surface } from './surface.ts';

/** Rays cast at once. */
const BATCH = 16384;

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
}

/**
 * Sends fans of rays from the places that a block's samples have met. Directions are low-discrepancy points, a set
 * of its own for each sample, which depends on nothing but the sample's place in the map and the seed.
 */
export class HemisphereRays {
  readonly rays: RayBatch = rayBatch(BATCH);
  readonly hits: HitBatch = hitBatch(BATCH);
  /** The sample that each ray of the batch belongs to. */
  private readonly owners = new Int32Array(BATCH);
  private readonly fan: Fan;
  /** Frame of the present place: normal, and where its rays begin. */
  private readonly place = new Float64Array(6);

  constructor(fan: Fan) {
    this.fan = fan;
  }

  /**
   * @param cast traces `rays` into whatever it needs
   * @param tell told of each ray: its sample and its number in the batch
   */
  send(surface: Surface, cast: () => void, tell: (sample: number, ray: number) => void): void {
    const { rays, owners, fan } = this;
    const { samples, hits } = surface;
    rays.count = 0;
    const flush = (): void => {
      cast();
      for (let r = 0; r < rays.count; r++) tell(owners[r]!, r);
      rays.count = 0;
    };
    let texel = -1;
    let nth = 0;
    for (let s = 0; s < samples.count; s++) {
      nth = samples.texels[s] === texel ? nth + 1 : 0;
      texel = samples.texels[s]!;
      if (hits.triangles[s]! < 0) continue;
      this.stand(surface, s);
      const seed = mixed(mixed(surface.block * BLOCK * BLOCK + texel, nth), fan.seed);
      for (let i = 0; i < fan.rays; i++) {
        if (rays.count === BATCH) flush();
        this.aim(s, i, seed);
      }
    }
    if (rays.count > 0) flush();
  }

  /** Takes up position where a sample has met the source, on the side the ray came from. */
  private stand(surface: Surface, s: number): void {
    const { place, fan } = this;
    const { positions, indices } = surface.scene;
    const { directions } = surface.rays;
    const corner = surface.hits.triangles[s]! * 3;
    const a = indices[corner]! * 3;
    const b = indices[corner + 1]! * 3;
    const c = indices[corner + 2]! * 3;
    const ux = positions[b]! - positions[a]!;
    const uy = positions[b + 1]! - positions[a + 1]!;
    const uz = positions[b + 2]! - positions[a + 2]!;
    const vx = positions[c]! - positions[a]!;
    const vy = positions[c + 1]! - positions[a + 1]!;
    const vz = positions[c + 2]! - positions[a + 2]!;
    const gx = uy * vz - uz * vy;
    const gy = uz * vx - ux * vz;
    const gz = ux * vy - uy * vx;
    // Met from behind, the surface is seen as if turned over.
    const behind = gx * directions[s * 3]! + gy * directions[s * 3 + 1]! + gz * directions[s * 3 + 2]! > 0;
    const turn = behind !== (fan.side === 'below') ? -1 : 1;
    let size = 0;
    for (let k = 0; k < 3; k++) {
      place[k] = surface.normals[s * 3 + k]! * turn;
      place[3 + k] = surface.placeOf(s, k);
      size = Math.max(size, Math.abs(place[3 + k]!));
    }
    size += Math.max(Math.abs(ux), Math.abs(uy), Math.abs(uz), Math.abs(vx), Math.abs(vy), Math.abs(vz));
    const off = (turn * LIFT * size) / (Math.sqrt(gx * gx + gy * gy + gz * gz) || 1);
    place[3]! += gx * off;
    place[4]! += gy * off;
    place[5]! += gz * off;
  }

  private aim(sample: number, index: number, seed: number): void {
    const { rays, owners, place, fan } = this;
    const first = pointX(index, seed);
    const z = fan.spread === 'cosine' ? Math.sqrt(1 - first) : 1 - first;
    const radius = Math.sqrt(Math.max(0, 1 - z * z));
    const turn = 2 * Math.PI * pointY(index, seed);
    const x = radius * Math.cos(turn);
    const y = radius * Math.sin(turn);
    const nx = place[0]!;
    const ny = place[1]!;
    const nz = place[2]!;
    // An orthonormal basis without a branch (Duff et al., "Building an Orthonormal Basis, Revisited", 2017).
    const sign = nz < 0 ? -1 : 1;
    const p = -1 / (sign + nz);
    const q = nx * ny * p;
    const r = rays.count++;
    owners[r] = sample;
    rays.directions[r * 3] = (1 + sign * nx * nx * p) * x + q * y + nx * z;
    rays.directions[r * 3 + 1] = sign * q * x + (sign + ny * ny * p) * y + ny * z;
    rays.directions[r * 3 + 2] = -sign * nx * x - ny * y + nz * z;
    rays.origins[r * 3] = place[3]!;
    rays.origins[r * 3 + 1] = place[4]!;
    rays.origins[r * 3 + 2] = place[5]!;
    rays.lengths[r] = fan.distance;
  }
}
