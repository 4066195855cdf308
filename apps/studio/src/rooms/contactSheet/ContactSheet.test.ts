// @vitest-environment happy-dom
import { afterEach, describe, expect, it, vi } from 'vitest';
import { describeKind, inUsualOrder } from '@zographos/core/image';
import { fullProject, IDS } from '../../testing/fullProject.ts';
import { click, openRoom, press } from '../../testing/room.ts';
import ContactSheet from './ContactSheet.vue';

afterEach(() => vi.unstubAllGlobals());

describe('the contact sheet', () => {
  it('has a row for each set and a column for each kind, in their usual order and by their labels', async () => {
    const { room } = await openRoom(ContactSheet);
    const heads = room.findAll('.head').map((head) => head.text());
    expect(heads).toEqual(
      inUsualOrder(['curvature', 'ao', 'normal', 'height', 'basecolor']).map((kind) => describeKind(kind).label),
    );
    expect(heads).toContain('Ambient occlusion');
    expect(room.findAll('[role="rowheader"] a:first-child').map((name) => name.text())).toEqual([
      'Float light',
      'Harbour stone',
      'Quay atlas',
    ]);
  });

  it('says in numbers what there is and what is out of date', async () => {
    const { text } = await openRoom(ContactSheet);
    expect(text()).toContain('3 image sets, 6 maps');
    expect(text()).toContain('1 out of date, 1 running');
  });

  it('opens a map, and the ticket of a map that is not made', async () => {
    const { room, router, part } = await openRoom(ContactSheet);
    const cells = room.findAll('[data-row="0"]');
    await click(cells[0]!.element as HTMLElement);
    expect(router.currentRoute.value).toMatchObject({ name: 'map', params: { mapId: IDS.normalMap } });
    await click(part(/^Harbour stone, height.*not made yet$/, '[role="gridcell"]'));
    expect(router.currentRoute.value).toMatchObject({ name: 'flat', query: { ticket: IDS.maps } });
  });

  it('leads from a set to its receiver, or to the room of tiling material', async () => {
    const { part, router } = await openRoom(ContactSheet);
    await click(part('Float light'));
    expect(router.currentRoute.value).toMatchObject({ name: 'intake', query: { asset: IDS.light } });
    await click(part('Harbour stone'));
    expect(router.currentRoute.value).toMatchObject({ name: 'flat', params: { setId: IDS.stoneSet } });
  });

  it('makes all that waits by one press: each ticket once, and atlases again', async () => {
    const { part, calls } = await openRoom(ContactSheet);
    await click(part(/^Update \d+ maps?$/));
    const made = calls.filter(({ name }) => name === 'runTicket').map(({ params }) => params['id']);
    expect(made).toContain(IDS.maps);
    expect(new Set(made).size).toBe(made.length);
    expect(calls.filter(({ name }) => name === 'renewAtlas').map(({ params }) => params['id'])).toEqual([IDS.atlasRun]);
  });

  it('is walked by arrow keys', async () => {
    const { room } = await openRoom(ContactSheet);
    const at = (row: number, column: number): HTMLElement =>
      room.find<HTMLElement>(`[data-row="${row}"][data-column="${column}"]`).element;
    at(0, 0).focus();
    await press(at(0, 0), 'ArrowRight');
    expect(document.activeElement).toBe(at(0, 1));
    await press(at(0, 1), 'ArrowDown');
    expect(document.activeElement).toBe(at(1, 1));
    await press(at(1, 1), 'ArrowUp');
    await press(at(0, 1), 'ArrowLeft');
    expect(document.activeElement).toBe(at(0, 0));
  });

  it('without anything says what to do first, and takes files', async () => {
    const empty = fullProject({ assets: [], imageSets: [], tickets: [], runs: [] });
    const { text, part } = await openRoom(ContactSheet, {}, { project: empty });
    expect(text()).toContain('Import two meshes');
    expect(part('Choose files')).toBeTruthy();
  });

  it('with meshes and no ticket leads to the first one', async () => {
    const { part, router, text } = await openRoom(
      ContactSheet,
      {},
      { project: fullProject({ imageSets: [], tickets: [], runs: [] }) },
    );
    expect(text()).toContain('3 meshes imported');
    await click(part('New ticket'));
    expect(router.currentRoute.value.name).toBe('bake');
  });
});
