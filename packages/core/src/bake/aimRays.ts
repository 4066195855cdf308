import type { RayBatch } from '../trace/rays.ts';
import type { BlockSamples } from './coverage.ts';
import { blendWeight } from './directionBlend.ts';
import type { Receiver } from './receiver.ts';

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
    const { positions, directions, indices, reachOut, reachIn, blend } = this.receiver;
    const { origins, directions: ways, lengths } = rays;
    for (let s = 0; s < count; s++) {
      const corner = triangles[s]! * 3;
      const va = indices[corner]!;
      const vb = indices[corner + 1]!;
      const vc = indices[corner + 2]!;
      const a = va * 3;
      const b = vb * 3;
      const c = vc * 3;
      const wb = weights[s * 2]!;
      const wc = weights[s * 2 + 1]!;
      const wa = 1 - wb - wc;
      let dx = directions[a]! * wa + directions[b]! * wb + directions[c]! * wc;
      let dy = directions[a + 1]! * wa + directions[b + 1]! * wb + directions[c + 1]! * wc;
      let dz = directions[a + 2]! * wa + directions[b + 2]! * wb + directions[c + 2]! * wc;
      const x = positions[a]! * wa + positions[b]! * wb + positions[c]! * wc;
      const y = positions[a + 1]! * wa + positions[b + 1]! * wb + positions[c + 1]! * wc;
      const z = positions[a + 2]! * wa + positions[b + 2]! * wb + positions[c + 2]! * wc;
      let scale = 1 / (Math.sqrt(dx * dx + dy * dy + dz * dz) || 1);
      if (blend) {
        const { normals: n, uvs } = this.receiver;
        const u = uvs[va * 2]! * wa + uvs[vb * 2]! * wb + uvs[vc * 2]! * wc;
        const v = uvs[va * 2 + 1]! * wa + uvs[vb * 2 + 1]! * wb + uvs[vc * 2 + 1]! * wc;
        const own = blendWeight(blend, triangles[s]!, x, y, z, u, v);
        const nx = n[a]! * wa + n[b]! * wb + n[c]! * wc;
        const ny = n[a + 1]! * wa + n[b + 1]! * wb + n[c + 1]! * wc;
        const nz = n[a + 2]! * wa + n[b + 2]! * wb + n[c + 2]! * wc;
        const length = Math.sqrt(nx * nx + ny * ny + nz * nz) || 1;
        dx = dx * scale * (1 - own) + (nx / length) * own;
        dy = dy * scale * (1 - own) + (ny / length) * own;
        dz = dz * scale * (1 - own) + (nz / length) * own;
        scale = 1 / (Math.sqrt(dx * dx + dy * dy + dz * dz) || 1);
      }
      dx *= scale;
      dy *= scale;
      dz *= scale;
      const out = reachOut[va]! * wa + reachOut[vb]! * wb + reachOut[vc]! * wc;
      const at = s * 3;
      origins[at] = x + dx * out;
      origins[at + 1] = y + dy * out;
      origins[at + 2] = z + dz * out;
      ways[at] = -dx;
      ways[at + 1] = -dy;
      ways[at + 2] = -dz;
      lengths[s] = out + reachIn[va]! * wa + reachIn[vb]! * wb + reachIn[vc]! * wc;
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
