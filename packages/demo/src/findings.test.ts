import { afterAll, describe, expect, it } from 'vitest';
import { TexelState } from '@zographos/core/image';
import { joinMeshes, type Mesh } from '@zographos/core/mesh';
import { reliefPlane, sphere } from '@zographos/core/testing';
import { DEFAULT_BAKE, parseSettings, type BakeOperationSettings, type Finding } from '@zographos/operations';
import { bakeTicket, closeBakePool } from '@zographos/operations/bake';
import { hashedMesh, type RunMesh } from '@zographos/operations/scene';
import { DEMO_TICKETS } from './index.ts';
import { demoBytes, demoMeshes } from './testing/demoMeshes.ts';

/**
 * What is said of bakes is looked at sentence by sentence: it names just what was found, its number is what the maps show,
 * and what it advises helps.
 */

afterAll(closeBakePool);

interface Case {
  receivers: RunMesh[];
  sources: RunMesh[];
  settings: BakeOperationSettings;
}

const bake = ({ receivers, sources, settings }: Case) =>
  bakeTicket({
    ...{ settings, inputs: { receivers, sources }, threads: 2, memoryLimitBytes: 8e9, loadSeconds: 0 },
    ...{ cancelFlag: new Int32Array(new SharedArrayBuffer(4)), onProgress: () => {} },
  });
type Result = Awaited<ReturnType<typeof bake>>;

/** The number that a sentence begins with or names after “At”; per cent of noise where that is what it is about. */
const numberIn = ({ sentence }: Finding): number =>
  Number(/about ([\d.]+) %/.exec(sentence)?.[1] ?? /(?:^|[Aa]t )(\d+) texels/.exec(sentence)?.[1] ?? NaN);

const found = ({ report }: Result, kind: string): Finding | undefined =>
  report.findings.find((each) => each.kind === kind);

/** Checks what every sentence says against the maps and the report, and each remedy by taking it. */
async function expectTrue(given: Case, result: Result): Promise<void> {
  const { report, maps } = result;
  const kinds = report.findings.map(({ kind }) => kind);
  expect(new Set(kinds).size).toBe(kinds.length);
  const states = maps.filter(({ kind }) => kind === maps[0]!.kind).map((map) => map.states);
  const missed = states.reduce((sum, all) => sum + all.filter((state) => state === TexelState.missed).length, 0);
  const count = (kind: string): number => numberIn(found(result, kind) ?? ({ sentence: '0 texels' } as Finding));
  expect(count('missed') + count('open')).toBe(missed);
  expect(count('overlapping')).toBe(report.texels.overlapping);
  for (const finding of report.findings) {
    const { kind, remedy } = finding;
    if (kind === 'backward') expect(given.settings.maps).toContain('normal');
    // Of what is found through shared triangles no reach is spoken.
    if (given.settings.aim === 'shared') expect(finding.sentence).not.toMatch(/reach/);
    if (!remedy || Object.keys(remedy.change).length === 0) continue;
    const settings = { ...given.settings, ...remedy.change };
    const again = await bake({
      ...(remedy.exchange ? { receivers: given.sources, sources: given.receivers } : given),
      settings,
    });
    const left = found(again, kind);
    // Noise is “about” halved.
    const most = kind === 'noise' ? 0.6 : 0.5;
    const hint = `${remedy.label}: ${finding.sentence}`;
    if (left) expect(numberIn(left), hint).toBeLessThanOrEqual(numberIn(finding) * most);
  }
}

const whole = (name: string, z = 0): Mesh => reliefPlane(name, 2, 1, () => z);
/** The same mesh seen from behind. */
const turned = (mesh: Mesh): Mesh => ({
  ...mesh,
  indices: mesh.indices.toReversed(),
  normals: mesh.normals.map((value) => -value),
});
/** A slab between two heights. */
const slab = (name: string, low: number, high: number): Mesh =>
  joinMeshes(name, [whole('top', high), turned(whole('bottom', low))]);
/** A plane whose UVs lie over a part of the tile. */
const onPart = (name: string, u: number, side: number): Mesh => {
  const mesh = whole(name);
  const coords = mesh.uvSets[0]!.coords.map((value, i) => value * side + (i % 2 === 0 ? u : 0));
  return { ...mesh, uvSets: [{ name: 'UV 1', coords }] };
};
/** A plane over a part of the square alone. */
const overPart = (name: string, from: number, to: number, z: number): Mesh => {
  const mesh = whole(name, z);
  const positions = mesh.positions.map((value, i) => (i % 3 === 0 ? from + ((value + 1) / 2) * (to - from) : value));
  return { ...mesh, positions };
};

const NORMAL = { maps: ['normal'] } as const;
const HELD: [name: string, receivers: Mesh[], sources: Mesh[], settings: object, kinds: string[]][] = [
  ['a sphere from itself by rays', [sphere('ball', 1, 16, 32)], [sphere('ball', 1, 16, 32)], NORMAL, []],
  ['a plane through shared triangles', [whole('a')], [whole('a')], { ...NORMAL, aim: 'shared' }, []],
  ['a plane below one of its kind', [whole('a')], [whole('b', 0.1)], NORMAL, []],
  ['a source beyond the reach', [whole('a')], [overPart('b', -1, 0, 0.1), overPart('c', 0, 1, 0.7)], {}, ['missed']],
  ['a source over one half', [whole('a')], [overPart('b', -1, 0, 0.1)], {}, ['open']],
  [
    'an inverted source',
    [whole('a')],
    [turned(whole('b', 0.1))],
    { ...NORMAL, backFaces: 'accept' },
    ['behind', 'backward'],
  ],
  ['heights of an inverted source', [whole('a')], [turned(whole('b', 0.1))], { backFaces: 'accept' }, ['behind']],
  ['a ray that starts within a slab', [whole('a')], [slab('s', 0.4, 0.6), whole('b')], {}, ['inside']],
  ['a ray that starts deep in a block', [whole('a')], [slab('s', 0.3, 3), whole('b')], {}, ['deepInside']],
  ['a slab over the surface', [whole('a')], [slab('s', 0.3, 0.4), whole('b', -0.1)], {}, ['outerLayer']],
  ['two islands in one place', [onPart('a', 0.1, 0.4), onPart('b', 0.1, 0.4)], [whole('c')], {}, ['overlapping']],
  [
    'islands too close for their padding',
    [onPart('a', 0, 0.45), onPart('b', 0.5, 0.45)],
    [whole('c')],
    { padding: 6 },
    ['collision'],
  ],
  [
    'a source in another unit',
    [sphere('a', 1, 16, 32)],
    [sphere('b', 10, 16, 32)],
    { reach: { out: 20, in: 20 } },
    ['scale'],
  ],
  [
    'few rays in a bowl',
    [whole('a')],
    [reliefPlane('b', 40, 1, (x, y) => 0.2 * (x * x + y * y))],
    { maps: ['ao'], occlusion: { ...DEFAULT_BAKE.occlusion, rays: 4 } },
    ['noise'],
  ],
];

describe('what is said of a held case', () => {
  it.each(HELD)('%s', async (_name, receivers, sources, more, kinds) => {
    const given: Case = {
      receivers: receivers.map(hashedMesh),
      sources: sources.map(hashedMesh),
      settings: parseSettings('bake', {
        ...{ ...DEFAULT_BAKE, maps: ['height'], size: { width: 64, height: 64 }, samples: 1, padding: 0 },
        ...{ reach: { out: 0.5, in: 0.5 }, ...more },
      }),
    };
    const result = await bake(given);
    expect(result.report.findings.map(({ kind }) => kind)).toEqual(kinds);
    await expectTrue(given, result);
  });
});

describe('what is said of the demo', async () => {
  const meshes = await demoMeshes(await demoBytes());

  it.each(DEMO_TICKETS)('$name', async ({ settings, receivers, sources }) => {
    const named = (name: string): RunMesh => hashedMesh(meshes.get(name)!);
    const given: Case = {
      receivers: receivers.map(named),
      sources: sources.map(named),
      settings: {
        ...settings,
        ...{ size: { width: 192, height: 192 }, tileSizes: {}, samples: 1, prove: true },
        occlusion: { ...settings.occlusion, rays: 8 },
      },
    };
    await expectTrue(given, await bake(given));
  });
});
