import { sceneOf, wholeScene, type Scene, type Tracer, type TriangleRange } from '@zographos/core/trace';
import type { RunMesh } from './runMesh.ts';
import { buildPlainTrees, buildSceneTree, tracersOn, type PlainTree, type SceneTree } from './sceneTree.ts';

export interface BuiltScene {
  scene: Scene;
  tree: SceneTree;
  /** For the thread that built it, one for each group; others have numbers from 1. */
  tracers: Tracer[];
  /** Trees in which the nearest place can be found; built when first asked for. */
  nearest: () => PlainTree[];
}

/** Scenes kept: baking part after part from the same sources need not build the tree again. */
const KEPT = 3;

const cache = new Map<string, BuiltScene>();

/**
 * The scene of some sources with its trees, from the cache if the same content was used lately.
 * @param groups the sources of each group, each with a tree of its own
 * @param threads how many further threads will trace it
 */
export function builtScene(
  groups: readonly (readonly RunMesh[])[],
  threads: number,
  onProgress: (share: number) => void = () => {},
): BuiltScene {
  const key = [threads, ...groups.map((group) => group.map(({ hash }) => hash).join())].join(';');
  let built = cache.get(key);
  if (!built) {
    const scene = sceneOf(groups.flat().map((source) => source.mesh));
    const ranges = rangesOf(groups);
    const whole = ranges.length > 0 ? ranges : [wholeScene(scene)];
    const tree = buildSceneTree(scene, threads + 1, onProgress, whole);
    let nearest: PlainTree[] | null = null;
    built = {
      scene,
      tree,
      tracers: tracersOn(tree, 0),
      nearest: () => (nearest ??= buildPlainTrees(scene, whole, onProgress)),
    };
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

function rangesOf(groups: readonly (readonly RunMesh[])[]): TriangleRange[] {
  let from = 0;
  return groups.map((group) => {
    const to = group.reduce((sum, { mesh }) => sum + mesh.indices.length / 3, from);
    const range = { from, to };
    from = to;
    return range;
  });
}
