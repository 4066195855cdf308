import { TexelState } from '../image/image.ts';
import { hitBatch, rayBatch, type HitBatch, type RayBatch, type Tracer } from '../trace/rays.ts';
import { facesAlong, type Scene } from '../trace/scene.ts';
import { BLOCK, type BlockPlan } from './blocks.ts';
import { Coverage, type BlockSamples } from './coverage.ts';
import type { Receiver } from './receiver.ts';
import type { BakeSettings } from './settings.ts';
import { distanceBin, emptyStatistics, type BakeStatistics } from './statistics.ts';
import { toTangentSpace } from './tangentSpace.ts';

/** Where a bake's results go; every block writes its own texels only, so threads need no locks. */
export interface BakeTarget {
  /** r, g, b for each texel: the unit normal as n · 0.5 + 0.5. */
  normal: Float32Array;
  /** A TexelState for each texel. */
  states: Uint8Array;
}

/** Bakes blocks of texels one at a time. One baker belongs to one thread and reuses its buffers. */
export class BlockBaker {
  readonly statistics: BakeStatistics = emptyStatistics();
  private readonly scene: Scene;
  private readonly tracer: Tracer;
  private readonly receiver: Receiver;
  private readonly plan: BlockPlan;
  private readonly settings: BakeSettings;
  private readonly target: BakeTarget;
  private readonly coverage: Coverage;
  private readonly rays: RayBatch;
  private readonly hits: HitBatch;
  private readonly sums = new Float64Array(BLOCK * BLOCK * 3);
  private readonly hitCounts = new Uint16Array(BLOCK * BLOCK);
  private readonly vN = new Float64Array(3);
  private readonly vT = new Float64Array(3);
  private readonly vector = new Float64Array(3);

  constructor(
    scene: Scene,
    tracer: Tracer,
    receiver: Receiver,
    plan: BlockPlan,
    settings: BakeSettings,
    target: BakeTarget,
  ) {
    this.scene = scene;
    this.tracer = tracer;
    this.receiver = receiver;
    this.plan = plan;
    this.settings = settings;
    this.target = target;
    this.coverage = new Coverage(receiver.uvs, receiver.indices, plan, settings.samplesPerAxis);
    const capacity = (BLOCK * settings.samplesPerAxis) ** 2 + BLOCK * BLOCK;
    this.rays = rayBatch(capacity);
    this.hits = hitBatch(capacity);
  }

  bake(block: number): void {
    const samples = this.coverage.sampleBlock(block);
    if (samples.count === 0) return;
    this.aim(samples);
    this.tracer.closestHits(this.rays, this.hits, this.settings.backFaces);
    this.gather(samples);
    this.write(samples, block);
  }

  /** One ray for each sample: from `reach.out` above the surface, against the smooth direction. */
  private aim(samples: BlockSamples): void {
    const { rays, vector } = this;
    const { positions, directions } = this.receiver;
    const { reach } = this.settings;
    rays.count = samples.count;
    for (let s = 0; s < samples.count; s++) {
      this.interpolate(directions, samples, s, vector);
      const length = Math.hypot(vector[0]!, vector[1]!, vector[2]!) || 1;
      const dx = vector[0]! / length;
      const dy = vector[1]! / length;
      const dz = vector[2]! / length;
      this.interpolate(positions, samples, s, vector);
      rays.origins[s * 3] = vector[0]! + dx * reach.out;
      rays.origins[s * 3 + 1] = vector[1]! + dy * reach.out;
      rays.origins[s * 3 + 2] = vector[2]! + dz * reach.out;
      rays.directions[s * 3] = -dx;
      rays.directions[s * 3 + 1] = -dy;
      rays.directions[s * 3 + 2] = -dz;
      rays.lengths[s] = reach.out + reach.in;
    }
  }

  /** Adds up the normals each texel's rays have met, in the space the map is asked in. */
  private gather(samples: BlockSamples): void {
    const { hits, statistics, sums, hitCounts, vector, scene } = this;
    const { reach, normal, backFaces } = this.settings;
    sums.fill(0);
    hitCounts.fill(0);
    statistics.rays += samples.count;
    for (let s = 0; s < samples.count; s++) {
      const triangle = hits.triangles[s]!;
      if (triangle < 0) {
        statistics.misses++;
        continue;
      }
      statistics.hitDistances[distanceBin(reach.out - hits.distances[s]!, reach)]!++;
      const wb = hits.weights[s * 2]!;
      const wc = hits.weights[s * 2 + 1]!;
      const wa = 1 - wb - wc;
      const a = scene.indices[triangle * 3]! * 3;
      const b = scene.indices[triangle * 3 + 1]! * 3;
      const c = scene.indices[triangle * 3 + 2]! * 3;
      const n = scene.normals;
      const nx = n[a]! * wa + n[b]! * wb + n[c]! * wc;
      const ny = n[a + 1]! * wa + n[b + 1]! * wb + n[c + 1]! * wc;
      const nz = n[a + 2]! * wa + n[b + 2]! * wb + n[c + 2]! * wc;
      const d = this.rays.directions;
      if (backFaces === 'accept' && facesAlong(scene, triangle, d[s * 3]!, d[s * 3 + 1]!, d[s * 3 + 2]!)) {
        statistics.hitsFromBehind++;
      }
      if (normal.space === 'tangent') {
        this.loadFrame(samples, s);
        toTangentSpace(nx, ny, nz, this.vN, this.vT, this.frameSign(samples, s), vector);
      } else {
        const length = Math.hypot(nx, ny, nz) || 1;
        vector[0] = nx / length;
        vector[1] = ny / length;
        vector[2] = nz / length;
      }
      const texel = samples.texels[s]!;
      sums[texel * 3]! += vector[0]!;
      sums[texel * 3 + 1]! += vector[1]!;
      sums[texel * 3 + 2]! += vector[2]!;
      hitCounts[texel]!++;
    }
  }

  private write(samples: BlockSamples, block: number): void {
    const { plan, target, sums, hitCounts, statistics, vector } = this;
    const { space, y: up } = this.settings.normal;
    const left = (block % plan.columns) * BLOCK;
    const top = Math.floor(block / plan.columns) * BLOCK;
    const green = space === 'tangent' && up === 'down' ? -0.5 : 0.5;
    statistics.texels.overlapping += samples.overlapping;
    let previous = -1;
    for (let s = 0; s < samples.count; s++) {
      const texel = samples.texels[s]!;
      if (texel === previous) continue;
      previous = texel;
      for (let k = 0; k < 3; k++) vector[k] = sums[texel * 3 + k]!;
      const length = Math.hypot(vector[0]!, vector[1]!, vector[2]!);
      const found = hitCounts[texel]! > 0 && length > 1e-9;
      if (found) for (let k = 0; k < 3; k++) vector[k]! /= length;
      else this.ownNormal(samples, s);
      const at = (top + Math.floor(texel / BLOCK)) * plan.size.width + left + (texel % BLOCK);
      target.normal[at * 3] = vector[0]! * 0.5 + 0.5;
      target.normal[at * 3 + 1] = vector[1]! * green + 0.5;
      target.normal[at * 3 + 2] = vector[2]! * 0.5 + 0.5;
      target.states[at] = hitCounts[texel]! > 0 ? TexelState.covered : TexelState.missed;
      statistics.texels.covered++;
      if (hitCounts[texel] === 0) statistics.texels.missed++;
    }
  }

  /** Where nothing was met the receiver's own surface is the honest answer: no detail rather than a hole. */
  private ownNormal(samples: BlockSamples, s: number): void {
    const { vector } = this;
    if (this.settings.normal.space === 'tangent') {
      vector.set([0, 0, 1]);
      return;
    }
    this.interpolate(this.receiver.normals, samples, s, vector);
    const length = Math.hypot(vector[0]!, vector[1]!, vector[2]!) || 1;
    for (let k = 0; k < 3; k++) vector[k]! /= length;
  }

  private loadFrame(samples: BlockSamples, s: number): void {
    this.interpolate(this.receiver.normals, samples, s, this.vN);
    const { tangents } = this.receiver;
    const corner = samples.triangles[s]! * 12;
    const wb = samples.weights[s * 2]!;
    const wc = samples.weights[s * 2 + 1]!;
    const wa = 1 - wb - wc;
    for (let k = 0; k < 3; k++) {
      this.vT[k] = tangents[corner + k]! * wa + tangents[corner + 4 + k]! * wb + tangents[corner + 8 + k]! * wc;
    }
  }

  private frameSign(samples: BlockSamples, s: number): number {
    return this.receiver.tangents[samples.triangles[s]! * 12 + 3]!;
  }

  /** Interpolates a vertex attribute of the receiver at a sample. */
  private interpolate(attribute: Float32Array, samples: BlockSamples, s: number, out: Float64Array): void {
    const { indices } = this.receiver;
    const corner = samples.triangles[s]! * 3;
    const a = indices[corner]! * 3;
    const b = indices[corner + 1]! * 3;
    const c = indices[corner + 2]! * 3;
    const wb = samples.weights[s * 2]!;
    const wc = samples.weights[s * 2 + 1]!;
    const wa = 1 - wb - wc;
    out[0] = attribute[a]! * wa + attribute[b]! * wb + attribute[c]! * wc;
    out[1] = attribute[a + 1]! * wa + attribute[b + 1]! * wb + attribute[c + 1]! * wc;
    out[2] = attribute[a + 2]! * wa + attribute[b + 2]! * wb + attribute[c + 2]! * wc;
  }
}
