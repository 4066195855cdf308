// @vitest-environment happy-dom
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { BakeTicket } from '@zographos/contracts';
import type { BakeOperationSettings } from '@zographos/operations';
import { fullProject } from '../../../testing/fullProject.ts';
import { click, openRoom } from '../../../testing/room.ts';
import RepeatSlot from './RepeatSlot.vue';

afterEach(() => vi.unstubAllGlobals());

async function openSlot(repeat: BakeOperationSettings['repeat'], lattice: unknown) {
  const project = fullProject();
  const ticket = project.tickets.find((each): each is BakeTicket => each.operation === 'bake')!;
  ticket.settings = { ...ticket.settings, repeat };
  return openRoom(RepeatSlot, { ticket }, { project, answers: { measureRepeat: lattice, changeTicket: ticket } });
}

describe('the repeats of a source', () => {
  it('show columns, rows that follow, and how far they are from regular', async () => {
    const hexagonal = { grid: 'hexagonal', columns: 6, rows: 'follow' } as const;
    const { text } = await openSlot(hexagonal, { columns: 6, rows: 6, stretch: 1.155 });
    expect(text()).toMatch(/6 × 6: rows lie 1[56] ?% farther apart than evenly spaced ones/);
    const even = await openSlot(hexagonal, { columns: 7, rows: 8, stretch: 1.001 });
    expect(even.text()).toContain('7 × 8, evenly spaced.');
  });

  it('have rows of their own once these no longer follow, an even number where rows are moved', async () => {
    const staggered = { grid: 'staggered', columns: 5, rows: 'follow' } as const;
    const { room, calls } = await openSlot(staggered, { columns: 5, rows: 6, stretch: 0.83 });
    await click(room.find('input[type="checkbox"]').element as HTMLElement);
    room.find('input[type="checkbox"]').element.dispatchEvent(new Event('change', { bubbles: true }));
    const changed = calls.find(({ name }) => name === 'changeTicket')!.body as { settings: BakeOperationSettings };
    expect(changed.settings.repeat).toEqual({ grid: 'staggered', columns: 5, rows: 6 });
  });

  it('say nothing of a grid that cannot be measured yet', async () => {
    const { text } = await openSlot({ grid: 'square', columns: 2, rows: 2 }, new Error('no source'));
    expect(text()).not.toMatch(/evenly/);
  });
});
