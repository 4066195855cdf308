import { afterAll, describe, expect, it } from 'vitest';
import type { ZographosError } from '@zographos/core/errors';
import { BAKED_KINDS, describeKind } from '@zographos/core/image';
import { smoothNormals, type Mesh } from '@zographos/core/mesh';
import { DEFAULT_BAKE, type BakePassSettings } from './settings.ts';
import { closeBakePool, runBake, type BakeContext } from './bakeMaps.ts';

afterAll(closeBakePool);

/** A grid over −1 … 1 with hills `height` high, facing up, UVs over the tile. */
function hills(name: string, cells: number, height: number): Mesh {
  const side = cells + 1;
  const positions = new Float32Array(side * side * 3);
  const coords = new Float32Array(side * side * 2);
  for (let v = 0; v < side * side; v++) {
    const [u, w] = [(v % side) / cells, Math.floor(v / side) / cells];
    positions.set([u * 2 - 1, w * 2 - 1, height * Math.sin(u * 23) * Math.cos(w * 19)], v * 3);
    coords.set([u, w], v * 2);
  }
  const indices: number[] = [];
  for (let j = 0; j < cells; j++) {
    for (let i = 0; i < cells; i++) {
      const a = j * side + i;
      indices.push(a, a + 1, a + side + 1, a, a + side + 1, a + side);
    }
  }
  const corners = Uint32Array.from(indices);
  return {
    name,
    positions,
    normals: smoothNormals(positions, corners),
    uvSets: [{ name: 'UV 1', coords }],
    colors: null,
    indices: corners,
    slots: ['default'],
    triangleSlots: new Uint16Array(indices.length / 3),
  };
}

function context(receiver: Mesh, source: Mesh, settings: Partial<BakePassSettings> = {}): BakeContext {
  return {
    settings: {
      ...DEFAULT_BAKE,
      size: { width: 128, height: 128 },
      samples: 2,
      reach: { out: 0.1, in: 0.1 },
      ...settings,
    },
    inputs: {
      receivers: [{ hash: receiver.name, mesh: receiver }],
      sources: [{ hash: `${source.name}${source.positions.length}${source.positions[2]}`, mesh: source }],
    },
    threads: 1,
    memoryLimitBytes: 8e9,
    cancelFlag: new Int32Array(new SharedArrayBuffer(4)),
    loadSeconds: 0,
    onProgress: () => {},
  };
}

const light = hills('light', 2, 0);
const dense = hills('dense', 120, 0.04);

async function failureOf(run: BakeContext): Promise<ZographosError> {
  return runBake(run).then(
    () => {
      throw new Error('The bake should have failed.');
    },
    (error: unknown) => error as ZographosError,
  );
}

describe('a bake', () => {
  it('gives the same bytes for any number of threads, and again', async () => {
    const one = await runBake(context(light, dense));
    for (const threads of [2, 3, 1]) {
      const more = await runBake({ ...context(light, dense), threads });
      expect(more.maps[0]!.image.data).toEqual(one.maps[0]!.image.data);
      expect(more.maps[0]!.states).toEqual(one.maps[0]!.states);
      expect(more.report.hitDistances).toEqual(one.report.hitDistances);
    }
    expect(one.report).toMatchObject({ rays: 128 * 128 * 4, misses: 0, texels: { covered: 128 * 128, missed: 0 } });
  });

  it('measures the reach when it is left open', async () => {
    const { report } = await runBake(context(light, dense, { reach: 'auto' }));
    expect(report.reach.out).toBeGreaterThan(0.04);
    expect(report.reach.out).toBeLessThan(0.07);
    expect(report.misses).toBe(0);
  });

  it('stops within a second when it is cancelled, and the next one works', async () => {
    const run = context(light, dense, { size: { width: 4096, height: 4096 }, samples: 4 });
    let cancelledAt = 0;
    run.onProgress = ({ stage }) => {
      if (stage !== 'trace' || cancelledAt > 0) return;
      cancelledAt = performance.now();
      Atomics.store(run.cancelFlag, 0, 1);
    };
    expect((await failureOf(run)).code).toBe('run/cancelled');
    expect(performance.now() - cancelledAt).toBeLessThan(1000);
    expect((await runBake(context(light, dense))).report.misses).toBe(0);
  });

  it('goes through progress from 0 to 1 without stepping back', async () => {
    const shares: number[] = [];
    await runBake({ ...context(light, hills('fresh', 200, 0.03)), onProgress: ({ share }) => shares.push(share) });
    expect(shares.every((share, i) => i === 0 || share >= shares[i - 1]!)).toBe(true);
    expect(shares.at(-1)).toBeGreaterThan(0.9);
  });
});

describe('several maps of one ticket', () => {
  const all = {
    maps: [...BAKED_KINDS],
    size: { width: 96, height: 96 },
    occlusion: { ...DEFAULT_BAKE.occlusion, rays: 16 },
  };

  it('come from one run, the same for any number of threads; another seed gives other noise', async () => {
    const one = await runBake(context(light, dense, all));
    const two = await runBake({ ...context(light, dense, all), threads: 2 });
    const other = await runBake(context(light, dense, { ...all, seed: 7 }));
    expect(one.maps.map(({ kind }) => kind)).toEqual(all.maps);
    one.maps.forEach(({ kind, image }, i) => {
      expect(image.data.every(Number.isFinite)).toBe(true);
      expect(two.maps[i]!.image.data).toEqual(image.data);
      const isRandom = describeKind(kind).fans !== undefined;
      expect(Buffer.compare(Buffer.from(other.maps[i]!.image.data.buffer), Buffer.from(image.data.buffer)) !== 0).toBe(
        isRandom,
      );
    });
  });

  it('carry the range in which they become whole numbers: the receiver is the middle, the farthest place an end', async () => {
    const image = async (height: Partial<BakePassSettings['height']>) =>
      (await runBake(context(light, dense, { maps: ['height'], height: { mid: 0.5, span: 'auto', ...height } })))
        .maps[0]!.image;
    const measured = await image({});
    const most = measured.data.reduce((sum, value) => Math.max(sum, Math.abs(value)), 0);
    expect(most).toBeGreaterThan(0.035);
    expect(measured.range![0]).toBeCloseTo(-most, 6);
    expect(measured.range![1]).toBeCloseTo(most, 6);
    expect((await image({ mid: 0.25, span: 0.4 })).range).toEqual([-0.1, 0.30000000000000004]);
  });

  it('name the pieces of an ID map', async () => {
    const { report, maps } = await runBake(context(light, dense, { maps: ['id'], id: 'object' }));
    expect(report.legend).toEqual([{ name: 'dense', color: [...maps[0]!.image.data.subarray(0, 3)] }]);
  });
});

describe('a bake that cannot give a good map says why', () => {
  it('when every ray misses', async () => {
    const far = hills('far', 4, 0);
    for (let i = 2; i < far.positions.length; i += 3) far.positions[i]! += 50;
    const { code, message } = await failureOf(context(light, far));
    expect(code).toBe('run/nothing-hit');
    expect(message).toMatch(/No ray hit “far” within 0.1 units outside and 0.1 units inside.*increase the reach/);
  });

  it('when all UVs lie outside the tile, and when some do', async () => {
    const outside = hills('outside', 2, 0);
    outside.uvSets[0]!.coords.forEach((_, i, coords) => (coords[i]! += 3));
    expect((await failureOf(context(outside, dense))).message).toMatch(/outside the tile 0 to 1/);
    const partly = hills('partly', 2, 0);
    partly.uvSets[0]!.coords.forEach((_, i, coords) => (coords[i]! += 0.25));
    const { report } = await runBake(context(partly, dense));
    expect(report.findings.map(({ sentence }) => sentence).join()).toMatch(/UVs outside the tile/);
  });

  it('when UVs overlap', async () => {
    const overlapping = hills('overlapping', 2, 0);
    const { coords } = overlapping.uvSets[0]!;
    for (let i = 0; i < coords.length; i += 2) coords[i] = Math.abs(coords[i]! - 0.5);
    const { report } = await runBake(context(overlapping, dense));
    expect(report.texels.overlapping).toBeGreaterThan(1000);
    expect(report.findings[0]!.sentence).toMatch(/belong to more than one triangle because UVs overlap/);
  });

  it('when there are no UVs', async () => {
    expect((await failureOf(context({ ...light, uvSets: [] }, dense))).code).toBe('input/no-uvs');
    expect((await failureOf(context(light, dense, { uvSet: 3 }))).message).toMatch(/no number 4.*UV 1/);
  });

  it('before it begins, when it would not fit into memory, with the figure', async () => {
    const run = context(light, dense, { size: { width: 16384, height: 16384 }, samples: 8 });
    const failure = await failureOf({ ...run, memoryLimitBytes: 2e9 });
    expect(failure.code).toBe('limit/memory');
    expect(failure.message).toMatch(/16384 × 16384 px with 8 × 8.*about 8\.\d GB.*limit is 2\.0 GB/);
  });
});
