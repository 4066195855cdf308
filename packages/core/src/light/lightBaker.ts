import { BLOCK, texelOfBlock, type BlockPlan } from '../bake/coverage/blocks.ts';
import { Coverage, sampleCapacity, type BlockSamples } from '../bake/coverage/coverage.ts';
import type { Receiver } from '../bake/receiver.ts';
import { logWidthsOf } from '../bake/source/pictureReader.ts';
import { MaterialReader } from '../bake/source/sourceMaterials.ts';
import { TexelState } from '../image/image.ts';
import { mixed } from '../math/lowDiscrepancy.ts';
import type { Kernel } from '../kernel/kernel.ts';
import type { KernelTree } from '../trace/index.ts';
import type { LaidLight, PathSettings } from './lightMemory.ts';
import type { LightScene } from './lightScene.ts';
import { accumulatedPerTexel, ACCUMULATED } from './passes.ts';
import { OpenPlaces } from './openPlaces.ts';
import { PATHS } from './pathRoom.ts';
import { PathTracer } from './pathTracer.ts';
import { placeOn } from './surfacePlace.ts';
import { SurfaceReader } from './surfaceReader.ts';

/** Settings of a light bake, all decided. */
export interface LightBakeSettings extends PathSettings {
  /** Whether it is also counted how much of the surroundings is open. */
  seesSky: boolean;
  groups: number;
  seed: number;
}

/** What is counted, texel by texel; every block writes its own texels only, so threads need no locks. */
export interface LightTarget {
  /** Sums over all samples: `accumulatedPerTexel` numbers for each texel. */
  sums: Float32Array;
  /** How much brighter samples of even numbers are in sum than those of odd numbers: a measure of noise. */
  differences: Float32Array;
  /** A TexelState for each texel. */
  states: Uint8Array;
  /** The island of each covered texel, counted from 1. */
  islands: Uint16Array | null;
  /** Which places of a texel lie within another body, by bits, where some do and some do not: those are not sampled. */
  buried: Uint16Array;
  /** What leads a denoiser: `GUIDES` numbers for each texel, place, normal and colour without light; null for none. */
  guides: Float32Array | null;
}

export const GUIDES = 9;

/** All that a light bake works on; every array in it is shared by the threads. */
export interface LightWork {
  light: LightScene;
  /** The same in the memory of the tree. */
  laid: LaidLight;
  receiver: Receiver;
  /** The first of the receiver's triangles in the scene, where they lie in its order. */
  firstTriangle: number;
  plan: BlockPlan;
  islandOf: Uint16Array | null;
  settings: LightBakeSettings;
  target: LightTarget;
}

/** Doubles that a thread counts a block in: twice for each texel, for samples of even and of odd numbers. */
export const countedDoubles = (groups: number): number => 2 * BLOCK * BLOCK * accumulatedPerTexel(groups);

/** Places of a texel along each axis: as many as there are samples for, up to four. */
export const PLACES_PER_AXIS = 4;

/** Lights blocks of texels one at a time. One baker belongs to one thread and reuses its buffers. */
export class LightBaker {
  /** Texels that lay in two triangles at once, each time they were sampled. */
  overlapping = 0;
  private readonly work: LightWork;
  private readonly coverage: Coverage;
  private readonly surfaces: SurfaceReader;
  private readonly paths: PathTracer;
  private readonly stride: number;
  /** Of samples on each triangle of the receiver, in mesh units. */
  private readonly widths: Float32Array;
  private readonly logWidths: Float32Array;
  private readonly open: OpenPlaces;
  private readonly isBuried: Uint8Array;
  private count = 0;
  private readonly place = new Float64Array(3);
  private readonly normal = new Float64Array(3);

  /** @param kernel an instance over the tree's memory, of this thread's own @param thread its number */
  constructor(work: LightWork, tree: KernelTree, kernel: Kernel, thread: number) {
    const { light, receiver, plan, settings, laid } = work;
    this.work = work;
    this.coverage = new Coverage(receiver.uvs, receiver.indices, plan, PLACES_PER_AXIS);
    this.logWidths = logWidthsOf(receiver, plan.size, PLACES_PER_AXIS);
    this.widths = this.logWidths.map((log) => 2 ** log);
    const reader = new MaterialReader(light.materials, light.scene, this.logWidths);
    this.surfaces = new SurfaceReader(light, reader, laid);
    const { groups, seesSky } = settings;
    this.paths = new PathTracer(tree, kernel, laid, thread, countedDoubles(groups), this.surfaces, seesSky);
    this.stride = accumulatedPerTexel(groups);
    const texelWidths = this.widths.map((width) => width * PLACES_PER_AXIS);
    this.open = new OpenPlaces(light, this.paths, work.firstTriangle, texelWidths);
    this.isBuried = new Uint8Array(sampleCapacity(PLACES_PER_AXIS));
  }

  /** Rays that were cast so far. */
  get cast(): number {
    return this.paths.cast;
  }

  /** Adds samples of a block. @param from, to their numbers, the last not among them */
  bake(block: number, from: number, to: number): void {
    const samples = this.coverage.sampleBlock(block);
    if (samples.count === 0) return;
    this.overlapping += samples.overlapping;
    const { paths } = this;
    const { buried } = this.work.target;
    if (from === 0) this.open.find(samples, this.isBuried);
    paths.counted.fill(0);
    this.count = 0;
    for (let first = 0; first < samples.count;) {
      let end = first + 1;
      while (end < samples.count && samples.texels[end] === samples.texels[first]) end++;
      const texel = samples.texels[first]!;
      const at = texelOfBlock(this.work.plan, block, texel);
      const seed = mixed(at, this.work.settings.seed);
      if (from === 0) buried[at] = this.buriedPlaces(first, end);
      const places = openPlaces(buried[at]!, end - first);
      for (let sample = from; sample < to; sample++) {
        this.begin(samples, first + places[placeOf(sample, places.length)]!, texel, sample, seed);
        if (this.count === PATHS) this.trace();
      }
      this.cover(at, samples.triangles[first]!);
      if (from === 0) this.guide(samples, first + ((end - first) >> 1), at);
      first = end;
    }
    this.trace();
    this.add(samples, block);
  }

  /** Bits of the places of a texel that lie within a body; none where all do, for then there is nowhere to move to. */
  private buriedPlaces(first: number, end: number): number {
    let bits = 0;
    for (let s = first; s < end; s++) if (this.isBuried[s] === 1) bits |= 1 << (s - first);
    return bits === (1 << (end - first)) - 1 ? 0 : bits;
  }

  private trace(): void {
    if (this.count > 0) this.paths.trace(this.count);
    this.count = 0;
  }

  private cover(at: number, triangle: number): void {
    const { target, islandOf } = this.work;
    target.states[at] = TexelState.covered;
    if (target.islands && islandOf) target.islands[at] = islandOf[triangle]!;
  }

  /** Writes what the surface is like at a texel's middle place. */
  private guide({ triangles, weights }: BlockSamples, s: number, at: number): void {
    const { target, receiver, firstTriangle } = this.work;
    const { guides } = target;
    if (!guides) return;
    const triangle = triangles[s]!;
    const wb = weights[s * 2]!;
    const wc = weights[s * 2 + 1]!;
    placeOn(receiver, triangle, wb, wc, this.place, this.normal, 0);
    const base = this.surfaces.baseAt(firstTriangle + triangle, wb, wc, this.logWidths[triangle]!);
    for (let k = 0; k < 3; k++) {
      guides[at * GUIDES + k] = this.place[k]!;
      guides[at * GUIDES + 3 + k] = this.normal[k]!;
      guides[at * GUIDES + 6 + k] = base[k]!;
    }
  }

  /** Lays a path out. */
  private begin({ triangles, weights }: BlockSamples, s: number, texel: number, sample: number, seed: number): void {
    const { starts } = this.paths;
    const path = this.count++;
    const triangle = triangles[s]!;
    starts.widths[path] = this.widths[triangle]!;
    starts.triangles[path] = this.work.firstTriangle + triangle;
    starts.weights[path * 2] = weights[s * 2]!;
    starts.weights[path * 2 + 1] = weights[s * 2 + 1]!;
    starts.slots[path] = texel * 2 + (sample & 1);
    starts.samples[path] = sample;
    starts.seeds[path] = seed;
  }

  private add({ count, texels }: BlockSamples, block: number): void {
    const { stride } = this;
    const { counted } = this.paths;
    const { sums, differences } = this.work.target;
    let last = -1;
    for (let s = 0; s < count; s++) {
      const texel = texels[s]!;
      if (texel === last) continue;
      last = texel;
      const at = texelOfBlock(this.work.plan, block, texel);
      const even = texel * 2 * stride;
      const odd = even + stride;
      for (let k = 0; k < stride; k++) sums[at * stride + k]! += counted[even + k]! + counted[odd + k]!;
      let difference = 0;
      for (let k = 0; k < ACCUMULATED.irradiance; k++) difference += counted[even + k]! - counted[odd + k]!;
      differences[at]! += difference / 3;
    }
  }
}

/** Steps of about the golden section of a number of places, which have no divisor in common with it. */
const STEPS = Array.from({ length: PLACES_PER_AXIS ** 2 + 1 }, (_, places) => {
  let step = Math.max(1, Math.round(places * 0.618));
  while (step > 1 && divisorOf(step, places) !== 1) step--;
  return step;
});

const ALL_PLACES = Array.from({ length: PLACES_PER_AXIS ** 2 + 1 }, (_, count) =>
  Array.from({ length: count }, (__, i) => i),
);

/** Numbers of the places of a texel that are sampled. @param buried bits of those that are not */
const openPlaces = (buried: number, count: number): readonly number[] =>
  buried === 0 ? ALL_PLACES[count]! : ALL_PLACES[count]!.filter((place) => (buried & (1 << place)) === 0);

/** The place that a sample is taken at: neighbours in number lie far apart, and each comes as often. */
function placeOf(sample: number, places: number): number {
  const step = STEPS[places] ?? 1;
  return (sample * step + (places >> 1)) % places;
}

function divisorOf(a: number, b: number): number {
  return b === 0 ? a : divisorOf(b, a % b);
}
