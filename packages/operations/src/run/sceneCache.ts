import { sceneOf, type Scene, type Tracer } from '@zographos/core';
import type { RunMesh } from './context.ts';
import { buildSceneTree, tracerOn, type SceneTree } from './sceneTree.ts';

export interface BuiltScene {
  scene: Scene;
  tree: SceneTree;
  /** For the thread that built it; others have numbers from 1. */
  tracer: Tracer;
}

/** Scenes kept: baking part after part from the same sources need not build the tree again. */
const KEPT = 2;

const cache = new Map<string, BuiltScene>();

/**
 * The scene of some sources with its tree, from the cache if the same content was used lately.
 * @param threads how many further threads will trace it
 */
export function builtScene(
  sources: readonly RunMesh[],
  threads: number,
  onProgress: (share: number) => void,
): BuiltScene {
  const key = [threads, ...sources.map((source) => source.hash)].join();
  let built = cache.get(key);
  if (!built) {
    const scene = sceneOf(sources.map((source) => source.mesh));
    const tree = buildSceneTree(scene, threads + 1, onProgress);
    built = { scene, tree, tracer: tracerOn(tree, 0) };
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
