import { BlockBaker } from '../bake/blockBaker.ts';
import { planBlocks } from '../bake/coverage/blocks.ts';
import type { SourceAttributes } from '../bake/maps/mapBakers.ts';
import { prepareReceiver } from '../bake/receiver.ts';
import { describeKind } from '../image/kindMeaning.ts';
import type { BakedKind } from '../image/mapKinds.ts';
import { OPEN_SKY, USUAL_SUN, type BakeSettings } from '../bake/settings.ts';
import type { BakeStatistics } from '../bake/statistics.ts';
import { boundsOf, diagonal } from '../mesh/bounds.ts';
import type { Mesh } from '../mesh/mesh.ts';
import { buildBvh } from '../trace/bvh.ts';
import { bvhTracer } from '../trace/bvhTracer.ts';
import { NearestPlace } from '../trace/nearestPlace.ts';
import { sceneOf, type Scene } from '../trace/scene.ts';
import type { Tracers } from '../bake/source/surface.ts';
import { setReach } from '../bake/rays/vertexReach.ts';

export interface Baked {
  maps: Partial<Record<BakedKind, Float32Array>>;
  states: Uint8Array;
  statistics: BakeStatistics;
}

/** Settings for tests: a normal map of a square, as far as nothing else is said. */
export function testSettings(side: number, change: Partial<BakeSettings> = {}): BakeSettings {
  return {
    maps: ['normal'],
    size: { width: side, height: side },
    reach: { out: 0.2, in: 0.2 },
    samplesPerAxis: 1,
    normal: { space: 'tangent', y: 'up', axes: 'xyz' },
    aim: 'rays',
    gradient: [0, 1, 0],
    sky: OPEN_SKY,
    sun: USUAL_SUN,
    prove: false,
    backFaces: 'ignore',
    occlusion: { rays: 64, spread: 'cosine', distance: Infinity, fallOff: false, twoSided: true },
    seed: 0,
    ...change,
  };
}

function tracersOf(scene: Scene): Tracers {
  const bvh = buildBvh(scene);
  return { groups: [bvhTracer(bvh)], occluders: null, nearest: [new NearestPlace(bvh)], samples: null };
}

/** A whole bake in the simplest way, for tests. */
export function bakeOnOneThread(
  receiver: Mesh,
  sources: Mesh[],
  settings: BakeSettings,
  attributes: Partial<SourceAttributes> = {},
  cage: Mesh | null = null,
): Baked {
  const scene = sceneOf(sources);
  const prepared = prepareReceiver([{ mesh: receiver, group: 0, cage: cage ?? undefined }], 0);
  setReach(prepared, settings.reach);
  const plan = planBlocks(prepared.uvs, prepared.indices, settings.size);
  const texels = settings.size.width * settings.size.height;
  const target = {
    maps: settings.maps.map((kind) => new Float32Array(texels * describeKind(kind).channels)),
    states: new Uint8Array(texels),
    islands: null,
  };
  const work = {
    scene,
    attributes: { extent: diagonal(boundsOf(scene.positions)), ...attributes },
    receiver: prepared,
    plan,
    islandOf: null,
    settings,
    target,
    done: null,
    byBlock: false,
  };
  const baker = new BlockBaker(work, tracersOf(scene));
  for (let block = 0; block < plan.columns * plan.rows; block++) baker.bake(block);
  return {
    maps: Object.fromEntries(settings.maps.map((kind, i) => [kind, target.maps[i]!])),
    states: target.states,
    statistics: baker.counts.sum,
  };
}
