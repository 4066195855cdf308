// @vitest-environment happy-dom
import { mount, type VueWrapper } from '@vue/test-utils';
import { createPinia } from 'pinia';
import PrimeVue from 'primevue/config';
import { describe, expect, it } from 'vitest';
import { DERIVED_KINDS } from '@zographos/core/derive';
import { FIELD_KINDS } from '@zographos/core/pattern';
import { OPERATIONS, parseSettings } from '@zographos/operations';
import { IDS } from '../../../testing/fullProject.ts';
import { type } from '../../../testing/room.ts';
import { tryAll } from '../../../testing/tryAll.ts';
import { tooltip } from '../../../theme/tooltip.ts';
import AdjustEditor from './AdjustEditor.vue';
import CombineEditor from './combine/CombineEditor.vue';
import CutoutsEditor from './CutoutsEditor.vue';
import DeriveEditor from './DeriveEditor.vue';
import FieldEditor from './field/FieldEditor.vue';
import { FLAT_EDITING } from './flatEditors.ts';
import SeamlessEditor from './SeamlessEditor.vue';
import { COMPARED, COMPARED_AXES, withMethod } from './ways.ts';

const picture = { kind: 'basecolor', colorSpace: 'srgb' };
const SETTINGS = {
  seamless: parseSettings('seamless', { pictures: [picture], size: { width: 64, height: 64 } }),
  derive: parseSettings('derive', { maps: [...DERIVED_KINDS], from: 'color', picture }),
  field: parseSettings('field', {
    maps: [
      { kind: 'height' },
      {
        kind: 'basecolor',
        ramp: [
          { at: 0, color: '#000000' },
          { at: 1, color: '#ffffff' },
        ],
      },
    ],
    pictures: [picture],
    layers: [{ kind: 'bricks' }, { kind: 'gradient-noise', threshold: { at: 0.5, soft: 0.1 } }],
    size: { width: 64, height: 64 },
  }),
  cutouts: parseSettings('cutouts', {
    pictures: [picture],
    mask: { image: 0, pick: { channel: 3 } },
    size: { width: 64, height: 64 },
  }),
  combine: parseSettings('combine', {
    pictures: [picture],
    maps: [
      {
        kind: 'roughness',
        layers: [
          { pick: { channel: 1 }, adjust: [{ do: 'levels' }], match: { image: 0 } },
          { blend: 'multiply', mask: { by: 'height' } },
        ],
      },
      { kind: 'normal' },
    ],
    size: { width: 64, height: 64 },
  }),
} as const;
const EDITORS = {
  seamless: SeamlessEditor,
  derive: DeriveEditor,
  field: FieldEditor,
  combine: CombineEditor,
  cutouts: CutoutsEditor,
} as const;
const MORE = {
  seamless: { images: [IDS.photo] },
  derive: { image: IDS.photo, suggestion: null, profile: new Float32Array(16), depth: 0.02, alone: null },
  field: { images: [IDS.photo] },
  cutouts: { images: [IDS.photo], report: { places: [{ x: 0, y: 0, width: 8, height: 8 }], scale: 0.5 } },
  combine: { images: [IDS.photo], kind: 'roughness', own: [] },
} as const;

const mounted = (component: unknown, props: object): VueWrapper =>
  mount(component as never, {
    props: props as never,
    global: { plugins: [PrimeVue, createPinia()], directives: { tooltip } },
    attachTo: document.body,
  });

const cases = (['seamless', 'derive', 'field', 'combine', 'cutouts'] as const).flatMap((operation) =>
  Object.keys(FLAT_EDITING[operation].slots)
    .filter((slot) => slot !== 'adjust')
    .map((slot) => [operation, slot] as const),
);

describe('the editors of tiling material', () => {
  it.each(cases)('%s, %s: whatever is done with it, the schema takes', async (operation, slotName) => {
    const editor = mounted(EDITORS[operation], { settings: SETTINGS[operation], slotName, ...MORE[operation] });
    await tryAll(editor);
    const schema = OPERATIONS[operation].settings;
    const told = [...(editor.emitted('change') ?? []), ...(editor.emitted('move') ?? [])].map(([settings]) => settings);
    for (const settings of told) {
      const { error } = schema.safeParse(settings);
      expect(error?.issues.map(({ path, message }) => `${path.join('.')}: ${message}`)).toBeUndefined();
    }
    for (const [, what] of editor.emitted('change') ?? []) expect(what).toMatch(/^[a-z]/);
    editor.unmount();
  });

  it.each(cases)('%s, %s: every box that is ticked is told', async (operation, slotName) => {
    const editor = mounted(EDITORS[operation], { settings: SETTINGS[operation], slotName, ...MORE[operation] });
    for (const [i, box] of editor.findAll('input[type="checkbox"]').entries()) {
      await type(box.element, 'on');
      expect(editor.emitted('change'), `box ${i + 1}`).toHaveLength(i + 1);
    }
    editor.unmount();
  });

  it('of fields offer every pattern there is', () => {
    const editor = mounted(FieldEditor, { settings: SETTINGS.field, slotName: 'layers', ...MORE.field });
    const values = editor
      .findAllComponents({ name: 'Select' })
      .flatMap((select) =>
        ((select.props('options') as { value: unknown }[] | undefined) ?? []).map(({ value }) => value),
      );
    for (const kind of FIELD_KINDS) expect(values).toContain(kind);
    editor.unmount();
  });

  it('of adjustments add, change and remove them, in what the schema takes', async () => {
    const editor = mounted(AdjustEditor, { adjust: {}, kinds: ['basecolor', 'height'], kind: 'basecolor' });
    const told = (): { basecolor?: unknown[] } => editor.emitted('change')!.at(-1)![0] as { basecolor?: unknown[] };
    const names = editor.findAll('.ways button').map((button) => button.text());
    expect(names.length).toBeGreaterThan(5);
    for (const [i, name] of names.entries()) {
      await editor.findAll('.ways button')[i]!.trigger('click');
      expect(told().basecolor, name).toHaveLength(i + 1);
      await editor.setProps({ adjust: told() });
    }
    await tryAll(editor);
    const schema = OPERATIONS.field.settings;
    for (const [adjust] of [...editor.emitted('change')!, ...editor.emitted('move')!]) {
      const { error } = schema.safeParse({ ...SETTINGS.field, adjust });
      expect(error?.issues.map(({ path, message }) => `${path.join('.')}: ${message}`)).toBeUndefined();
    }
    editor.unmount();
  });
});

describe('ways that are compared', () => {
  it('change the axes that are asked for and nothing else', () => {
    const settings = SETTINGS.seamless;
    for (const method of COMPARED) {
      for (const axes of COMPARED_AXES) {
        const next = withMethod(settings, method, axes);
        expect(OPERATIONS.seamless.settings.safeParse(next).success).toBe(true);
        if (method === 'patches') expect(next).toEqual({ ...settings, way: 'patches' });
        else {
          expect(next.ends.across.method).toBe(axes === 'up' ? settings.ends.across.method : method);
          expect(next.ends.up.method).toBe(axes === 'across' ? settings.ends.up.method : method);
        }
      }
    }
  });
});
