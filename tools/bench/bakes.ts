import os from 'node:os';
import { sharedInt32 } from '@zographos/core';
import { bellBuoyDense, bellBuoyLight } from '@zographos/demo';
import { DEFAULT_BAKE } from '@zographos/operations';
import { runBake } from '@zographos/operations/run';
import { millions, type Figures } from './figures.ts';

const SIZES = [512, 1024, 2048, 4096];
const SAMPLES = 2;

/** Whole bakes of the demo's buoy from 512 to 4096 px; the tree is built once and stays, as in a worker. */
export async function benchBakes(say: (line: string) => void): Promise<Figures> {
  const inputs = {
    receivers: [{ hash: 'light', mesh: bellBuoyLight() }],
    sources: [{ hash: 'dense', mesh: bellBuoyDense() }],
  };
  say(`bell buoy, ${inputs.sources[0]!.mesh.indices.length / 3} source triangles, ${SAMPLES} × ${SAMPLES} samples`);
  const figures: Figures = {};
  let perTexel = 0;
  for (const side of SIZES) {
    const { report } = await runBake({
      settings: { ...DEFAULT_BAKE, size: { width: side, height: side }, samples: SAMPLES, reach: { out: 14, in: 8 } },
      inputs,
      threads: os.availableParallelism(),
      memoryLimitBytes: Infinity,
      cancelFlag: sharedInt32(1),
      loadSeconds: 0,
      onProgress: () => {},
    });
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
      `  ${side} px: build ${build.toFixed(2)} s, trace ${trace.toFixed(2)} s (${millions(report.rays / trace)} million rays/s, ` +
        `${(each / perTexel).toFixed(2)} × the time per ray at ${SIZES[0]} px), pad ${pad.toFixed(2)} s, ` +
        `peak ${(report.peakMemoryBytes / 1e9).toFixed(2)} GB`,
    );
  }
  return figures;
}
