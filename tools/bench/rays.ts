import { BufferAttribute, BufferGeometry, FrontSide, Ray } from 'three';
import { MeshBVH, SAH } from 'three-mesh-bvh';
import type { Mesh } from '@zographos/core/mesh';
import { hitBatch, sceneOf, type RayBatch } from '@zographos/core/trace';
import { buildSceneTree, tracersOn } from '@zographos/operations/scene';
import { bestSeconds, millions, seconds, type Figures } from './figures.ts';
import { occlusionRays, projectionRays, rayMeshes, wavySphere } from './workloads.ts';

const RAYS = 512 * 1024;
const REFERENCE_RAYS = 64 * 1024;

/** Building and tracing against the package three-mesh-bvh on the same meshes and rays. */
export async function benchRays(say: (line: string) => void): Promise<Figures> {
  const figures: Figures = {};
  for await (const mesh of rayMeshes()) {
    const scene = sceneOf([mesh]);
    let tree = buildSceneTree(scene, 1);
    const build = await bestSeconds(2, () => (tree = buildSceneTree(scene, 1)));
    let reference: MeshBVH | undefined;
    const referenceBuild = await seconds(() => (reference = referenceTree(mesh)));
    const tracer = tracersOn(tree, 0)[0]!;
    const of: Figures = { triangles: mesh.indices.length / 3, buildSeconds: build, buildRatio: referenceBuild / build };
    say(`${mesh.name}, ${mesh.indices.length / 3} triangles`);
    say(`  build       ${build.toFixed(2)} s, ${(referenceBuild / build).toFixed(1)} × three-mesh-bvh (SAH)`);

    for (const [kind, rays] of [
      ['projection', projectionRays(mesh, RAYS)],
      ['occlusion', occlusionRays(mesh, RAYS)],
    ] as const) {
      const hits = hitBatch(rays.count);
      const blocked = new Uint8Array(rays.count);
      const ours = await bestSeconds(4, () =>
        kind === 'projection' ? tracer.closestHits(rays, hits, 'ignore') : tracer.anyHits(rays, blocked, 'ignore'),
      );
      const theirs = await bestSeconds(2, () => castReference(reference!, rays, REFERENCE_RAYS));
      const rate = rays.count / ours;
      const ratio = rate / (REFERENCE_RAYS / theirs);
      of[kind] = { raysPerSecond: rate, ratio };
      say(`  ${kind}  ${millions(rate)} million rays/s and thread, ${ratio.toFixed(1)} × three-mesh-bvh`);
    }
    figures[mesh.name] = of;
  }
  figures['bySize'] = await bySize(say);
  return figures;
}

/** How the cost of building and of a ray grows with the source. */
async function bySize(say: (line: string) => void): Promise<Figures> {
  const figures: Figures = {};
  for (const triangles of [10_000, 100_000, 1_000_000, 4_000_000]) {
    const mesh = wavySphere(Math.round(Math.sqrt(triangles / 2)));
    const scene = sceneOf([mesh]);
    let tree = buildSceneTree(scene, 1);
    const build = await bestSeconds(triangles > 1e6 ? 1 : 2, () => (tree = buildSceneTree(scene, 1)));
    const tracer = tracersOn(tree, 0)[0]!;
    const hits = hitBatch(RAYS);
    const blocked = new Uint8Array(RAYS);
    const projection = projectionRays(mesh, RAYS);
    const occlusion = occlusionRays(mesh, RAYS);
    const closest = RAYS / (await bestSeconds(3, () => tracer.closestHits(projection, hits, 'ignore')));
    const blockedRate = RAYS / (await bestSeconds(3, () => tracer.anyHits(occlusion, blocked, 'ignore')));
    figures[triangles] = { buildSeconds: build, projectionPerSecond: closest, occlusionPerSecond: blockedRate };
    say(
      `${triangles} triangles: build ${build.toFixed(2)} s, ${millions(closest)} million projection and ` +
        `${millions(blockedRate)} million occlusion rays/s and thread`,
    );
  }
  return figures;
}

function referenceTree(mesh: Mesh): MeshBVH {
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(mesh.positions, 3));
  geometry.setIndex(new BufferAttribute(mesh.indices.slice(), 1));
  return new MeshBVH(geometry, { strategy: SAH });
}

function castReference(tree: MeshBVH, { origins, directions, lengths }: RayBatch, count: number): number {
  const ray = new Ray();
  let found = 0;
  for (let r = 0; r < count; r++) {
    ray.origin.fromArray(origins, r * 3);
    ray.direction.fromArray(directions, r * 3);
    if (tree.raycastFirst(ray, FrontSide, 0, lengths[r])) found++;
  }
  return found;
}
