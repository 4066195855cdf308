import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { z } from 'zod';
import { BAKED_KINDS, describeKind, isMapKind, MAP_KIND_IDS } from '@zographos/core/image';
import * as options from './index.ts';
import { inputList, meshInputs, eachInput } from './operation.ts';
import {
  DEFAULT_BAKE,
  DEFAULT_LAYOUT,
  DEFAULT_MERGE,
  EXAMPLE_STACK,
  FLAT_KINDS,
  isFlat,
  ONCE_KINDS,
  OPERATION_KINDS,
  operationOf,
  OPERATIONS,
  parseSettings,
  READY_PROFILES,
  TICKET_KINDS,
  type OperationKind,
  type SentencePart,
} from './index.ts';

const picture = { kind: 'basecolor', colorSpace: 'srgb' };
const size = { width: 1024, height: 1024 };
const set = { imageSet: '00000000-0000-4000-8000-000000000001', name: 'Float light', width: 512, height: 512 };

const SUN = { kind: 'sun', elevation: 40, azimuth: 200, angle: 0.5, strength: [3, 3, 3] };

/** Settings of each operation, as an artist has them at first. */
const USUAL: Record<OperationKind, unknown> = {
  bake: DEFAULT_BAKE,
  layout: DEFAULT_LAYOUT,
  merge: DEFAULT_MERGE,
  atlas: { name: 'Atlas', size, arrangement: 'rows', halvings: null, resample: false, sets: [set] },
  seamless: { pictures: [picture], size },
  derive: { maps: ['height', 'normal'], from: 'color', picture },
  field: { maps: [{ kind: 'height' }], layers: [{ kind: 'bricks' }], size },
  cutouts: { pictures: [picture], size },
  combine: { pictures: [picture], maps: [{ kind: 'roughness' }], size },
  layers: { size, layers: EXAMPLE_STACK.layers },
  light: { size, passes: ['combined', 'noise', 'groups'], lights: [SUN], environment: { kind: 'overcast' } },
  deliver: { profile: READY_PROFILES[0], sets: [set.imageSet] },
};
const names = {
  receivers: ['Float light'],
  sources: ['Float dense'],
  pictures: ['Harbour stone'],
  uvSets: ['UV 1'],
};
const mesh = (triangles: number) => ({ name: 'a', triangles, vertices: triangles / 2 });
const said = (parts: readonly SentencePart[]): string => parts.map(({ text }) => text).join('');

describe('the table of operations', () => {
  it('knows each by its own id, in three groups that make up all of them', () => {
    for (const kind of OPERATION_KINDS) expect(OPERATIONS[kind].kind).toBe(kind);
    expect([...TICKET_KINDS, ...ONCE_KINDS].sort()).toEqual([...OPERATION_KINDS].sort());
    for (const kind of FLAT_KINDS) expect(TICKET_KINDS).toContain(kind);
    expect(OPERATION_KINDS.filter(isFlat)).toEqual([...FLAT_KINDS]);
  });

  it.each(OPERATION_KINDS)('%s reads as one whole sentence, each slot of which is said', (kind) => {
    const operation = operationOf(kind);
    const settings = parseSettings(kind, USUAL[kind]) as never;
    const parts = operation.sentence(settings, names, 'mm');
    expect(said(parts)).toMatch(/^[A-Z].*[^.]\.$/);
    expect(said(parts)).not.toMatch(/undefined|null|NaN|\[object|\s{2}/);
    for (const { text, slot } of parts) if (slot) expect(text.trim(), slot).not.toBe('');
    for (const sentence of operation.moreSentences(settings, names, 'mm')) {
      expect(said(sentence)).toMatch(/^[A-Z].*\.$/);
    }
    // Ids are for files; what is read is words.
    expect(said(parts)).not.toMatch(/\b(ao|basecolor|light-high|flat-torus)\b/);
  });

  it.each(OPERATION_KINDS)('%s makes maps that there are, each once', (kind) => {
    const outputs = operationOf(kind).outputs(parseSettings(kind, USUAL[kind]));
    expect(outputs.every(isMapKind)).toBe(true);
    expect(new Set(outputs).size).toBe(outputs.length);
  });

  it.each(OPERATION_KINDS)('%s is estimated in bytes that a machine has', (kind) => {
    const operation = operationOf(kind);
    const inputs = { receivers: [mesh(1000)], sources: [mesh(1_000_000)] };
    const { rays, memoryBytes } = operation.estimate(parseSettings(kind, USUAL[kind]), inputs);
    expect(rays >= 0 && Number.isFinite(rays)).toBe(true);
    expect(memoryBytes).toBeGreaterThan(1e8);
    expect(memoryBytes).toBeLessThan(3e10);
  });

  it.each(OPERATION_KINDS)(
    '%s takes its settings again as it has read them, and refuses what it does not know',
    (kind) => {
      const settings = parseSettings(kind, USUAL[kind]);
      expect(parseSettings(kind, JSON.parse(JSON.stringify(settings)))).toEqual(settings);
      expect(() => parseSettings(kind, { ...(USUAL[kind] as object), flavour: 1 })).toThrow(/flavour|not usable/);
      expect(() => parseSettings(kind, null)).toThrow();
      const report = OPERATIONS[kind].report as z.ZodType;
      expect(report.safeParse({}).success).toBe(false);
    },
  );
});

describe('what a bake will cost', () => {
  const estimate = (change: Partial<typeof DEFAULT_BAKE>, triangles = 100_000) =>
    OPERATIONS.bake.estimate({ ...DEFAULT_BAKE, ...change }, { receivers: [mesh(1000)], sources: [mesh(triangles)] });

  it('grows with size, samples, maps, rays and triangles, and shrinks with none of them', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 16, max: 4096 }),
        fc.integer({ min: 1, max: 8 }),
        fc.integer({ min: 1, max: 128 }),
        (side, samples, rays) => {
          const occlusion = { ...DEFAULT_BAKE.occlusion, rays };
          const base = estimate({ maps: ['normal', 'ao'], size: { width: side, height: side }, samples, occlusion });
          expect(base.rays).toBe(side * side * samples * samples * (1 + rays));
          const larger = estimate({
            maps: ['normal', 'ao'],
            size: { width: side * 2, height: side },
            samples,
            occlusion,
          });
          expect(larger.rays).toBe(base.rays * 2);
          expect(larger.memoryBytes).toBeGreaterThan(base.memoryBytes);
          const heavier = estimate(
            { maps: ['normal', 'ao'], size: { width: side, height: side }, samples, occlusion },
            10_000_000,
          );
          expect(heavier.memoryBytes).toBeGreaterThan(base.memoryBytes);
          expect(heavier.rays).toBe(base.rays);
        },
      ),
    );
  });

  it('counts fans that maps share once, and every tile', () => {
    const rays = DEFAULT_BAKE.occlusion.rays;
    const perTexel = (maps: (typeof DEFAULT_BAKE)['maps']): number =>
      estimate({ maps, size: { width: 1, height: 1 }, samples: 1 }).rays;
    const fans = (maps: (typeof DEFAULT_BAKE)['maps']): number =>
      new Set(maps.flatMap((kind) => describeKind(kind).fans ?? [])).size;
    expect(perTexel(['normal'])).toBe(1);
    for (const maps of [['ao'], ['ao', 'bent'], [...BAKED_KINDS]] as (typeof DEFAULT_BAKE)['maps'][]) {
      expect(perTexel(maps)).toBe(1 + rays * fans(maps));
    }
    const tiles = estimate({ tiles: [1001, 1002], tileSizes: { 1002: { width: 2048, height: 1024 } }, samples: 1 });
    expect(tiles.rays).toBe(1024 * 1024 + 2048 * 1024);
  });
});

describe('labels', () => {
  const tables = Object.entries(options).filter(([name]) => name.endsWith('_LABELS')) as [
    string,
    Record<string, { label: string }>,
  ][];

  it.each(tables)('%s has words for each id, no two alike', (_, table) => {
    const labels = Object.values(table).map(({ label }) => label);
    expect(labels.length).toBeGreaterThan(1);
    expect(new Set(labels).size).toBe(labels.length);
    for (const [id, { label }] of Object.entries(table)) {
      expect(label.trim(), id).toBe(label);
      expect(label, id).not.toMatch(/[_]|\.$/);
    }
  });

  it('of kinds are offered in their usual order, each with its hint', () => {
    const offered = options.kindOptions();
    expect(offered.map(({ value }) => value)).toEqual(MAP_KIND_IDS);
    expect(options.kindOptions(['ao', 'normal']).map(({ label }) => label)).toEqual(['Ambient occlusion', 'Normal']);
  });
});

describe('inputs of an operation', () => {
  const inputs = { receivers: ['r'], sources: ['s', 't'], cage: 'c', mask: 'm', pictures: ['p'] };

  it('are listed in an order that is always the same: receivers, sources, cage, mask, images', async () => {
    expect(meshInputs(inputs)).toEqual(['r', 's', 't', 'c']);
    expect(inputList(inputs)).toEqual(['r', 's', 't', 'c', 'm', 'p']);
    const upper = await eachInput(inputs, (name) => Promise.resolve(name.toUpperCase()));
    expect(inputList(upper)).toEqual(['R', 'S', 'T', 'C', 'M', 'P']);
    expect(await eachInput({ receivers: [], sources: [] }, String)).toEqual({ receivers: [], sources: [] });
  });
});

describe('words', () => {
  it('count, measure and join alike wherever they stand', () => {
    expect([0, 999, 1000, 1_038_720].map(options.grouped)).toEqual(
      ['0', '999', '1 000', '1 038 720'].map((text) => text.replace(/ /g, options.grouped(1000)[1]!)),
    );
    expect([options.sizeText({ width: 8, height: 8 }), options.sizeText({ width: 8, height: 4 })]).toEqual([
      '8 px',
      '8 × 4 px',
    ]);
  });
});
