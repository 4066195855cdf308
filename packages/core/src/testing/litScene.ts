import type { SourceMaterials } from '../bake/source/sourceMaterials.ts';
import { boundsOf, diagonal } from '../mesh/bounds.ts';
import { PLAIN_MATERIAL, type Material } from '../mesh/material.ts';
import type { Mesh } from '../mesh/mesh.ts';
import { sceneOf } from '../trace/scene.ts';
import { emittersOf, type LightScene } from '../light/lightScene.ts';

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
