import { MaterialReader } from '../../src/bake/source/sourceMaterials.ts';
import { layLight } from '../../src/light/lightMemory.ts';
import type { LightScene } from '../../src/light/lightScene.ts';
import { accumulatedPerTexel } from '../../src/light/passes.ts';
import { PATHS } from '../../src/light/pathRoom.ts';
import { PathTracer } from '../../src/light/pathTracer.ts';
import { SurfaceReader } from '../../src/light/surfaceReader.ts';
import { kernelOver } from './loadKernel.ts';

/** A place of a triangle, and from where it is seen. */
export interface Place {
  triangle: number;
  weights?: readonly [number, number];
  /** Unit direction of the eye; the normal if left out. */
  eye?: readonly number[];
  seed?: number;
  /** Of the sample, in mesh units. */
  width?: number;
}

/** What a place sends to an eye, and all that is counted there: the mean of so many samples. */
export function lightAt(
  light: LightScene,
  { triangle, weights = [1 / 3, 1 / 3], eye, seed = 1, width = 0 }: Place,
  { samples = PATHS, bounces = 64, groups = 1 }: { samples?: number; bounces?: number; groups?: number } = {},
): Float64Array {
  const { scene } = light;
  const { kernel, tree } = kernelOver(scene);
  const reader = new MaterialReader(light.materials, scene, Float32Array.of(0));
  const stride = accumulatedPerTexel(groups);
  const [wb, wc] = weights;
  const at = [0, 1, 2].map((k) =>
    [1 - wb - wc, wb, wc].reduce(
      (sum, weight, corner) => sum + weight * scene.positions[scene.indices[triangle * 3 + corner]! * 3 + k]!,
      0,
    ),
  );
  const place = [0, 1, 2].map((k) => at[k]! + (eye?.[k] ?? 0)) as [number, number, number];
  const laid = layLight(
    tree,
    kernel,
    light,
    { seenFrom: eye ? { from: 'eye', place } : { from: 'normal' }, faces: 'both', bounces, samples },
    { countedDoubles: stride, stride },
  );
  const paths = new PathTracer(tree, kernel, laid, 0, stride, new SurfaceReader(light, reader, laid), false);
  const { starts, counted } = paths;
  for (let done = 0; done < samples;) {
    const count = Math.min(PATHS, samples - done);
    starts.triangles.fill(triangle, 0, count);
    starts.slots.fill(0, 0, count);
    starts.widths.fill(width, 0, count);
    starts.seeds.fill(seed, 0, count);
    for (let p = 0; p < count; p++) {
      starts.weights.set(weights, p * 2);
      starts.samples[p] = done + p;
    }
    paths.trace(count);
    done += count;
  }
  return counted.map((value) => value / samples);
}
