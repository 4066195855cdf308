// @vitest-environment happy-dom
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { flushPromises } from '@vue/test-utils';
import type { DefineComponent } from 'vue';
import { BAKED_KINDS } from '@zographos/core/image';
import type { BakeTicket, LightTicket } from '@zographos/contracts';
import {
  bakeSettings,
  DEFAULT_BAKE,
  lightSettings,
  OPERATIONS,
  parseSettings,
  type BakeOperationSettings,
  type LightSettings,
} from '@zographos/operations';
import { FLAT_EDITING, flatSlotTitle } from '../rooms/flat/editors/flatEditors.ts';
import { answeringServer, mountInStudio, openProject, smallProject, type Asked } from '../testing/studio.ts';
import { litProject } from '../testing/litProject.ts';
import { tryAll } from '../testing/tryAll.ts';
import { newLight } from './light/newLight.ts';
import { SLOT_EDITORS, slotEditorOf } from './slotEditors.ts';

/** Settings that between them make every slot of the sentences appear. */
const VARIANTS: Partial<BakeOperationSettings>[] = [
  {},
  {
    maps: [...BAKED_KINDS],
    oversize: 2,
    sourceScale: 0.1,
    match: { receiverEndings: ['_low'], sourceEndings: ['_high'] },
  },
  { reach: 'fitted', tiles: [1001, 1002], padding: 'all', aim: 'rays' },
  { aim: 'shared' },
  { aim: 'nearest' },
];
const names = {
  receivers: ['Float light'],
  sources: ['Float dense'],
  uvSets: ['UV 1', 'UV 2'],
  pictures: [],
};

const slotsOfBakes = new Set(
  VARIANTS.flatMap((variant) => {
    const settings = bakeSettings.parse({ ...DEFAULT_BAKE, ...variant });
    const parts = [
      OPERATIONS.bake.sentence(settings, names, 'mm'),
      ...OPERATIONS.bake.moreSentences(settings, names, 'mm'),
    ].flat();
    return parts.flatMap(({ slot }) => (slot ? [slot] : []));
  }),
);

describe('the slots of a bake', () => {
  let asked: Asked[];
  beforeEach(() => {
    const project = smallProject();
    asked = answeringServer(project);
    openProject(project);
  });
  afterEach(() => vi.unstubAllGlobals());

  it('are many, and each has an editor', () => {
    expect(slotsOfBakes.size).toBeGreaterThan(15);
    for (const slot of slotsOfBakes) expect(slotEditorOf('bake', slot), slot).toBeTruthy();
  });

  it('that nobody knows are an error, and not the editor of another', () => {
    expect(() => slotEditorOf('bake', 'flavour')).toThrow(/Nothing edits the slot “flavour”/);
  });

  it.each(Object.keys(SLOT_EDITORS.bake!))(
    '%s: shows itself, and every choice it offers is one that the schema takes',
    async (slot) => {
      const warned = vi.spyOn(console, 'warn').mockImplementation(() => {});
      const ticket = smallProject({ maps: BAKED_KINDS }).tickets[0] as BakeTicket;
      const editor = mountInStudio(slotEditorOf('bake', slot) as DefineComponent, { ticket, slotName: slot });
      await flushPromises();
      for (const button of editor.findAll('button.p-togglebutton, input[type="checkbox"]')) {
        await button.trigger(button.element.tagName === 'INPUT' ? 'change' : 'click');
        await flushPromises();
      }
      const sent = asked.filter(({ method }) => method === 'PATCH').map(({ body }) => body as { settings?: unknown });
      for (const { settings } of sent) if (settings) expect(bakeSettings.safeParse(settings).error).toBeUndefined();
      expect(warned.mock.calls.filter(([text]) => String(text).includes('[Vue warn]'))).toEqual([]);
      editor.unmount();
      warned.mockRestore();
    },
  );
});

describe('the slots of light', () => {
  afterEach(() => vi.unstubAllGlobals());
  const lit = (settings: Partial<LightSettings> = {}) => litProject(settings).tickets.at(-1) as LightTicket;
  const { settings } = lit();
  const slots = [
    OPERATIONS.light.sentence(settings, names, 'mm'),
    ...OPERATIONS.light.moreSentences(settings, names, 'mm'),
  ].flat();

  it('each have an editor', () => {
    for (const { slot } of slots) if (slot) expect(slotEditorOf('light', slot), slot).toBeTruthy();
  });

  it.each([
    ...Object.keys(SLOT_EDITORS.light!).map((slot) => [slot, {}] as const),
    ['environment', { environment: { kind: 'clear', elevation: 20 } }],
    ['environment', { environment: { kind: 'picture' } }],
    ['seenFrom', { seenFrom: [1, 2, 3] }],
    ['materials', { materials: 'maps', worn: [{ mesh: 0, uvSet: 0, kind: 'normal', tile: 1001, picture: 0 }] }],
    ...(['sun', 'point', 'disk', 'rectangle', 'spot'] as const).map(
      (kind) => ['lights', { lights: [newLight(kind, { centre: [0, 0, 0], radius: 5 }, 1)] }] as const,
    ),
  ] as [string, Partial<LightSettings>][])('%s %j offers but what the schema takes', async (slot, change) => {
    const project = litProject(change);
    const asked = answeringServer(project);
    openProject(project);
    const editor = mountInStudio(slotEditorOf('light', slot) as DefineComponent, {
      ticket: lit(change),
      slotName: slot,
    });
    await flushPromises();
    await tryAll(editor);
    const sent = asked.filter(({ method }) => method === 'PATCH').map(({ body }) => body as { settings?: unknown });
    for (const { settings: each } of sent) if (each) expect(lightSettings.safeParse(each).error).toBeUndefined();
    editor.unmount();
  });
});

describe('the slots of tiling materials', () => {
  it.each(['seamless', 'derive', 'field'] as const)(
    '%s: each has a title, and an unknown one is an error',
    (operation) => {
      const settings = {
        seamless: { pictures: [{ kind: 'basecolor', colorSpace: 'srgb' }], size: { width: 64, height: 64 } },
        derive: { maps: ['height', 'normal'], from: 'color', picture: { kind: 'basecolor', colorSpace: 'srgb' } },
        field: { maps: [{ kind: 'height' }], layers: [{ kind: 'bricks' }], size: { width: 64, height: 64 } },
      }[operation];
      const parts = OPERATIONS[operation].sentence(
        parseSettings(operation, settings) as never,
        { receivers: [], sources: [], pictures: ['Stone'] },
        'mm',
      );
      const slots = parts.flatMap(({ slot }) => (slot ? [slot] : []));
      expect(slots.length).toBeGreaterThan(2);
      for (const slot of slots) expect(flatSlotTitle(operation, slot)).toBe(FLAT_EDITING[operation].slots[slot]);
      expect(() => flatSlotTitle(operation, 'flavour')).toThrow(/Nothing edits/);
    },
  );
});
