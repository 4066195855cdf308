// @vitest-environment happy-dom
import { afterEach, describe, expect, it, vi } from 'vitest';
import { fullProject, IDS } from '../../testing/fullProject.ts';
import { click, openRoom, type } from '../../testing/room.ts';
import MapRoom from './MapRoom.vue';

afterEach(() => vi.unstubAllGlobals());

const props = { projectId: IDS.project, mapId: IDS.normalMap };

describe('a map', () => {
  it('is named by its set and kind, with its distribution by channel and what its run has found', async () => {
    const { room, text } = await openRoom(MapRoom, props);
    expect(room.find('h1').text()).toBe('Float light, normal');
    const rows = room.findAll('tbody tr').map((row) => row.findAll('td').map((cell) => cell.text()));
    expect(rows).toEqual([
      ['red', '0', '0.5', '1'],
      ['green', '0.1', '0.5', '1'],
      ['blue', '0.2', '0.5', '1'],
    ]);
    expect(text()).toContain('No ray hit the source at 40 texels.');
  });

  it('leads to the ticket that makes it, or to the atlas that it is of', async () => {
    const { part, router } = await openRoom(MapRoom, props);
    await click(part('Open ticket'));
    expect(router.currentRoute.value).toMatchObject({ name: 'bake', params: { ticketId: IDS.bake } });
    const other = await openRoom(MapRoom, { ...props, mapId: IDS.atlasMap });
    await click(other.part('Open atlas'));
    expect(other.router.currentRoute.value).toMatchObject({ name: 'atlas', query: { atlas: 'Quay atlas' } });
  });

  it('is offered in every format, with what it is given on its way', async () => {
    const { part } = await openRoom(MapRoom, props);
    await click(part('Download'));
    const address = (): URLSearchParams => new URLSearchParams(part('PNG, 16 bit').getAttribute('href')!.split('?')[1]);
    expect(Object.fromEntries(address())).toEqual({ format: 'png16' });
    await type(document.querySelector('.p-popover input[type="checkbox"]')!, 'on');
    expect(address().get('alpha')).toBe('1');
  });

  it('that is not there leads back to the contact sheet', async () => {
    const { part, text, router } = await openRoom(MapRoom, { ...props, mapId: IDS.heightMap });
    expect(text()).toContain('This map has not been made yet, or was deleted.');
    await click(part('Back to the contact sheet'));
    expect(router.currentRoute.value.name).toBe('contactSheet');
    expect(fullProject().imageSets).toHaveLength(3);
  });
});
