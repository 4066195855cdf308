import { sharedInt32 } from '@zographos/core/shared-arrays';
import { bellBuoyDense, bellBuoyLight } from '@zographos/demo';
import { DEFAULT_BAKE, type BakePassSettings, type BakeReport } from '@zographos/operations';
import { runBake } from '@zographos/operations/bake';
import { millions, type Figures } from './figures.ts';

const SIZES = [512, 1024, 2048, 4096, 8192];
const SAMPLES = 2;
const inputs = {
  receivers: [{ hash: 'light', mesh: bellBuoyLight() }],
  sources: [{ hash: 'dense', mesh: bellBuoyDense() }],
};

/** Bakes the demo's buoy. @returns the report, and the seconds until there was something to see */
async function bake(
  side: number,
  settings: Partial<BakePassSettings>,
  threads = 2,
): Promise<BakeReport & { firstSeen: number }> {
  const since = performance.now();
  let firstSeen = 0;
  const { report } = await runBake({
    settings: {
      ...DEFAULT_BAKE,
      size: { width: side, height: side },
      samples: SAMPLES,
      reach: { out: 14, in: 8 },
      prove: false,
      ...settings,
    },
    inputs,
    threads,
    memoryLimitBytes: Infinity,
    cancelFlag: sharedInt32(1),
    loadSeconds: 0,
    onProgress: () => {},
    onCanvas: ({ draft }) => {
      if (draft) firstSeen ||= (performance.now() - since) / 1000;
    },
  });
  return { ...report, firstSeen };
}

/** The report of the quickest of several bakes: what the machine can do when nothing else disturbs it. */
async function bestOf<Report extends BakeReport>(
  times: number,
  work: () => Promise<Report>,
  by: 'trace' | 'total' = 'trace',
): Promise<Report> {
  let best = await work();
  for (let i = 1; i < times; i++) {
    const next = await work();
    if (next.seconds[by] < best.seconds[by]) best = next;
  }
  return best;
}

/** Whole bakes of the demo's buoy; the tree is built once and stays, as in a worker. */
export async function benchBakes(say: (line: string) => void): Promise<Figures> {
  say(`bell buoy, ${inputs.sources[0]!.mesh.indices.length / 3} source triangles, ${SAMPLES} × ${SAMPLES} samples`);
  const draft = (await bake(2048, { samples: 4 })).firstSeen;
  say(`  first draft of the demo's normal map, tree and all: after ${draft.toFixed(2)} s`);
  return {
    firstDraftSeconds: draft,
    sizes: await bySize(say),
    threads: await byThreads(say),
    occlusion: await occlusion(say),
    proof: await withProof(say),
  };
}

async function bySize(say: (line: string) => void): Promise<Figures> {
  const figures: Figures = {};
  let perTexel = 0;
  for (const side of SIZES) {
    const settings: Partial<BakePassSettings> = side === 8192 ? { maps: ['normal', 'height'] } : {};
    const report = await bestOf(side === 8192 ? 1 : 3, () => bake(side, settings));
    const { build, trace, pad } = report.seconds;
    const each = trace / report.rays;
    perTexel ||= each;
    figures[side] = {
      rays: report.rays,
      buildSeconds: build,
      traceSeconds: trace,
      padSeconds: pad,
      timePerRayAgainstSmallest: each / perTexel,
      peakMemoryBytes: report.peakMemoryBytes,
    };
    say(
      `  ${side} px${side === 8192 ? ', normal and height' : ''}: trace ${trace.toFixed(2)} s ` +
        `(${millions(report.rays / trace)} million rays/s, ${(each / perTexel).toFixed(2)} × the time per ray at ` +
        `${SIZES[0]} px), pad ${pad.toFixed(2)} s, peak ${(report.peakMemoryBytes / 1e9).toFixed(2)} GB`,
    );
  }
  return figures;
}

async function byThreads(say: (line: string) => void): Promise<Figures> {
  const side = 2048;
  const best = async (threads: number): Promise<number> =>
    (await bestOf(3, () => bake(side, {}, threads))).seconds.trace;
  const one = await best(1);
  const two = await best(2);
  say(
    `  ${side} px: one thread ${one.toFixed(2)} s, two ${two.toFixed(2)} s: ${Math.round((one / two / 2) * 100)} % efficient`,
  );
  return { one, two, efficiency: one / two / 2 };
}

async function occlusion(say: (line: string) => void): Promise<Figures> {
  const { seconds, rays } = await bestOf(2, () => bake(1024, { maps: ['ao'], samples: 1 }));
  const cast = rays * 65;
  say(
    `  1024 px, 1 sample, 64 occlusion rays: trace ${seconds.trace.toFixed(2)} s (${millions(cast / seconds.trace)} million rays/s)`,
  );
  return { traceSeconds: seconds.trace, raysPerSecond: cast / seconds.trace };
}

/** What it costs to prove a bake. */
async function withProof(say: (line: string) => void): Promise<Figures> {
  const total = async (prove: boolean): Promise<number> =>
    (await bestOf(3, () => bake(2048, { prove }), 'total')).seconds.total;
  const ratio = (await total(true)) / (await total(false));
  say(`  2048 px: with its proof ${ratio.toFixed(2)} × the time without`);
  return { ratio };
}
