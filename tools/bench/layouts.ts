import type { Mesh } from '@zographos/core/mesh';
import { sharedInt32 } from '@zographos/core/shared-arrays';
import { findOverlaps, islandNumbers, layoutOf } from '@zographos/core/uv';
import { bellBuoyLight } from '@zographos/demo';
import { encodeImage } from '@zographos/formats/images';
import { layoutSettings, type LayoutSettings } from '@zographos/operations';
import { bakeTicket, transferSettings } from '@zographos/operations/bake';
import { layOutOnThread } from '@zographos/operations/layout';
import { bestSeconds, seconds, type Figures } from './figures.ts';
import { wavySphere } from './workloads.ts';

const settings = (method: LayoutSettings['method']): LayoutSettings =>
  layoutSettings.parse({ method, size: { width: 2048, height: 2048 }, gap: 4, edge: 4, passes: 1 });

/** Unwrapping and packing, the overlap test, and carrying a map over. */
export async function benchLayouts(say: (line: string) => void): Promise<Figures> {
  const figures: Figures = {};
  let before = 0;
  for (const triangles of [20_000, 200_000]) {
    const mesh = wavySphere(Math.round(Math.sqrt(triangles / 2)));
    let laidOut: Mesh[] = [];
    const unwrapped = await seconds(async () => (laidOut = (await layOutOnThread([mesh], settings('unwrap'))).meshes));
    let coverage = 0;
    const packed = await seconds(async () => (coverage = (await layOutOnThread(laidOut, settings('pack'))).coverage));
    const growth = before > 0 ? `, ${(unwrapped / before).toFixed(1)} × the time of the one before` : '';
    before = unwrapped;
    figures[triangles] = { unwrapAndPackSeconds: unwrapped, packSeconds: packed, coverage };
    say(
      `${triangles} triangles: cut, laid flat and packed in ${unwrapped.toFixed(1)} s${growth}; packed alone in ${packed.toFixed(1)} s, ${(coverage * 100).toFixed(0)} % covered`,
    );
  }
  const dense = wavySphere(707);
  const layout = layoutOf(dense, 0);
  const islands = islandNumbers(layout);
  const overlaps = await bestSeconds(2, () => void findOverlaps(layout, islands));
  say(`overlap test of ${layout.indices.length / 3} triangles: ${overlaps.toFixed(2)} s`);
  return { ...figures, overlapSeconds: overlaps, transferSeconds: await benchTransfer(say) };
}

async function benchTransfer(say: (line: string) => void): Promise<Figures> {
  const old = bellBuoyLight();
  const fresh = (await layOutOnThread([old], settings('unwrap'))).meshes[0]!;
  const image = {
    width: 2048,
    height: 2048,
    channels: 3,
    data: new Float32Array(2048 * 2048 * 3).map((_, i) => (i % 251) / 250),
  };
  const picture = { name: 'old.png', hash: 'old', bytes: await encodeImage(image, 'png8') };
  const figures: Figures = {};
  for (const side of [1024, 4096]) {
    const took = await seconds(() =>
      bakeTicket({
        settings: transferSettings([fresh], [old], [{ kind: 'basecolor', pick: null }], {
          ...{ size: { width: side, height: side }, padding: 16, samples: 2, uvSet: 0, sourceUvSet: 0 },
          ...{ wrap: 'repeat', aim: 'auto', reach: 'auto', normalY: 'up' },
        }),
        inputs: { receivers: [{ mesh: fresh, hash: 'fresh' }], sources: [{ mesh: old, hash: 'old' }] },
        pictures: [picture],
        ...{ threads: 2, memoryLimitBytes: Infinity, cancelFlag: sharedInt32(1), loadSeconds: 0 },
        onProgress: () => {},
      }),
    );
    figures[side] = took;
    say(`a colour map carried over at ${side} px, 2 × 2 samples, reading it and all: ${took.toFixed(1)} s`);
  }
  return figures;
}
