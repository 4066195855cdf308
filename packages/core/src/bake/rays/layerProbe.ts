import type { HitBatch, RayBatch } from '../../trace/rays.ts';
import { facesAlong } from '../../mesh/triangleFace.ts';
import { BLOCK } from '../coverage/blocks.ts';
import type { Surface } from '../source/surface.ts';
import { MORE_REACH } from '../statistics.ts';

/** Room between two layers counts as empty from this share of the ray's length. */
const GAP = 0.02;

const NOTHING = 0;
export const BEGAN_INSIDE = 1;
export const OUTER_LAYER = 2;
export const DEEP_INSIDE = 3;

/**
 * Looks at one sample of each texel for other layers of the source on its ray: whether the ray began inside the
 * source, and so missed a layer before the one it met, and whether it would leave the source with half as much reach
 * again; and whether it met an outer layer, with empty room beneath it
 * and then another surface nearer to the receiver.
 */
export class LayerProbe {
  private readonly found = new Uint8Array(BLOCK * BLOCK);
  private readonly farther = new Uint8Array(BLOCK * BLOCK);
  private readonly rays: RayBatch;
  private readonly hits: HitBatch;
  private readonly crossed = new Uint8Array(BLOCK * BLOCK);
  /** The sample of each ray, and its texel. */
  private readonly owners = new Int32Array(BLOCK * BLOCK);

  constructor(surface: Surface) {
    ({ rays: this.rays, hits: this.hits } = surface.fanBatch());
  }

  /** @returns what was found, for each texel of the block */
  look(surface: Surface): Uint8Array {
    const { found, rays, hits, owners } = this;
    const { samples, hits: met, rays: cast, starts } = surface;
    found.fill(NOTHING);
    rays.count = 0;
    for (let s = 0; s < samples.count; s++) {
      if (s > 0 && samples.texels[s] === samples.texels[s - 1]) continue;
      if (met.triangles[s]! < 0) continue;
      // Short of the hit, or the surface that was met would be met again.
      this.add(surface, s, 0, met.distances[s]! * (1 - 1e-4));
    }
    surface.crossedFor(owners, rays, this.crossed, 'accept');
    for (let r = 0; r < rays.count; r++) {
      if (this.crossed[r]) found[samples.texels[owners[r]!]!] = BEGAN_INSIDE;
    }

    const exits = this.onwards(surface, (_ray, s) => {
      const distance = met.distances[s]!;
      // Another surface can lie nearer with room between only if this one stands well above the receiver.
      const stands = starts[s]! - distance > (GAP / 2) * cast.lengths[s]!;
      return stands && found[samples.texels[s]!] === NOTHING ? distance : -1;
    });
    const entries = this.onwards(surface, (r, s) => {
      const triangle = hits.triangles[r]!;
      const d = cast.directions;
      const leaves = triangle >= 0 && facesAlong(surface.scene, triangle, d[s * 3]!, d[s * 3 + 1]!, d[s * 3 + 2]!);
      return leaves ? exits[r]! + hits.distances[r]! : -1;
    });
    for (let r = 0; r < rays.count; r++) {
      const s = owners[r]!;
      const gap = hits.distances[r]!;
      const triangle = hits.triangles[r]!;
      if (triangle < 0 || gap < GAP * cast.lengths[s]!) continue;
      const first = Math.abs(starts[s]! - met.distances[s]!);
      if (Math.abs(starts[s]! - entries[r]! - gap) < first) found[samples.texels[s]!] = OUTER_LAYER;
    }
    this.lookOutwards(surface);
    return found;
  }

  /**
   * Whether rays that have met nothing would meet the source if they reached twice as far, out and in.
   * @param isMissed texels of the block all of whose rays have met nothing
   * @returns 1 for each such texel whose rays would
   */
  lookFarther(surface: Surface, isMissed: (texel: number) => boolean): Uint8Array {
    const { farther, rays, hits, owners } = this;
    const { samples, rays: cast, starts } = surface;
    farther.fill(0);
    rays.count = 0;
    for (let s = 0; s < samples.count; s++) {
      if ((s > 0 && samples.texels[s] === samples.texels[s - 1]) || !isMissed(samples.texels[s]!)) continue;
      this.add(surface, s, -starts[s]!, cast.lengths[s]! * 2);
    }
    if (rays.count === 0) return farther;
    surface.castFor(owners, rays, hits, surface.backFaces);
    for (let r = 0; r < rays.count; r++) if (hits.triangles[r]! >= 0) farther[samples.texels[owners[r]!]!] = 1;
    return farther;
  }

  /** Which of those that began inside the source are too deep in it for a little more reach. */
  private lookOutwards(surface: Surface): void {
    const { found, rays, hits, owners } = this;
    const { samples, starts } = surface;
    rays.count = 0;
    for (let s = 0; s < samples.count; s++) {
      if ((s > 0 && samples.texels[s] === samples.texels[s - 1]) || found[samples.texels[s]!] !== BEGAN_INSIDE)
        continue;
      this.add(surface, s, 0, starts[s]! * MORE_REACH, -1);
    }
    if (rays.count === 0) return;
    surface.castFor(owners, rays, hits, 'accept');
    for (let r = 0; r < rays.count; r++) {
      if (hits.triangles[r]! < 0) found[samples.texels[owners[r]!]!] = DEEP_INSIDE;
    }
  }

  /** Goes on along rays of the last batch, each from where it is told; a negative distance drops the ray. */
  private onwards(surface: Surface, from: (ray: number, sample: number) => number): Float64Array {
    const { rays, hits, owners } = this;
    const { rays: cast } = surface;
    const begins = new Float64Array(rays.count);
    const count = rays.count;
    rays.count = 0;
    for (let r = 0; r < count; r++) {
      const s = owners[r]!;
      const distance = from(r, s);
      if (distance < 0) continue;
      const start = distance + cast.lengths[s]! * 1e-4;
      begins[rays.count] = start;
      this.add(surface, s, start, cast.lengths[s]! - start);
    }
    surface.castFor(owners, rays, hits, 'accept');
    return begins;
  }

  /** @param way 1 inwards, −1 outwards */
  private add(surface: Surface, s: number, start: number, length: number, way: 1 | -1 = 1): void {
    const { rays, owners } = this;
    const { origins, directions } = surface.rays;
    const r = rays.count++;
    owners[r] = s;
    for (let k = 0; k < 3; k++) {
      rays.directions[r * 3 + k] = directions[s * 3 + k]! * way;
      rays.origins[r * 3 + k] = origins[s * 3 + k]! + directions[s * 3 + k]! * start;
    }
    rays.lengths[r] = length;
  }
}
