import { BlockBaker } from '../bake/blockBaker.ts';
import { planBlocks } from '../bake/blocks.ts';
import { prepareReceiver } from '../bake/receiver.ts';
import type { BakeSettings } from '../bake/settings.ts';
import type { BakeStatistics } from '../bake/statistics.ts';
import type { Mesh } from '../mesh/mesh.ts';
import { buildBvh } from '../trace/bvh.ts';
import { bvhTracer } from '../trace/bvhTracer.ts';
import { sceneOf } from '../trace/scene.ts';

export interface BakedNormals {
  normal: Float32Array;
  states: Uint8Array;
  statistics: BakeStatistics;
}

/** A whole bake in the simplest way, for tests. */
export function bakeOnOneThread(receiver: Mesh, sources: Mesh[], settings: BakeSettings): BakedNormals {
  const scene = sceneOf(sources);
  const prepared = prepareReceiver(receiver, 0);
  const plan = planBlocks(prepared.uvs, prepared.indices, settings.size);
  const texels = settings.size.width * settings.size.height;
  const target = { normal: new Float32Array(texels * 3), states: new Uint8Array(texels) };
  const baker = new BlockBaker(scene, bvhTracer(buildBvh(scene)), prepared, plan, settings, target);
  for (let block = 0; block < plan.columns * plan.rows; block++) baker.bake(block);
  return { ...target, statistics: baker.statistics };
}
