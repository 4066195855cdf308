import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Image } from '@zographos/core/image';
import { parseSettings } from '@zographos/operations';
import { workerScope } from '../../../testing/workerScope.ts';
import { COMPARED } from '../editors/ways.ts';
import type { FlatAsk, FlatTold, PreviewMap } from './flatWorker.ts';

// What the kernel computes is tested beside it.
vi.mock('../../../preview/previewKernel.ts', () => ({ usePreviewKernel: () => Promise.resolve() }));

/** Each look at the clock is so much later than the one before: no machine is slow or fast here. */
function slowed(milliseconds: number): void {
  let now = 0;
  vi.spyOn(performance, 'now').mockImplementation(() => (now += milliseconds));
}
beforeEach(() => slowed(0));
afterEach(() => {
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
});

/** Stones of a sort, whose ends do not fit; as light. */
const stone: Image = {
  ...{ width: 96, height: 64, channels: 3, colorSpace: 'srgb' },
  data: new Float32Array(96 * 64 * 3).map((_, i) => {
    const texel = Math.floor(i / 3);
    return 0.3 + 0.2 * Math.sin((texel % 96) / 9) * Math.cos(Math.floor(texel / 96) / 7) + (texel % 96) / 400;
  }),
};
const picture = { kind: 'basecolor', colorSpace: 'srgb' };
const seamless = parseSettings('seamless', { pictures: [picture], size: { width: 256, height: 256 } });
const derive = parseSettings('derive', { maps: ['height', 'normal', 'roughness'], from: 'color', picture });
const field = parseSettings('field', {
  maps: [
    { kind: 'height' },
    {
      kind: 'basecolor',
      ramp: [
        { at: 0, color: '#000000' },
        { at: 1, color: '#ff8000' },
      ],
    },
  ],
  layers: [{ kind: 'bricks' }],
  size: { width: 256, height: 128 },
});

async function opened() {
  const scope = await workerScope<FlatAsk, FlatTold>(() => import('./flatWorker.ts'));
  scope.send({ what: 'pictures', pictures: [stone], sketches: [stone] });
  const source = await scope.next();
  return { scope, source };
}
type Told<What> = Extract<FlatTold, { what: What }>;
const mapsOf = (told: FlatTold): PreviewMap[] => (told as Told<'made'>).maps as PreviewMap[];

describe('the preview of a material', () => {
  it('shows what it is made of as it looks on screen', async () => {
    const { source } = await opened();
    const { width, height, rgba } = source as Told<'source'>;
    expect([width, height, rgba.length]).toEqual([96, 64, 96 * 64 * 4]);
    // Middle light is lighter on screen than in number (IEC 61966-2-1).
    const linear = stone.data[0]!;
    expect(rgba[0]! / 255).toBeGreaterThan(linear + 0.15);
    expect(rgba[3]).toBe(255);
  });

  it('of a tile is as large as the screen asks for, and joins at its borders', async () => {
    const { scope } = await opened();
    scope.send({
      what: 'make',
      turn: 1,
      job: { operation: 'seamless', settings: seamless },
      kinds: ['basecolor'],
      side: 64,
      pick: null,
    });
    const told = await scope.next();
    expect(told).toMatchObject({ what: 'made', turn: 1, suggestion: null });
    const [map] = mapsOf(told);
    expect([map!.kind, map!.width, map!.height]).toEqual(['basecolor', 64, 64]);
    // Afterwards, once nothing moves, how good it is, held against the image.
    const { turn, proof } = (await scope.next()) as Told<'proof'>;
    expect(turn).toBe(1);
    expect(proof.usual!.likeness).toBeGreaterThan(0);
    expect(proof.repetition.mirrored).toBeGreaterThan(0);
  });

  it('of derived maps comes with the one to look at first, its heights, depth and a suggestion', async () => {
    const { scope } = await opened();
    const job = { operation: 'derive' as const, settings: derive };
    scope.send({ what: 'make', turn: 2, job, kinds: ['normal', 'height'], side: 64, pick: null });
    const told = (await scope.next()) as Told<'made'>;
    expect(told.maps.map(({ kind }) => kind)).toEqual(['normal', 'height']);
    expect(mapsOf(told)[1]!.values).toHaveLength(96 * 64);
    expect(mapsOf(told)[0]!.values).toBeNull();
    expect(told.depth).toBeGreaterThan(0);
    expect(told.suggestion).not.toBeNull();
    // What has not changed is not sent again.
    const settings = { ...derive, roughness: { ...derive.roughness, base: 0.1 } };
    scope.send({
      what: 'make',
      turn: 3,
      job: { operation: 'derive', settings },
      kinds: ['height', 'roughness'],
      side: 64,
      pick: null,
    });
    const [height, roughness] = ((await scope.next()) as Told<'made'>).maps;
    expect(height).toEqual({ kind: 'height', values: null, kept: true });
    expect(roughness).toMatchObject({ kind: 'roughness', width: 96 });
  });

  it('of a field is drawn at the shape of its size, in the kinds that are wanted', async () => {
    const { scope } = await opened();
    scope.send({
      what: 'make',
      turn: 4,
      job: { operation: 'field', settings: field },
      kinds: ['basecolor'],
      side: 64,
      pick: null,
    });
    const [map, ...others] = mapsOf(await scope.next());
    expect(others).toEqual([]);
    expect([map!.kind, map!.width, map!.height]).toEqual(['basecolor', 64, 32]);
    // The ramp has no blue.
    for (let i = 0; i < map!.rgba.length; i += 4) expect(map!.rgba[i + 2]).toBe(0);
    expect(await scope.next()).toMatchObject({ what: 'proof', turn: 4 });
  });

  it('compares every way, one after the other', async () => {
    const { scope } = await opened();
    scope.send({ what: 'compare', turn: 5, settings: seamless, axes: 'both', kind: 'basecolor', side: 48 });
    const made: string[] = [];
    for (const method of COMPARED) {
      const told = (await scope.next()) as Told<'compared'>;
      expect([told.turn, told.method]).toEqual([5, method]);
      if (!told.map) continue;
      expect(told.map.kind).toBe('basecolor');
      made.push(method);
    }
    // How good they are comes once all are seen.
    expect(made).toContain('mirror');
    for (const method of made) {
      const { proof, ...told } = (await scope.next()) as Told<'compared proof'>;
      expect(told).toEqual({ what: 'compared proof', turn: 5, method });
      expect(proof.repetition.mirrored > 0.99).toBe(method === 'mirror');
    }
  });

  it('that cannot be made says why, and the next is made', async () => {
    const { scope } = await opened();
    const broken = { ...seamless, ends: { ...seamless.ends, across: { ...seamless.ends.across, width: NaN } } };
    scope.send({
      what: 'make',
      turn: 6,
      job: {
        operation: 'seamless',
        settings: {
          ...broken,
          pictures: [
            { kind: 'basecolor', colorSpace: 'srgb' },
            { kind: 'normal', colorSpace: 'linear' },
          ],
        } as never,
      },
      kinds: ['basecolor'],
      side: 32,
      pick: null,
    });
    const told = await scope.next();
    if (told.what === 'failed') expect(told.message.length).toBeGreaterThan(5);
    scope.send({
      what: 'make',
      turn: 7,
      job: { operation: 'seamless', settings: seamless },
      kinds: ['basecolor'],
      side: 32,
      pick: null,
    });
    let next = await scope.next();
    while (next.what !== 'made' || next.turn !== 7) next = await scope.next();
    expect(mapsOf(next)).toHaveLength(1);
    expect(await scope.next()).toMatchObject({ what: 'proof', turn: 7 });
  });

  it('without pictures is of nothing', async () => {
    const scope = await workerScope<FlatAsk, FlatTold>(() => import('./flatWorker.ts'));
    scope.send({
      what: 'make',
      turn: 8,
      job: { operation: 'derive', settings: derive },
      kinds: ['height'],
      side: 32,
      pick: null,
    });
    expect(await scope.next()).toMatchObject({ what: 'made', maps: [] });
  });

  describe('that takes too long to follow a slider', () => {
    const job = { operation: 'field' as const, settings: { ...field, size: { width: 256, height: 256 } } };
    const ask = (turn: number): FlatAsk => ({
      ...{ what: 'make', turn, job, kinds: ['height', 'basecolor'], side: 256, pick: null },
    });

    it('is made small first, in full afterwards, and told only where it has changed', async () => {
      const { scope } = await opened();
      slowed(300);
      scope.send(ask(1));
      expect(await scope.next()).toMatchObject({ what: 'made', isDraft: false });
      expect(await scope.next()).toMatchObject({ what: 'proof' });
      scope.send(ask(2));
      const draft = (await scope.next()) as Told<'made'>;
      expect([draft.isDraft, ...mapsOf(draft).map(({ width }) => width)]).toEqual([true, 128, 128]);
      const finished = (await scope.next()) as Told<'finished'>;
      expect([finished.what, finished.turn, ...mapsOf(finished).map(({ width }) => width)]).toEqual([
        ...['finished', 2, 256, 256],
      ]);
      expect(await scope.next()).toMatchObject({ what: 'proof', turn: 2 });
    });

    it('is not finished once something else was asked for', async () => {
      const { scope } = await opened();
      const newest = new Int32Array(new SharedArrayBuffer(4));
      scope.send({ what: 'newest', newest });
      slowed(300);
      Atomics.store(newest, 0, 1);
      scope.send(ask(1));
      await scope.next();
      await scope.next();
      scope.send(ask(2));
      expect(await scope.next()).toMatchObject({ what: 'made', turn: 2, isDraft: true });
      scope.send(ask(3));
      expect(await scope.next()).toMatchObject({ what: 'made', turn: 3, isDraft: true });
      Atomics.store(newest, 0, 3);
      expect(await scope.next()).toMatchObject({ what: 'finished', turn: 3 });
    });

    it('stops in the middle once something else was asked for', async () => {
      const { scope } = await opened();
      const newest = new Int32Array(new SharedArrayBuffer(4));
      scope.send({ what: 'newest', newest });
      slowed(300);
      const tile = (turn: number): FlatAsk => {
        const settings = { ...seamless, way: 'patches' as const, patches: { ...seamless.patches, seed: turn } };
        const job = { operation: 'seamless' as const, settings };
        return { what: 'make', turn, job, kinds: ['basecolor'], side: 256, pick: null };
      };
      Atomics.store(newest, 0, 1);
      scope.send(tile(1));
      await scope.next();
      await scope.next();
      scope.send(tile(2));
      expect(await scope.next()).toMatchObject({ what: 'made', turn: 2, isDraft: true });
      // Asked for on the page, and not yet heard here.
      Atomics.store(newest, 0, 3);
      await new Promise((resolve) => setTimeout(resolve, 500));
      scope.send(tile(3));
      expect(await scope.next()).toMatchObject({ what: 'made', turn: 3 });
      expect(await scope.next()).toMatchObject({ what: 'finished', turn: 3 });
    });
  });
});
