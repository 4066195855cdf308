import { buildBvh, bvhTracer, sceneOf, type Bvh, type Scene, type Tracer } from '@zographos/core';
import type { RunMesh } from './context.ts';

export interface BuiltScene {
  scene: Scene;
  bvh: Bvh;
  tracer: Tracer;
}

/** Scenes kept: baking part after part from the same sources need not build the tree again. */
const KEPT = 2;

const cache = new Map<string, BuiltScene>();

/** The scene of some sources with its tree, from the cache if the same content was used lately. */
export function builtScene(sources: readonly RunMesh[], onProgress: (share: number) => void): BuiltScene {
  const key = sources.map((source) => source.hash).join();
  let built = cache.get(key);
  if (!built) {
    const scene = sceneOf(sources.map((source) => source.mesh));
    const bvh = buildBvh(scene, onProgress);
    built = { scene, bvh, tracer: bvhTracer(bvh) };
  }
  // Taken out and put back in, the most recent stands last.
  cache.delete(key);
  cache.set(key, built);
  for (const oldest of cache.keys()) {
    if (cache.size <= KEPT) break;
    cache.delete(oldest);
  }
  return built;
}
