import { expect, it, vi } from 'vitest';
import type { Image, MapKind, MapKindDescriptor } from '@zographos/core/image';

/** A kind that nothing in the program was written for: one row in the table, before anything reads the table. */
const WETNESS: MapKindDescriptor = {
  ...{ label: 'Wetness', phrase: 'wetness', hint: 'how wet each point is', words: ['wet', 'damp'] },
  ...{ values: 'share', channels: 1, neutral: 0.25, range: 'unit' },
  ...{ isBaked: false, isPadded: true, hasSeams: true },
};

vi.mock(import('../../core/src/image/mapKinds.ts'), async (original) => {
  const actual = await original();
  return { ...actual, MAP_KINDS: { ...actual.MAP_KINDS, wetness: WETNESS } };
});

const { describeKind, isMapKind, MAP_KIND_IDS, phraseOfKinds } = await import('@zographos/core/image');
const { composeAtlas } = await import('@zographos/core/atlas');
const { DEFAULT_LIMITS, guessKind, readImageFile } = await import('@zographos/formats/images');
const { packing, deliveryProfile } = await import('./deliver/settings.ts');
const { run: deliver } = await import('./deliver/run.ts');
const { collect } = await import('./testing/collect.ts');

const wetness = 'wetness' as MapKind;
const grey = (value: number): Image => ({
  width: 16,
  height: 16,
  channels: 1,
  data: new Float32Array(256).fill(value),
});

it('a row in the table is all that a kind of map takes to be guessed, labelled, packed, delivered and put into an atlas', async () => {
  expect(isMapKind('wetness')).toBe(true);
  expect(MAP_KIND_IDS.at(-1)).toBe('wetness');
  expect(describeKind(wetness).label).toBe('Wetness');
  expect(phraseOfKinds(['normal', wetness])).toBe('normal, wetness');

  for (const name of ['bell_wetness.png', 'bell-wet-1001.exr', 'BellDamp.tif']) {
    expect(guessKind(name, grey(0.5), false)).toMatchObject({
      kind: 'wetness',
      colorSpace: 'linear',
      reason: 'from its name',
    });
  }

  expect(
    packing.parse({ label: 'masks', channels: [{ map: 'wetness' }, { constant: 0 }, { constant: 0 }] }),
  ).toBeTruthy();
  const profile = deliveryProfile.parse({
    name: 'test',
    files: [
      { map: 'wetness', label: 'wet', format: 'png16' },
      { label: 'packed', channels: [{ map: 'ao' }, { map: 'wetness' }, { constant: 1 }], format: 'png8' },
    ],
  });
  const set = {
    ...{ name: 'bell', tileWidth: null, uvSet: 0, receivers: [], hasMesh: false, madeBy: () => null },
    maps: [
      {
        kind: wetness,
        tile: 1001,
        revision: 1,
        width: 16,
        height: 16,
        channels: 1,
        range: [0, 1] as const,
        colorSpace: 'linear' as const,
      },
    ],
    load: () => Promise.resolve({ image: grey(0.5), states: new Uint8Array(256) }),
    mesh: () => Promise.resolve(new Uint8Array()),
  };
  const { files, report } = await collect(deliver, {
    settings: { profile, sets: [] },
    inputs: { receivers: [], sources: [] },
    sets: [set],
  });
  expect(files.map(({ path }) => path)).toEqual([
    expect.stringContaining('wet'),
    expect.stringContaining('packed'),
    'manifest.json',
  ]);
  const packed = await readImageFile('packed.png', files[1]!.bytes, DEFAULT_LIMITS);
  expect([0, 1, 2].map((c) => Math.round(packed.data[c]! * 255))).toEqual([255, 128, 255]);
  expect(report.notes.join()).toContain('no ambient occlusion map');

  const halves = [
    { x: 0, y: 0, width: 16, height: 16 },
    { x: 16, y: 0, width: 16, height: 16 },
  ];
  const atlas = composeAtlas(wetness, [grey(0.75), null], halves, { width: 32, height: 16 }, 0);
  // A set that lacks the map shows the kind's neutral value.
  expect([atlas.data[0], atlas.data[31]]).toEqual([0.75, 0.25]);
});
