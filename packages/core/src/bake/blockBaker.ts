import { TexelState } from '../image/image.ts';
import type { Scene } from '../trace/scene.ts';
import { texelOfBlock, type BlockPlan } from './coverage/blocks.ts';
import { Coverage, type BlockSamples } from './coverage/coverage.ts';
import { BEGAN_INSIDE, DEEP_INSIDE, LayerProbe, OUTER_LAYER } from './rays/layerProbe.ts';
import { mapBakers, type SourceAttributes } from './maps/mapBakers.ts';
import type { MapBaker } from './maps/mapBaker.ts';
import type { Receiver } from './receiver.ts';
import type { BakeSettings } from './settings.ts';
import { logWidthsOf } from './source/pictureReader.ts';
import { MaterialReader } from './source/sourceMaterials.ts';
import {
  addStatistics,
  BlockMarks,
  clearStatistics,
  emptyStatistics,
  type BakeCounts,
  type BakeStatistics,
  type MarkKind,
} from './statistics.ts';
import { Surface, type Tracers } from './source/surface.ts';

/** Where a bake's results go; every block writes its own texels only, so threads need no locks. */
export interface BakeTarget {
  /** The samples of each map, in the order of the settings. */
  maps: Float32Array[];
  /** A TexelState for each texel. */
  states: Uint8Array;
  /** The island of each covered texel, counted from 1, where that is asked for. */
  islands: Uint16Array | null;
}

/** All that a bake works on; every array in it is shared by the threads. */
export interface BakeWork {
  scene: Scene;
  attributes: SourceAttributes;
  receiver: Receiver;
  plan: BlockPlan;
  /** The island of each triangle of the receiver, counted from 1; for the target's plane of islands. */
  islandOf: Uint16Array | null;
  settings: BakeSettings;
  target: BakeTarget;
  /** 1 for each block whose texels are there already. */
  done: Uint8Array | null;
  /** Whether what is counted is also kept block by block. */
  byBlock: boolean;
}

/** Bakes blocks of texels one at a time. One baker belongs to one thread and reuses its buffers. */
export class BlockBaker {
  /** What was counted since the last block was closed. */
  private readonly statistics: BakeStatistics = emptyStatistics();
  /** What was counted in all blocks so far. */
  readonly counts: BakeCounts = { sum: emptyStatistics(), blocks: [] };
  private readonly work: BakeWork;
  private readonly coverage: Coverage;
  private readonly surface: Surface;
  private readonly bakers: MapBaker[];
  private readonly probe: LayerProbe | null;
  private readonly marks: BlockMarks;
  private readonly value = new Float64Array(4);

  constructor(work: BakeWork, tracers: Tracers) {
    const { scene, attributes, receiver, plan, settings } = work;
    this.work = work;
    this.coverage = new Coverage(receiver.uvs, receiver.indices, plan, settings.samplesPerAxis, tracers.samples);
    const { size } = plan;
    const materials = attributes.materials
      ? new MaterialReader(attributes.materials, scene, logWidthsOf(receiver, size, settings.samplesPerAxis))
      : null;
    this.surface = new Surface(scene, receiver, tracers, settings, materials);
    this.bakers = mapBakers({ settings, attributes, receiver, size, materials, statistics: this.statistics });
    this.probe = settings.prove && settings.aim === 'rays' ? new LayerProbe(this.surface) : null;
    this.marks = new BlockMarks(this.statistics.marks);
  }

  bake(block: number): void {
    const samples = this.coverage.sampleBlock(block);
    if (samples.count === 0) return;
    if (this.work.done?.[block]) {
      this.writeIslands(samples, block);
      return;
    }
    this.surface.trace(samples, block, this.statistics);
    this.statistics.texels.overlapping += samples.overlapping;
    for (const baker of this.bakers) baker.begin?.(this.surface);
    this.write(samples, block);
    if (this.work.settings.prove) this.prove(samples, block);
    addStatistics(this.counts.sum, this.statistics);
    if (this.work.byBlock) {
      const own = emptyStatistics();
      addStatistics(own, this.statistics);
      this.counts.blocks.push([block, own]);
    }
    clearStatistics(this.statistics);
  }

  private writeIslands({ count, texels, triangles }: BlockSamples, block: number): void {
    const { target, islandOf } = this.work;
    if (!target.islands || !islandOf) return;
    for (let s = count - 1; s >= 0; s--)
      target.islands[texelOfBlock(this.work.plan, block, texels[s]!)] = islandOf[triangles[s]!]!;
  }

  private write({ count, texels, triangles: owners }: BlockSamples, block: number): void {
    const { surface, bakers, value, statistics } = this;
    const { target, islandOf } = this.work;
    const { triangles } = surface.hits;
    // Most blocks miss nothing: then no sample has to be looked at.
    const complete = statistics.misses === 0;
    let from = 0;
    while (from < count) {
      const texel = texels[from]!;
      let found = complete;
      let to = from;
      if (complete) while (to < count && texels[to] === texel) to++;
      else for (; to < count && texels[to] === texel; to++) if (triangles[to]! >= 0) found = true;
      const at = texelOfBlock(this.work.plan, block, texel);
      for (let m = 0; m < bakers.length; m++) {
        const baker = bakers[m]!;
        if (found) baker.texel(surface, from, to, value);
        else baker.missed(surface, from, value);
        const { channels } = baker;
        const data = target.maps[m]!;
        for (let c = 0; c < channels; c++) data[at * channels + c] = value[c]!;
      }
      target.states[at] = found ? TexelState.covered : TexelState.missed;
      if (target.islands && islandOf) target.islands[at] = islandOf[owners[from]!]!;
      statistics.texels.covered++;
      if (!found) statistics.texels.missed++;
      from = to;
    }
  }

  /** Looks at the first sample of each texel for what may be wrong there. */
  private prove(samples: BlockSamples, block: number): void {
    const { surface, probe, work, marks } = this;
    const { hits, behind } = surface;
    const layers = probe?.look(surface);
    const { states } = work.target;
    const isMissed = (texel: number): boolean =>
      states[texelOfBlock(this.work.plan, block, texel)] === TexelState.missed;
    const farther = probe?.lookFarther(surface, isMissed);
    let last = -1;
    for (let s = 0; s < samples.count; s++) {
      const texel = samples.texels[s]!;
      if (texel === last) continue;
      last = texel;
      if (samples.overlaps[texel]) this.mark('overlapping', s, block, texel);
      if (hits.triangles[s]! < 0) {
        // Another sample of the texel may have met something.
        if (isMissed(texel)) this.mark(farther?.[texel] === 0 ? 'open' : 'missed', s, block, texel);
        continue;
      }
      if (behind[s]) this.mark('behind', s, block, texel);
      if (layers?.[texel] === BEGAN_INSIDE) this.mark('inside', s, block, texel);
      if (layers?.[texel] === DEEP_INSIDE) this.mark('deepInside', s, block, texel);
      if (layers?.[texel] === OUTER_LAYER) this.mark('outerLayer', s, block, texel);
      if (probe && this.isBackward(s)) this.mark('backward', s, block, texel);
    }
    marks.close();
  }

  /** Whether the source's normal points away from the receiver, so that the normal map would turn it round. */
  private isBackward(s: number): boolean {
    const { surface, value } = this;
    const { normals: n } = surface;
    surface.ofReceiver(this.work.receiver.normals, s, value);
    return n[s * 3]! * value[0]! + n[s * 3 + 1]! * value[1]! + n[s * 3 + 2]! * value[2]! < 0;
  }

  private mark(kind: MarkKind, s: number, block: number, texel: number): void {
    this.marks.add(kind, this.surface.partOf(s), () => this.place(s, block, texel));
  }

  private place(s: number, block: number, texel: number) {
    const { width } = this.work.plan.size;
    const at = texelOfBlock(this.work.plan, block, texel);
    this.surface.ofReceiver(this.work.receiver.positions, s, this.value);
    const [x, y, z] = this.value;
    return { block, x: at % width, y: Math.floor(at / width), position: [x!, y!, z!] as [number, number, number] };
  }
}
