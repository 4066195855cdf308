import { TexelState } from '../image/image.ts';
import type { Tracer } from '../trace/rays.ts';
import { facesAlong, type Scene } from '../trace/scene.ts';
import { BLOCK, type BlockPlan } from './blocks.ts';
import { Coverage, type BlockSamples } from './coverage.ts';
import { mapBakers, type SourceAttributes } from './maps/index.ts';
import type { MapBaker } from './maps/mapBaker.ts';
import type { Receiver } from './receiver.ts';
import type { BakeSettings } from './settings.ts';
import { distanceBin, emptyStatistics, type BakeStatistics } from './statistics.ts';
import { Surface } from './surface.ts';

/** Where a bake's results go; every block writes its own texels only, so threads need no locks. */
export interface BakeTarget {
  /** The samples of each map, in the order of the settings. */
  maps: Float32Array[];
  /** A TexelState for each texel. */
  states: Uint8Array;
}

/** All that a bake works on; every array in it is shared by the threads. */
export interface BakeWork {
  scene: Scene;
  attributes: SourceAttributes;
  receiver: Receiver;
  plan: BlockPlan;
  settings: BakeSettings;
  target: BakeTarget;
}

/** Bakes blocks of texels one at a time. One baker belongs to one thread and reuses its buffers. */
export class BlockBaker {
  readonly statistics: BakeStatistics = emptyStatistics();
  private readonly work: BakeWork;
  private readonly coverage: Coverage;
  private readonly surface: Surface;
  private readonly bakers: MapBaker[];
  private readonly value = new Float64Array(4);

  constructor(work: BakeWork, tracer: Tracer) {
    const { scene, attributes, receiver, plan, settings } = work;
    this.work = work;
    this.coverage = new Coverage(receiver.uvs, receiver.indices, plan, settings.samplesPerAxis);
    this.surface = new Surface(scene, receiver, tracer, settings);
    this.bakers = mapBakers(settings, attributes);
  }

  bake(block: number): void {
    const samples = this.coverage.sampleBlock(block);
    if (samples.count === 0) return;
    this.surface.trace(samples, block);
    this.count(samples);
    for (const baker of this.bakers) baker.begin?.(this.surface);
    this.write(samples, block);
  }

  private count({ count, overlapping }: BlockSamples): void {
    const { statistics, surface, work } = this;
    const { hits, rays, starts } = surface;
    const { reach, backFaces } = work.settings;
    statistics.rays += count;
    statistics.texels.overlapping += overlapping;
    for (let s = 0; s < count; s++) {
      const triangle = hits.triangles[s]!;
      if (triangle < 0) {
        statistics.misses++;
        continue;
      }
      statistics.hitDistances[distanceBin(starts[s]! - hits.distances[s]!, reach)]!++;
      if (backFaces === 'ignore') continue;
      const d = rays.directions;
      if (facesAlong(work.scene, triangle, d[s * 3]!, d[s * 3 + 1]!, d[s * 3 + 2]!)) statistics.hitsFromBehind++;
    }
  }

  private write({ count, texels }: BlockSamples, block: number): void {
    const { surface, bakers, value, statistics } = this;
    const { plan, target } = this.work;
    const { triangles } = surface.hits;
    const left = (block % plan.columns) * BLOCK;
    const top = Math.floor(block / plan.columns) * BLOCK;
    let from = 0;
    while (from < count) {
      const texel = texels[from]!;
      let found = false;
      let to = from;
      for (; to < count && texels[to] === texel; to++) if (triangles[to]! >= 0) found = true;
      const at = (top + Math.floor(texel / BLOCK)) * plan.size.width + left + (texel % BLOCK);
      for (let m = 0; m < bakers.length; m++) {
        const baker = bakers[m]!;
        if (found) baker.texel(surface, from, to, value);
        else baker.missed(surface, from, value);
        const { channels } = baker;
        const data = target.maps[m]!;
        for (let c = 0; c < channels; c++) data[at * channels + c] = value[c]!;
      }
      target.states[at] = found ? TexelState.covered : TexelState.missed;
      statistics.texels.covered++;
      if (!found) statistics.texels.missed++;
      from = to;
    }
  }
}
