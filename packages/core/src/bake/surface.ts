import { hitBatch, rayBatch, type HitBatch, type RayBatch, type Tracer } from '../trace/rays.ts';
import type { Scene } from '../trace/scene.ts';
import { sampleCapacity, type BlockSamples } from './coverage.ts';
import type { Receiver } from './receiver.ts';
import type { BakeSettings } from './settings.ts';

/**
 * What a block's samples have met on the source: their rays, their hits, and the source's normals there. Reused
 * from block to block.
 */
export class Surface {
  readonly scene: Scene;
  readonly receiver: Receiver;
  readonly tracer: Tracer;
  readonly rays: RayBatch;
  readonly hits: HitBatch;
  /** How far along its ray each sample's own place on the receiver lies. */
  readonly starts: Float32Array;
  /** Unit normal of the source, interpolated, for each sample that has met something. */
  readonly normals: Float32Array;
  samples!: BlockSamples;
  /** The block's number, by which random parts are told apart. */
  block = 0;
  private readonly settings: BakeSettings;
  private readonly place = new Float64Array(3);
  private readonly start = new Float64Array(3);

  constructor(scene: Scene, receiver: Receiver, tracer: Tracer, settings: BakeSettings) {
    this.scene = scene;
    this.receiver = receiver;
    this.tracer = tracer;
    this.settings = settings;
    const capacity = sampleCapacity(settings.samplesPerAxis);
    this.rays = rayBatch(capacity);
    this.hits = hitBatch(capacity);
    this.starts = new Float32Array(capacity);
    this.normals = new Float32Array(capacity * 3);
  }

  /** Sends a ray from each sample and measures what it meets. */
  trace(samples: BlockSamples, block: number): void {
    this.samples = samples;
    this.block = block;
    if (this.receiver.cage) this.aimFromCage(this.receiver.cage);
    else this.aim();
    this.tracer.closestHits(this.rays, this.hits, this.settings.backFaces);
    this.measureNormals();
  }

  /** One ray for each sample: from `reach.out` above the surface, against the direction there. */
  private aim(): void {
    const { rays, samples, starts } = this;
    const { positions, directions, indices } = this.receiver;
    const { reach } = this.settings;
    const { origins, directions: ways, lengths } = rays;
    const { triangles, weights } = samples;
    const length = reach.out + reach.in;
    rays.count = samples.count;
    for (let s = 0; s < samples.count; s++) {
      const corner = triangles[s]! * 3;
      const a = indices[corner]! * 3;
      const b = indices[corner + 1]! * 3;
      const c = indices[corner + 2]! * 3;
      const wb = weights[s * 2]!;
      const wc = weights[s * 2 + 1]!;
      const wa = 1 - wb - wc;
      let dx = directions[a]! * wa + directions[b]! * wb + directions[c]! * wc;
      let dy = directions[a + 1]! * wa + directions[b + 1]! * wb + directions[c + 1]! * wc;
      let dz = directions[a + 2]! * wa + directions[b + 2]! * wb + directions[c + 2]! * wc;
      const scale = 1 / (Math.sqrt(dx * dx + dy * dy + dz * dz) || 1);
      dx *= scale;
      dy *= scale;
      dz *= scale;
      const at = s * 3;
      origins[at] = positions[a]! * wa + positions[b]! * wb + positions[c]! * wc + dx * reach.out;
      origins[at + 1] = positions[a + 1]! * wa + positions[b + 1]! * wb + positions[c + 1]! * wc + dy * reach.out;
      origins[at + 2] = positions[a + 2]! * wa + positions[b + 2]! * wb + positions[c + 2]! * wc + dz * reach.out;
      ways[at] = -dx;
      ways[at + 1] = -dy;
      ways[at + 2] = -dz;
      lengths[s] = length;
      starts[s] = reach.out;
    }
  }

  /** One ray for each sample: from its place on the cage to its place on the receiver, and `reach.in` beyond. */
  private aimFromCage(cage: Float32Array): void {
    const { rays, samples, starts, place, start } = this;
    const { positions } = this.receiver;
    rays.count = samples.count;
    for (let s = 0; s < samples.count; s++) {
      this.ofReceiver(positions, s, place);
      this.ofReceiver(cage, s, start);
      const x = place[0]! - start[0]!;
      const y = place[1]! - start[1]!;
      const z = place[2]! - start[2]!;
      const distance = Math.sqrt(x * x + y * y + z * z);
      starts[s] = distance;
      rays.lengths[s] = distance + this.settings.reach.in;
      // Where the cage touches the receiver there is no way between them: the direction there has to do.
      if (distance > 0) {
        rays.directions[s * 3] = x / distance;
        rays.directions[s * 3 + 1] = y / distance;
        rays.directions[s * 3 + 2] = z / distance;
      } else {
        this.ofReceiver(this.receiver.directions, s, place);
        const length = Math.sqrt(place[0]! ** 2 + place[1]! ** 2 + place[2]! ** 2) || 1;
        for (let k = 0; k < 3; k++) rays.directions[s * 3 + k] = -place[k]! / length;
      }
      for (let k = 0; k < 3; k++) rays.origins[s * 3 + k] = start[k]!;
    }
  }

  private measureNormals(): void {
    const { hits, normals, samples } = this;
    const { normals: from, indices } = this.scene;
    for (let s = 0; s < samples.count; s++) {
      const triangle = hits.triangles[s]!;
      if (triangle < 0) continue;
      const a = indices[triangle * 3]! * 3;
      const b = indices[triangle * 3 + 1]! * 3;
      const c = indices[triangle * 3 + 2]! * 3;
      const wb = hits.weights[s * 2]!;
      const wc = hits.weights[s * 2 + 1]!;
      const wa = 1 - wb - wc;
      const x = from[a]! * wa + from[b]! * wb + from[c]! * wc;
      const y = from[a + 1]! * wa + from[b + 1]! * wb + from[c + 1]! * wc;
      const z = from[a + 2]! * wa + from[b + 2]! * wb + from[c + 2]! * wc;
      const scale = 1 / (Math.sqrt(x * x + y * y + z * z) || 1);
      normals[s * 3] = x * scale;
      normals[s * 3 + 1] = y * scale;
      normals[s * 3 + 2] = z * scale;
    }
  }

  /** Where a sample has met the source. */
  placeOf(sample: number, axis: number): number {
    const at = sample * 3 + axis;
    return this.rays.origins[at]! + this.rays.directions[at]! * this.hits.distances[sample]!;
  }

  /** An attribute of the receiver's vertices at a sample, interpolated and not normalised. */
  ofReceiver(attribute: Float32Array, sample: number, out: Float64Array): void {
    const { indices } = this.receiver;
    const corner = this.samples.triangles[sample]! * 3;
    const a = indices[corner]! * 3;
    const b = indices[corner + 1]! * 3;
    const c = indices[corner + 2]! * 3;
    const wb = this.samples.weights[sample * 2]!;
    const wc = this.samples.weights[sample * 2 + 1]!;
    const wa = 1 - wb - wc;
    out[0] = attribute[a]! * wa + attribute[b]! * wb + attribute[c]! * wc;
    out[1] = attribute[a + 1]! * wa + attribute[b + 1]! * wb + attribute[c + 1]! * wc;
    out[2] = attribute[a + 2]! * wa + attribute[b + 2]! * wb + attribute[c + 2]! * wc;
  }
}
