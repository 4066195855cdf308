// @vitest-environment happy-dom
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { BakeTicket } from '@zographos/contracts';
import {
  DEFAULT_LAYOUT,
  DEFAULT_MERGE,
  layoutOperation,
  layoutSettings,
  mergeOperation,
  mergeSettings,
} from '@zographos/operations';
import { fullProject, IDS } from '../testing/fullProject.ts';
import { click, openRoom, settle, tell, type, type Room } from '../testing/room.ts';
import LayoutSlot from './layout/LayoutSlot.vue';
import MergeSlot from './merge/MergeSlot.vue';
import SentenceSlots from './SentenceSlots.vue';
import TicketSentence from './TicketSentence.vue';

afterEach(() => vi.unstubAllGlobals());

const names = { receivers: ['Float light', 'Rope'], sources: [] };

/** Does once what an artist can do with each part of an editor; what it then tells is given back. */
async function told({ room }: Room): Promise<unknown[]> {
  for (const button of room.findAll('button.p-togglebutton, button.plain-button'))
    await click(button.element as HTMLElement);
  for (const box of room.findAll('input[type="checkbox"]')) await type(box.element, 'on');
  for (const number of room.findAllComponents({ name: 'InputNumber' })) {
    for (const end of ['min', 'max'] as const) {
      const value = number.props(end) as number | undefined;
      if (value !== undefined) tell(number, 'update:modelValue', value);
    }
  }
  for (const slider of room.findAllComponents({ name: 'Slider' })) {
    for (const end of ['min', 'max'] as const) tell(slider, 'update:modelValue', slider.props(end));
  }
  await settle();
  return (room.emitted('change') ?? []).map(([part]) => part);
}

const slotsOf = (sentences: readonly { slot?: string }[][]): string[] => [
  ...new Set(sentences.flat().flatMap(({ slot }) => (slot ? [slot] : []))),
];
const LAYOUTS = [
  DEFAULT_LAYOUT,
  { ...DEFAULT_LAYOUT, method: 'pack' as const },
  { ...DEFAULT_LAYOUT, tiles: [1001, 1002] },
];
const layoutSlots = slotsOf(
  LAYOUTS.flatMap((settings) => [
    layoutOperation.sentence(settings, names, 'mm'),
    ...layoutOperation.moreSentences(settings, names, 'mm'),
  ]),
);
const mergeSlots = slotsOf([mergeOperation.sentence(DEFAULT_MERGE, names, 'mm')]);

describe('the slots of a layout', () => {
  it.each(layoutSlots)('%s has an editor, whose values the schema takes', async (slotName) => {
    for (const settings of LAYOUTS) {
      const props = { settings, meshes: [IDS.light, IDS.bare], slotName, unit: 'mm' };
      const opened = await openRoom(LayoutSlot, props);
      expect(opened.room.find('h3').exists(), slotName).toBe(true);
      for (const part of await told(opened)) {
        const { error } = layoutSettings.safeParse({ ...settings, ...(part as object) });
        expect(error?.issues.map(({ path, message }) => `${path.join('.')}: ${message}`)).toBeUndefined();
      }
    }
  });
});

describe('the slots of a merge', () => {
  it.each(mergeSlots)('%s has an editor, whose values the schema takes', async (slotName) => {
    for (const settings of [DEFAULT_MERGE, { ...DEFAULT_MERGE, layout: null }]) {
      const opened = await openRoom(MergeSlot, { settings, meshes: [IDS.light], slotName });
      expect(opened.room.find('h3').exists(), slotName).toBe(true);
      for (const part of await told(opened)) {
        const { error } = mergeSettings.safeParse({ ...settings, ...(part as object) });
        expect(error?.issues.map(({ path, message }) => `${path.join('.')}: ${message}`)).toBeUndefined();
      }
    }
  });
});

describe('a sentence', () => {
  const parts = [
    { text: 'Bake ' },
    { text: 'normal', slot: 'maps' },
    { text: ' at ' },
    { text: '512 px', slot: 'size' },
    { text: '.' },
  ];

  it('opens the editor of the slot that is pressed, and of another after it', async () => {
    const { room, part, text } = await openRoom({
      components: { SentenceSlots },
      data: () => ({ parts }),
      template: '<SentenceSlots v-slot="{ slotName }" :parts="parts">editor of {{ slotName }}</SentenceSlots>',
    });
    expect(room.text().replace(/\s+/g, ' ')).toBe('Bake normal at 512 px.');
    await click(part('normal'));
    expect(text()).toContain('editor of maps');
    await click(part('512 px'));
    expect(text()).toContain('editor of size');
  });

  it('of a ticket folds away what is seldom changed', async () => {
    const ticket = fullProject().tickets.find(({ id }) => id === IDS.bake) as BakeTicket;
    const { text, part } = await openRoom(TicketSentence, { ticket });
    expect(text()).not.toContain('UV 1');
    await click(part('More settings'));
    expect(text()).toMatch(/On UV 1 in UDIM tile 1001; sources: all, not repeated, original scale\./);
    await click(part('Fewer settings'));
    expect(text()).not.toContain('original scale');
  });
});
