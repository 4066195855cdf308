import type { SourceMaterials } from '../bake/source/sourceMaterials.ts';
import { MaterialReader } from '../bake/source/sourceMaterials.ts';
import { prepareReceiver } from '../bake/receiver.ts';
import { boundsOf, diagonal } from '../mesh/bounds.ts';
import { PLAIN_MATERIAL, type Material } from '../mesh/material.ts';
import type { Mesh } from '../mesh/mesh.ts';
import { buildBvh } from '../trace/bvh.ts';
import { bvhTracer } from '../trace/bvhTracer.ts';
import { sceneOf } from '../trace/scene.ts';
import { emittersOf, type LightScene } from '../light/lightScene.ts';
import { accumulatedPerTexel } from '../light/passes.ts';
import { pathStarts, PATHS, PathTracer } from '../light/pathTracer.ts';
import { reliefPlane } from './shapes.ts';
import { SurfaceReader } from '../light/surfaceReader.ts';

/** A surface of light alone: what it reflects diffusely, and what it sends. */
export const matt = (reflectance: number, radiance = 0): Material => ({
  ...PLAIN_MATERIAL,
  lit: {
    reflectance: [reflectance, reflectance, reflectance],
    radiance: [radiance, radiance, radiance],
    isDiffuse: true,
  },
});

/** Meshes of one material each, with what else lights them. */
export function litScene(
  parts: readonly (readonly [Mesh, Material])[],
  lights: Partial<Pick<LightScene, 'suns' | 'points' | 'environment' | 'environmentGroup' | 'groupOf'>> = {},
): LightScene {
  const meshes = parts.map(([mesh]) => mesh);
  const scene = sceneOf(meshes);
  const materials: SourceMaterials = {
    materials: parts.map(([, material]) => material),
    ofTriangle: Uint16Array.from(meshes.flatMap(({ indices }, m) => Array<number>(indices.length / 3).fill(m))),
    pictures: [],
    uvSets: [new Float32Array((scene.positions.length / 3) * 2)],
    colors: null,
    tangents: null,
  };
  return {
    ...{ scene, materials, emitters: emittersOf(scene, materials), extent: diagonal(boundsOf(scene.positions)) },
    oneSided: Uint8Array.from(parts, ([, material]) => (material.lit?.isOneSided ? 1 : 0)),
    ...{ groupOf: new Uint8Array(parts.length), suns: [], points: [], environment: null, environmentGroup: 0 },
    ...lights,
  };
}

/** What a place of a triangle sends to an eye, and all that is counted there: the mean of so many samples. */
export function lightAt(
  scene: LightScene,
  { triangle, weights = [1 / 3, 1 / 3], eye, seed = 1 }: Place,
  { samples = PATHS, bounces = 64, groups = 1 }: { samples?: number; bounces?: number; groups?: number } = {},
): Float64Array {
  const tracer = bvhTracer(buildBvh(scene.scene));
  const { positions, normals, indices } = scene.scene;
  const receiver = prepareReceiver([{ mesh: reliefPlane('receiver', 1, 1), group: 0 }], 0);
  const reader = new MaterialReader(scene.materials, scene.scene, receiver, { width: 1, height: 1 }, 1);
  const paths = new PathTracer(scene, tracer, new SurfaceReader(scene, reader), bounces);
  const starts = pathStarts(PATHS);
  const stride = accumulatedPerTexel(groups);
  const counted = new Float64Array(stride);
  const [wb, wc] = weights;
  const mix = (values: Float32Array, k: number): number =>
    values[indices[triangle * 3]! * 3 + k]! * (1 - wb - wc) +
    values[indices[triangle * 3 + 1]! * 3 + k]! * wb +
    values[indices[triangle * 3 + 2]! * 3 + k]! * wc;
  const normal = [0, 1, 2].map((k) => mix(normals, k));
  const length = Math.hypot(...normal);
  const towards = eye ?? normal.map((value) => value / length);
  for (let done = 0; done < samples;) {
    starts.count = Math.min(PATHS, samples - done);
    for (let p = 0; p < starts.count; p++) {
      for (let k = 0; k < 3; k++) {
        starts.positions[p * 3 + k] = mix(positions, k);
        starts.normals[p * 3 + k] = normal[k]! / length;
        starts.eyes[p * 3 + k] = towards[k]!;
      }
      starts.triangles[p] = triangle;
      starts.weights[p * 2] = wb;
      starts.weights[p * 2 + 1] = wc;
      starts.samples[p] = done + p;
      starts.seeds[p] = seed;
    }
    paths.trace(starts, counted, stride);
    done += starts.count;
  }
  return counted.map((value) => value / samples);
}

interface Place {
  triangle: number;
  weights?: readonly [number, number];
  /** Unit direction of the eye; the normal if left out. */
  eye?: readonly number[];
  seed?: number;
}
