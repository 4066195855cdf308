import { GroupTracer } from '../../trace/groupTracer.ts';
import type { SampleKernel } from '../../trace/sampleKernel.ts';
import type { NearestPlace } from '../../trace/nearestPlace.ts';
import { hitBatch, rayBatch, type BackFaces, type HitBatch, type RayBatch, type Tracer } from '../../trace/rays.ts';
import type { Scene } from '../../trace/scene.ts';
import { triangleFace } from '../../mesh/triangleFace.ts';
import { RayAim } from '../rays/aimRays.ts';
import { sampleCapacity, type BlockSamples } from '../coverage/coverage.ts';
import type { Receiver } from '../receiver.ts';
import { NormalBend } from './normalBend.ts';
import type { BakeSettings } from '../settings.ts';
import { DISTANCE_BINS, type BakeStatistics } from '../statistics.ts';
import type { MaterialReader } from './sourceMaterials.ts';

/** What a thread traces with. */
export interface Tracers {
  /** One for each group of source triangles. */
  groups: readonly Tracer[];
  /** What occludes, if it is not what a part may see. */
  occluders: Tracer | null;
  /** The nearest place of each group, where a bake goes by that. */
  nearest: readonly NearestPlace[];
  /** Works on samples where they are traced, if that can be. */
  samples: SampleKernel | null;
}

/** Rays that a fan casts at once; also the most of any batch of a block. */
export const FAN_BATCH = 16384;

/**
 * What a block's samples have met on the source: their rays, their hits, and the source's normals there. Reused
 * from block to block.
 */
export class Surface {
  readonly scene: Scene;
  readonly receiver: Receiver;
  readonly rays: RayBatch;
  readonly hits: HitBatch;
  /** How far along its ray each sample's own place on the receiver lies. */
  readonly starts: Float32Array;
  /** The group of source triangles that each sample may see. */
  readonly groups: Uint16Array;
  /** 1 for each sample that has met its triangle from behind. */
  readonly behind: Uint8Array;
  /** Unit normal of the source, interpolated, for each sample that has met something. */
  readonly normals: Float32Array;
  /** The same, bent by the source's own normal pictures where it has them. */
  readonly shading: Float32Array;
  samples!: BlockSamples;
  /** The block's number, by which random parts are told apart. */
  block = 0;
  private readonly settings: BakeSettings;
  private readonly aim: RayAim;
  private readonly aimsTogether: boolean;
  private readonly bend: NormalBend | null;
  private readonly tracers: Tracers;
  private readonly projection: GroupTracer;
  private readonly fanGroups: Uint16Array;
  private readonly place = new Float64Array(3);
  private readonly face = new Float64Array(9);

  constructor(
    scene: Scene,
    receiver: Receiver,
    tracers: Tracers,
    settings: BakeSettings,
    materials: MaterialReader | null,
  ) {
    this.scene = scene;
    this.receiver = receiver;
    this.tracers = tracers;
    this.settings = settings;
    this.aim = new RayAim(receiver);
    const capacity = sampleCapacity(settings.samplesPerAxis);
    this.projection = new GroupTracer(tracers.groups, Math.max(capacity, FAN_BATCH));
    const own = tracers.samples;
    this.rays = own?.rays ?? rayBatch(capacity);
    this.hits = own?.hits ?? hitBatch(capacity);
    this.starts = own?.starts ?? new Float32Array(capacity);
    this.groups = new Uint16Array(capacity);
    this.behind = new Uint8Array(capacity);
    this.normals = own?.normals ?? new Float32Array(capacity * 3);
    // A cage, a blend, or the nearest place: then rays are aimed one by one.
    this.aimsTogether = own !== null && !receiver.cage && !receiver.blend && settings.aim === 'rays';
    this.bend = materials?.hasNormals ? new NormalBend(materials) : null;
    this.shading = this.bend ? new Float32Array(capacity * 3) : this.normals;
    this.fanGroups = new Uint16Array(FAN_BATCH);
  }

  /**
   * A batch for further rays, where the tracer works if that can be. All who ask may get the same one: what lies in it
   * is gone with the next batch.
   */
  fanBatch(): { rays: RayBatch; hits: HitBatch } {
    const tracer = this.tracers.occluders ?? this.tracers.groups[0];
    return tracer?.fanBatch?.(FAN_BATCH) ?? { rays: rayBatch(FAN_BATCH), hits: hitBatch(FAN_BATCH) };
  }

  /** Finds what each sample meets, and counts it. */
  trace(samples: BlockSamples, block: number, statistics: BakeStatistics): void {
    this.samples = samples;
    this.block = block;
    const { partOf, parts } = this.receiver;
    for (let s = 0; s < samples.count; s++) this.groups[s] = parts[partOf[samples.triangles[s]!]!]!.group;
    if (this.aimsTogether) this.tracers.samples!.aim(samples.count);
    else this.aim.aim(samples, this.rays, this.starts);
    if (this.settings.aim === 'nearest') this.findNearest();
    else if (this.settings.aim === 'shared') this.findShared();
    else this.projection.closestHits(this.rays, this.groups, this.hits, this.backFaces);
    this.measureNormals(statistics);
    this.bend?.bend(this);
  }

  /** Whether the rays of samples meet backs of the source; turning their normals round comes after. */
  get backFaces(): BackFaces {
    return this.settings.backFaces === 'ignore' ? 'ignore' : 'accept';
  }

  /** Casts rays that may see what the samples they belong to may see. */
  castFor(owners: Int32Array, rays: RayBatch, hits: HitBatch, backFaces: BackFaces): void {
    this.projection.closestHits(rays, this.groupsOf(owners, rays.count), hits, backFaces);
  }

  /** 1 for each ray that meets anything its sample may see. */
  crossedFor(owners: Int32Array, rays: RayBatch, crossed: Uint8Array, backFaces: BackFaces): void {
    this.projection.anyHits(rays, this.groupsOf(owners, rays.count), crossed, backFaces);
  }

  /** The nearest hits among what occludes. */
  occludedAt(owners: Int32Array, rays: RayBatch, hits: HitBatch, backFaces: BackFaces): void {
    const { occluders } = this.tracers;
    if (occluders) occluders.closestHits(rays, hits, backFaces);
    else this.castFor(owners, rays, hits, backFaces);
  }

  /** 1 for each ray that something occludes. */
  occluded(owners: Int32Array, rays: RayBatch, blocked: Uint8Array, backFaces: BackFaces): void {
    const { occluders } = this.tracers;
    if (occluders) occluders.anyHits(rays, blocked, backFaces);
    else this.crossedFor(owners, rays, blocked, backFaces);
  }

  private groupsOf(owners: Int32Array, count: number): Uint16Array {
    const { fanGroups, groups } = this;
    for (let r = 0; r < count; r++) fanGroups[r] = groups[owners[r]!]!;
    return fanGroups;
  }

  /** The nearest place of the source; the ray becomes the way there, so that all else is as with rays. */
  private findNearest(): void {
    const { rays, hits, starts, samples, groups, place } = this;
    const { nearest } = this.tracers;
    for (let s = 0; s < samples.count; s++) {
      this.ofReceiver(this.receiver.positions, s, place);
      const [x, y, z] = [place[0]!, place[1]!, place[2]!];
      const group = nearest[groups[s]!];
      hits.triangles[s] = -1;
      group?.find(x, y, z, Math.max(starts[s]!, rays.lengths[s]! - starts[s]!), hits, s);
      const triangle = hits.triangles[s]!;
      if (triangle < 0) continue;
      const above = -(
        (this.ofScene(triangle, s, 0) - x) * rays.directions[s * 3]! +
        (this.ofScene(triangle, s, 1) - y) * rays.directions[s * 3 + 1]! +
        (this.ofScene(triangle, s, 2) - z) * rays.directions[s * 3 + 2]!
      );
      const distance = hits.distances[s]!;
      // Seen from the reach above along the same way, so that heights keep their sign.
      const side = above < 0 || distance === 0 ? 1 : -1;
      for (let k = 0; k < 3; k++) {
        const way =
          distance > 0 ? ((this.ofScene(triangle, s, k) - place[k]!) / distance) * side : rays.directions[s * 3 + k]!;
        rays.directions[s * 3 + k] = way;
        rays.origins[s * 3 + k] = place[k]! - way * starts[s]!;
      }
      hits.distances[s] = starts[s]! + distance * side;
    }
  }

  /** The same place on the triangle that receiver and source share; as if the ray had met it there. */
  private findShared(): void {
    const { hits, starts, samples } = this;
    const twins = this.receiver.twins!;
    for (let s = 0; s < samples.count; s++) {
      const twin = twins[samples.triangles[s]!]!;
      hits.triangles[s] = twin < 0 ? -1 : Math.floor(twin / 3);
      hits.distances[s] = starts[s]!;
      const wb = samples.weights[s * 2]!;
      const wc = samples.weights[s * 2 + 1]!;
      const wa = 1 - wb - wc;
      // The weight of the receiver's corner c belongs to the twin's corner c + first.
      const first = twin % 3;
      hits.weights[s * 2] = first === 0 ? wb : first === 1 ? wa : wc;
      hits.weights[s * 2 + 1] = first === 0 ? wc : first === 1 ? wb : wa;
    }
  }

  private ofScene(triangle: number, s: number, axis: number): number {
    const { indices, positions } = this.scene;
    const { weights } = this.hits;
    const wb = weights[s * 2]!;
    const wc = weights[s * 2 + 1]!;
    return (
      positions[indices[triangle * 3]! * 3 + axis]! * (1 - wb - wc) +
      positions[indices[triangle * 3 + 1]! * 3 + axis]! * wb +
      positions[indices[triangle * 3 + 2]! * 3 + axis]! * wc
    );
  }

  /** The source's normals where samples have met it, and counts of what was met and how far away. */
  private measureNormals(statistics: BakeStatistics): void {
    const { hits, normals, samples, settings, behind, rays, face, starts } = this;
    const { normals: from, indices } = this.scene;
    const backsCount = settings.backFaces !== 'ignore' && settings.aim === 'rays';
    const { reach } = settings;
    const perUnit = DISTANCE_BINS / (reach.in + reach.out);
    const bins = statistics.hitDistances;
    statistics.rays += samples.count;
    if (this.tracers.samples && !backsCount) {
      behind.fill(0, 0, samples.count);
      statistics.misses += this.tracers.samples.shade(samples.count, -reach.in, perUnit, bins);
      return;
    }
    for (let s = 0; s < samples.count; s++) {
      const triangle = hits.triangles[s]!;
      behind[s] = 0;
      if (triangle < 0) {
        statistics.misses++;
        continue;
      }
      const bin = Math.floor((starts[s]! - hits.distances[s]! + reach.in) * perUnit);
      bins[Math.max(0, Math.min(DISTANCE_BINS - 1, bin))]!++;
      const a = indices[triangle * 3]! * 3;
      const b = indices[triangle * 3 + 1]! * 3;
      const c = indices[triangle * 3 + 2]! * 3;
      const wb = hits.weights[s * 2]!;
      const wc = hits.weights[s * 2 + 1]!;
      const wa = 1 - wb - wc;
      const x = from[a]! * wa + from[b]! * wb + from[c]! * wc;
      const y = from[a + 1]! * wa + from[b + 1]! * wb + from[c + 1]! * wc;
      const z = from[a + 2]! * wa + from[b + 2]! * wb + from[c + 2]! * wc;
      let scale = 1 / (Math.sqrt(x * x + y * y + z * z) || 1);
      if (backsCount) {
        triangleFace(this.scene, triangle, face);
        const d = rays.directions;
        if (face[6]! * d[s * 3]! + face[7]! * d[s * 3 + 1]! + face[8]! * d[s * 3 + 2]! > 0) {
          behind[s] = 1;
          statistics.hitsFromBehind++;
          if (settings.backFaces === 'flip') scale = -scale;
        }
      }
      normals[s * 3] = x * scale;
      normals[s * 3 + 1] = y * scale;
      normals[s * 3 + 2] = z * scale;
    }
  }

  /** The mean normal of each texel in tangent space, where the kernel can find them together; else null. */
  meanNormals(): Float32Array | null {
    const { samples: kernel } = this.tracers;
    if (!kernel || this.bend || this.settings.backFaces === 'flip') return null;
    kernel.encode(this.samples.count);
    return kernel.means;
  }

  /** Where a sample has met the source. */
  placeOf(sample: number, axis: number): number {
    const at = sample * 3 + axis;
    return this.rays.origins[at]! + this.rays.directions[at]! * this.hits.distances[sample]!;
  }

  /** The part of the receiver that a sample belongs to. */
  partOf(sample: number): number {
    return this.receiver.partOf[this.samples.triangles[sample]!]!;
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
