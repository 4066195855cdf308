import type { RayBatch } from '../../trace/rays.ts';
import type { BlockSamples } from '../coverage/coverage.ts';
import { blendWeight } from './directionBlend.ts';
import type { Receiver } from '../receiver.ts';

/**
 * One ray for each sample: it starts the receiver's reach above the place, or on its cage, goes against the direction
 * there, and ends the reach below.
 * @param starts told how far along its ray each sample's own place lies
 */
export class RayAim {
  private readonly receiver: Receiver;
  private readonly value = new Float64Array(3);
  private readonly place = new Float64Array(3);

  constructor(receiver: Receiver) {
    this.receiver = receiver;
  }

  aim(samples: BlockSamples, rays: RayBatch, starts: Float32Array): void {
    rays.count = samples.count;
    if (this.receiver.cage) this.fromCage(this.receiver.cage, samples, rays, starts);
    else this.alongDirections(samples, rays, starts);
  }

  private alongDirections({ triangles, weights, count }: BlockSamples, rays: RayBatch, starts: Float32Array): void {
    const { receiver } = this;
    const { positions: p, directions: d, indices, reachOut, reachIn, blend } = receiver;
    const { origins, directions: ways, lengths } = rays;
    // Neighbouring samples mostly lie on one triangle: its corners are looked up when it changes, and stay in registers.
    let triangle = -1;
    let [va, vb, vc] = [0, 0, 0];
    let [pax, pay, paz, pbx, pby, pbz, pcx, pcy, pcz] = [0, 0, 0, 0, 0, 0, 0, 0, 0];
    let [dax, day, daz, dbx, dby, dbz, dcx, dcy, dcz] = [0, 0, 0, 0, 0, 0, 0, 0, 0];
    let [oa, ob, oc, ia, ib, ic] = [0, 0, 0, 0, 0, 0];
    for (let s = 0; s < count; s++) {
      if (triangles[s] !== triangle) {
        triangle = triangles[s]!;
        va = indices[triangle * 3]!;
        vb = indices[triangle * 3 + 1]!;
        vc = indices[triangle * 3 + 2]!;
        const a = va * 3;
        const b = vb * 3;
        const c = vc * 3;
        pax = p[a]!;
        pay = p[a + 1]!;
        paz = p[a + 2]!;
        pbx = p[b]!;
        pby = p[b + 1]!;
        pbz = p[b + 2]!;
        pcx = p[c]!;
        pcy = p[c + 1]!;
        pcz = p[c + 2]!;
        dax = d[a]!;
        day = d[a + 1]!;
        daz = d[a + 2]!;
        dbx = d[b]!;
        dby = d[b + 1]!;
        dbz = d[b + 2]!;
        dcx = d[c]!;
        dcy = d[c + 1]!;
        dcz = d[c + 2]!;
        oa = reachOut[va]!;
        ob = reachOut[vb]!;
        oc = reachOut[vc]!;
        ia = reachIn[va]!;
        ib = reachIn[vb]!;
        ic = reachIn[vc]!;
      }
      const wb = weights[s * 2]!;
      const wc = weights[s * 2 + 1]!;
      const wa = 1 - wb - wc;
      const x = pax * wa + pbx * wb + pcx * wc;
      const y = pay * wa + pby * wb + pcy * wc;
      const z = paz * wa + pbz * wb + pcz * wc;
      let dx = dax * wa + dbx * wb + dcx * wc;
      let dy = day * wa + dby * wb + dcy * wc;
      let dz = daz * wa + dbz * wb + dcz * wc;
      let scale = 1 / (Math.sqrt(dx * dx + dy * dy + dz * dz) || 1);
      if (blend) {
        const { normals: n, uvs } = receiver;
        const u = uvs[va * 2]! * wa + uvs[vb * 2]! * wb + uvs[vc * 2]! * wc;
        const v = uvs[va * 2 + 1]! * wa + uvs[vb * 2 + 1]! * wb + uvs[vc * 2 + 1]! * wc;
        const own = blendWeight(blend, triangle, x, y, z, u, v);
        const nx = n[va * 3]! * wa + n[vb * 3]! * wb + n[vc * 3]! * wc;
        const ny = n[va * 3 + 1]! * wa + n[vb * 3 + 1]! * wb + n[vc * 3 + 1]! * wc;
        const nz = n[va * 3 + 2]! * wa + n[vb * 3 + 2]! * wb + n[vc * 3 + 2]! * wc;
        const length = Math.sqrt(nx * nx + ny * ny + nz * nz) || 1;
        dx = dx * scale * (1 - own) + (nx / length) * own;
        dy = dy * scale * (1 - own) + (ny / length) * own;
        dz = dz * scale * (1 - own) + (nz / length) * own;
        scale = 1 / (Math.sqrt(dx * dx + dy * dy + dz * dz) || 1);
      }
      dx *= scale;
      dy *= scale;
      dz *= scale;
      const out = oa * wa + ob * wb + oc * wc;
      const at = s * 3;
      origins[at] = x + dx * out;
      origins[at + 1] = y + dy * out;
      origins[at + 2] = z + dz * out;
      ways[at] = -dx;
      ways[at + 1] = -dy;
      ways[at + 2] = -dz;
      lengths[s] = out + ia * wa + ib * wb + ic * wc;
      starts[s] = out;
    }
  }

  /** From its place on the cage to its place on the receiver, and beyond. */
  private fromCage(cage: Float32Array, samples: BlockSamples, rays: RayBatch, starts: Float32Array): void {
    const { positions, directions, reachIn } = this.receiver;
    const { place, value } = this;
    for (let s = 0; s < samples.count; s++) {
      this.mix(positions, samples, s, place);
      this.mix(cage, samples, s, value);
      const x = place[0]! - value[0]!;
      const y = place[1]! - value[1]!;
      const z = place[2]! - value[2]!;
      const distance = Math.sqrt(x * x + y * y + z * z);
      for (let k = 0; k < 3; k++) rays.origins[s * 3 + k] = value[k]!;
      // Where the cage touches the receiver there is no way between them: the direction there has to do.
      if (distance > 0) {
        rays.directions[s * 3] = x / distance;
        rays.directions[s * 3 + 1] = y / distance;
        rays.directions[s * 3 + 2] = z / distance;
      } else {
        this.mix(directions, samples, s, place);
        const length = Math.sqrt(place[0]! ** 2 + place[1]! ** 2 + place[2]! ** 2) || 1;
        for (let k = 0; k < 3; k++) rays.directions[s * 3 + k] = -place[k]! / length;
      }
      starts[s] = distance;
      rays.lengths[s] = distance + reachIn[this.receiver.indices[samples.triangles[s]! * 3]!]!;
    }
  }

  private mix(attribute: Float32Array, { triangles, weights }: BlockSamples, s: number, out: Float64Array): void {
    const { indices } = this.receiver;
    const corner = triangles[s]! * 3;
    const a = indices[corner]! * 3;
    const b = indices[corner + 1]! * 3;
    const c = indices[corner + 2]! * 3;
    const wb = weights[s * 2]!;
    const wc = weights[s * 2 + 1]!;
    const wa = 1 - wb - wc;
    for (let k = 0; k < 3; k++) out[k] = attribute[a + k]! * wa + attribute[b + k]! * wb + attribute[c + k]! * wc;
  }
}
