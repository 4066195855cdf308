import { planBlocks, type Receiver } from '@zographos/core/bake';
import { accumulatedPerTexel, GUIDES, type LightWork } from '@zographos/core/light';
import type { Size } from '@zographos/core/math';
import { sharedFloat32, sharedUint16, sharedUint8 } from '@zographos/core/shared-arrays';
import { BlockPool, type BlockShare } from '../../threads/blockPool.ts';
import type { KernelTree } from '@zographos/core/trace';
import { measured } from './lightPasses.ts';
import type { LitScene } from '../scene/litScene.ts';
import type { LightSettings } from '../settings.ts';

/** Everything a thread needs to take part; all arrays are shared memory. */
export interface LightJob {
  work: LightWork;
  tree: KernelTree;
  /** Numbers of the samples to take, the last not among them. */
  from: number;
  to: number;
}
export type LightShare = LightJob & BlockShare;
/** What a thread has done: rays it has cast, and texels that lie in two triangles at once. */
export interface LightAnswer {
  cast: number;
  overlapping: number;
}

const pool = new BlockPool<LightJob, LightAnswer>('./lightThread', import.meta.url);

/** Ends the warm threads, so that the process can end. */
export const closeLightPool = (): Promise<void> => pool.close();

/** Starts the threads that are going to be needed. */
export const warmLightPool = (threads: number): void => pool.warmUp(threads);

/** Samples of the first round; each further one takes three times as many as there are. */
const ROUND = 4;

/** What a tile has taken. */
export interface Taken {
  samples: number;
  rays: number;
  overlapping: number;
}

/** An empty tile to be lit. @param receiver moved so that the tile is 0 to 1 */
export function tileWork(
  { light, laid, islandOf, groups, pathSettings }: LitScene,
  receiver: Receiver,
  size: Size,
  settings: LightSettings,
): LightWork {
  const texels = size.width * size.height;
  return {
    ...{ light, laid, receiver, firstTriangle: 0, islandOf },
    plan: planBlocks(receiver.uvs, receiver.indices, size),
    settings: {
      ...pathSettings,
      ...{ groups: groups.length, seed: settings.seed },
      seesSky: settings.passes.includes('sky'),
    },
    target: {
      sums: sharedFloat32(texels * accumulatedPerTexel(groups.length)),
      differences: sharedFloat32(texels),
      states: sharedUint8(texels),
      islands: sharedUint16(texels),
      buried: sharedUint16(texels),
      guides: settings.denoise > 0 ? sharedFloat32(texels * GUIDES) : null,
    },
  };
}

/**
 * Takes samples of a tile in rounds that grow, until there are as many as asked for or the noise is low enough.
 * @param onRound told after each round how many samples there are @param onShare told how much is done, 0 to 1
 * @throws run/cancelled
 */
export async function traceTile(
  work: LightWork,
  tree: KernelTree,
  { samples, noise }: Pick<LightSettings, 'samples' | 'noise'>,
  { threads, cancelFlag }: { threads: number; cancelFlag: Int32Array },
  onShare: (share: number) => void = () => {},
  onRound: (samples: number) => void = () => {},
): Promise<Taken> {
  const { plan } = work;
  let [rays, overlapping, taken] = [0, 0, 0];
  const isSure = (): boolean => noise > 0 && taken > ROUND && measured(work, taken).noise <= noise;
  while (taken < samples && !isSure()) {
    const from = taken;
    const to = Math.min(samples, from === 0 ? ROUND : from * 4);
    const answers = await pool.run({ work, tree, from, to }, plan.columns * plan.rows, threads, cancelFlag, (share) =>
      onShare((from + (to - from) * share) / samples),
    );
    rays += answers.reduce((sum, { cast }) => sum + cast, 0);
    if (from === 0) overlapping = answers.reduce((sum, answer) => sum + answer.overlapping, 0);
    taken = to;
    onRound(taken);
  }
  return { samples: taken, rays, overlapping };
}
