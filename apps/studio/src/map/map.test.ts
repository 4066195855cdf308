// @vitest-environment happy-dom
import { mount } from '@vue/test-utils';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { MapRevision } from '@zographos/contracts';
import { TexelState } from '@zographos/core/image';
import { shufflePlanes, TILE } from '@zographos/formats/tiles';
import { fullProject } from '../testing/fullProject.ts';
import { settle } from '../testing/room.ts';
import IdLegend from './IdLegend.vue';
import TexelReadout from './TexelReadout.vue';
import { TileStore } from './tileStore.ts';

afterEach(() => vi.unstubAllGlobals());

const [normal] = fullProject().imageSets[0]!.maps.filter(({ kind }) => kind === 'normal');
const revision: MapRevision = {
  ...normal!.revisions[0]!,
  levels: [{ width: TILE + 20, height: 10, columns: 2, rows: 1 }],
};

/** A server of tiles that can be told to fail. */
function serving() {
  const asked: string[] = [];
  const server = { asked, isDown: false };
  vi.stubGlobal('fetch', (path: string) => {
    asked.push(path);
    if (server.isDown) return Promise.resolve(new Response('', { status: 503 }));
    const isMap = path.includes('/map/');
    const [column] = /\/(\d+)\/\d+$/.exec(path)!.slice(1).map(Number);
    const texels = (column === 0 ? TILE : 20) * 10;
    const bytes = isMap
      ? shufflePlanes(new Float32Array(texels * 3).fill(0.25))
      : new Uint8Array(texels).fill(TexelState.missed);
    return Promise.resolve(new Response(bytes));
  });
  return server;
}

describe('tiles of a map', () => {
  it('come when they are wanted, once, at their own size, and whoever waits is told', async () => {
    const { asked } = serving();
    const onTile = vi.fn();
    const store = new TileStore(revision, onTile);
    expect([store.get('map', 0, 1, 0), store.get('map', 0, 1, 0)]).toEqual([null, null]);
    await settle();
    expect(asked).toEqual([`/api/map-revisions/${revision.id}/map/0/1/0`]);
    expect(onTile).toHaveBeenCalledTimes(1);
    const tile = store.get('map', 0, 1, 0)!;
    expect([tile.width, tile.height, tile.samples.length]).toEqual([20, 10, 600]);
    expect(tile.samples[0]).toBe(0.25);
    store.get('states', 0, 0, 0);
    await settle();
    expect(store.get('states', 0, 0, 0)!.samples[0]).toBe(TexelState.missed);
  });

  it('that could not be had are asked for again', async () => {
    const server = serving();
    server.isDown = true;
    const store = new TileStore(revision, () => {});
    store.get('map', 0, 0, 0);
    await settle();
    server.isDown = false;
    store.get('map', 0, 0, 0);
    await settle();
    expect(server.asked).toHaveLength(2);
    expect(store.get('map', 0, 0, 0)).not.toBeNull();
  });

  it('are kept as far as there is room, those used last the longest', async () => {
    const { asked } = serving();
    const large = { ...revision, levels: Array.from({ length: 200 }, () => revision.levels[0]!) };
    const store = new TileStore(large, () => {});
    store.get('map', 0, 0, 0);
    await settle();
    for (let level = 1; level < 130; level++) {
      store.get('map', 0, 0, 0);
      store.get('map', level, 0, 0);
      await settle();
    }
    const before = asked.length;
    expect(store.get('map', 0, 0, 0)).not.toBeNull();
    expect(store.get('map', 1, 0, 0)).toBeNull();
    expect(asked.length).toBe(before + 1);
  });
});

describe('the readout', () => {
  const read = (values: number[] | null, more: object = {}, state: number | null = TexelState.covered): string =>
    mount(TexelReadout as never, {
      props: { texel: { x: 3, y: 4, values, state }, kind: 'normal', revision: { ...revision, ...more } } as never,
    })
      .text()
      .replace(/\s+/g, ' ');

  it('says place, values, the bytes they become, the length of a direction, and what became of the texel', () => {
    const text = read([0.5, 0.5, 1]);
    expect(text).toContain('Texel 3, 4');
    expect(text).toContain('Value 0.5000 0.5000 1.0000');
    expect(text).toContain('8-bit value 128 128 255');
    expect(text).toContain('Vector length 1.0000');
    expect(text).toContain('on an island');
    expect(read([0, 0, 0], {}, TexelState.missed)).toContain('missed');
    expect(read(null, {}, null)).toBe('Texel 3, 4');
  });

  it('of lengths has four digits that count, and bytes over their range', () => {
    const text = read([10.10101], { range: [0, 20], channels: 1 });
    expect(text).toContain('Value 10.1');
    expect(text).toContain('8-bit value 129');
  });

  it('says what to do as long as nothing is pointed at', () => {
    const readout = mount(TexelReadout as never, { props: { texel: null, kind: 'normal', revision } as never });
    expect(readout.text()).toBe('Point at a texel to read it.');
  });
});

describe('the legend of an ID map', () => {
  it('shows the colours as they look on screen', () => {
    const legend = mount(IdLegend as never, {
      props: { legend: [{ name: 'brass', color: [0.2158605, 1, 0] }] } as never,
    });
    expect(legend.text()).toContain('brass');
    expect(legend.find<HTMLElement>('.swatch').element.style.background).toMatch(/rgb\(128[ ,]+255[ ,]+0\)/);
  });
});
