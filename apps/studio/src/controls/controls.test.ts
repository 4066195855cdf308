// @vitest-environment happy-dom
import { mount, type VueWrapper } from '@vue/test-utils';
import { createPinia, setActivePinia } from 'pinia';
import PrimeVue from 'primevue/config';
import ToastService from 'primevue/toastservice';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { z } from 'zod';
import { useNotices } from '../stores/notices.ts';
import { press, settle, tell, type } from '../testing/room.ts';
import { tooltip } from '../theme/tooltip.ts';
import CheckLine from './CheckLine.vue';
import Choice from './Choice.vue';
import ColorField from './ColorField.vue';
import Columns from './Columns.vue';
import FilePicker from './FilePicker.vue';
import { bytes, clockOf, count, dayOf, measure, percent, seconds, whole } from './format.ts';
import { isTyping } from './isTyping.ts';
import KeysHelp from '../frame/KeysHelp.vue';
import LengthField from './LengthField.vue';
import { defaultOf, lengthOf, limitsOf, scaled } from './limits.ts';
import NameField from './NameField.vue';
import NoticeToasts from '../frame/NoticeToasts.vue';
import NumberField from './NumberField.vue';
import SizeFields from './SizeFields.vue';

const mounted = (component: unknown, props: object = {}, slots: Record<string, string> = {}): VueWrapper =>
  mount(component as never, {
    props: props as never,
    slots,
    global: { plugins: [PrimeVue, ToastService], directives: { tooltip } },
    attachTo: document.body,
  });

describe('numbers as the studio writes them', () => {
  it('are short and the same everywhere', () => {
    expect([1234567, 0].map(whole)).toEqual(
      ['1\u2009234\u2009567', '0'].map((text) => text.replace(/\u2009/g, whole(1000)[1]!)),
    );
    expect([0.123456, 1200, 3e-7].map(measure)).toEqual(['0.1235', '1200', '3e-7']);
    expect([0, 0.256, 1].map(percent)).toEqual(['0\u2009%', '26\u2009%', '100\u2009%']);
    expect([0.04, 9.94, 12.4, 99.4, 180].map(seconds)).toEqual(['0.0 s', '9.9 s', '12 s', '99 s', '3 min']);
    expect([0, 999, 1500, 12_000, 2.5e6, 3e9].map(bytes)).toEqual([
      '0 B',
      '999 B',
      '1.5 kB',
      '12 kB',
      '2.5 MB',
      '3.0 GB',
    ]);
    expect([count(1, 'mesh', 'meshes'), count(2, 'mesh', 'meshes'), count(0, 'map')]).toEqual([
      '1 mesh',
      '2 meshes',
      '0 maps',
    ]);
    expect(dayOf('2026-05-04T10:20:30.000Z')).toBe('4 May 2026');
    expect(clockOf('2026-05-04T10:20:30.000Z')).toMatch(/^\d\d:\d\d$/);
  });
});

describe('limits of controls', () => {
  const schema = z.strictObject({
    samples: z.int().min(1).max(16).default(4),
    reach: z.union([z.literal('auto'), z.number().positive()]),
    inner: z.strictObject({ share: z.number().min(0).max(1).optional() }).prefault({}),
    list: z.array(z.tuple([z.number().max(3), z.int().positive()])),
    repeat: z.union([z.literal('none'), z.strictObject({ rows: z.int().min(1).max(64) })]),
    weights: z.record(z.string(), z.number().positive().max(100)),
    name: z.string().trim().max(60),
    remark: z.string(),
  });

  it('are those of the schema, through defaults, unions and what may be left out', () => {
    expect(limitsOf(schema, 'samples')).toEqual({ min: 1, max: 16 });
    expect(limitsOf(schema, 'reach')).toEqual({ min: 0.000001 });
    expect(limitsOf(schema, 'inner.share')).toEqual({ min: 0, max: 1 });
    expect(limitsOf(schema, 'list.0.0')).toEqual({ max: 3 });
    expect(limitsOf(schema, 'list.0.1')).toEqual({ min: 1 });
    expect(limitsOf(schema, 'repeat.rows')).toEqual({ min: 1, max: 64 });
    expect(limitsOf(schema, 'weights.any', 3)).toEqual({ min: 0.001, max: 100 });
  });

  it('are taken by the schema, and what lies beyond is not', () => {
    const numbers = fc.double({ noNaN: true, min: -1e6, max: 1e6 });
    fc.assert(
      fc.property(numbers, numbers, fc.boolean(), (a, b, isAbove) => {
        const [low, high] = [Math.min(a, b), Math.max(a, b) + 1];
        const number = (isAbove ? z.number().gt(low) : z.number().min(low)).max(high);
        const { min, max } = limitsOf(z.strictObject({ number }), 'number', 3);
        for (const end of [min!, max!]) expect(number.safeParse(end).success).toBe(true);
        for (const beyond of [min! - 0.01, max! + 0.01]) expect(number.safeParse(beyond).success).toBe(false);
      }),
    );
  });

  it('are told in per cent, for texts, and with what was meant at first', () => {
    expect(scaled(limitsOf(schema, 'inner.share'), 100)).toEqual({ min: 0, max: 100 });
    expect(scaled({}, 100)).toEqual({});
    expect(lengthOf(schema, 'name')).toBe(60);
    expect(defaultOf(schema, 'samples')).toBe(4);
  });

  it('of what is no number, or not there, are a fault', () => {
    expect(() => limitsOf(schema, 'name')).toThrow('The setting “name” is no number.');
    expect(() => limitsOf(schema, 'flavour')).toThrow('There is no setting “flavour”');
    expect(() => defaultOf(schema, 'reach')).toThrow('has no default');
    expect(() => lengthOf(schema, 'remark')).toThrow('no text with a greatest length');
  });
});

describe('controls', () => {
  it('a box with its words tells what it becomes, and is found by them', async () => {
    const box = mounted(CheckLine, { label: 'Dither', value: false });
    const input = box.find('input').element;
    expect(document.querySelector(`label[for="${input.id}"]`)!.textContent).toBe('Dither');
    await type(input, 'on');
    expect(box.emitted('change')).toEqual([[true]]);
    box.unmount();
  });

  it('a choice tells another one, and nothing for the one that holds', async () => {
    const options = [
      { value: 'up', label: 'Y up' },
      { value: 'down', label: 'Y down' },
    ];
    const choice = mounted(Choice, { label: 'Normals', value: 'up', options });
    const [up, down] = choice.findAll('button');
    await up!.trigger('click');
    expect(choice.emitted('choose')).toBeUndefined();
    await down!.trigger('click');
    expect(choice.emitted('choose')).toEqual([['down']]);
    choice.unmount();
  });

  it('a colour is typed with or without its mark, and anything else is put back', async () => {
    const field = mounted(ColorField, { label: 'Tint', value: '#808080' });
    const input = field.find<HTMLInputElement>('input.p-inputtext').element;
    await type(input, ' FFaa00 ');
    expect(field.emitted('change')).toEqual([['#ffaa00']]);
    await type(input, 'mauve');
    expect(field.find<HTMLInputElement>('input.p-inputtext').element.value).toBe('#808080');
    expect(field.emitted('change')).toHaveLength(1);
    field.unmount();
  });

  it('a colour that is picked is told as it moves, and kept when the field closes', async () => {
    const field = mounted(ColorField, { label: 'Tint', value: '#808080' });
    const picker = field.findComponent({ name: 'ColorPicker' });
    tell(picker, 'update:modelValue', '112233');
    tell(picker, 'update:modelValue', '112244');
    expect(field.emitted('move')).toEqual([['#112233'], ['#112244']]);
    expect(field.emitted('change')).toBeUndefined();
    tell(picker, 'hide');
    await settle();
    expect(field.emitted('change')).toEqual([['#112244']]);
    field.unmount();
  });

  it('a length that is empty is found, and zero means that unless it is a length', () => {
    const told = (value: number | null, mayBeZero: boolean): unknown => {
      const field = mounted(LengthField, { label: 'Out', value: 2, unit: 'mm', auto: 'measured', mayBeZero });
      tell(field.findComponent({ name: 'InputNumber' }), 'update:modelValue', value);
      const [[told]] = field.emitted('change') as [[unknown]];
      field.unmount();
      return told;
    };
    expect([told(null, false), told(0, false), told(0, true), told(3, false)]).toEqual(['auto', 'auto', 0, 3]);
  });

  it('a size is one of the squares, or any two sides', async () => {
    const fields = mounted(SizeFields, { size: { width: 512, height: 1024 } });
    await fields
      .findAll('button')
      .find((button) => button.text() === '2048')!
      .trigger('click');
    const [wide] = fields.findAllComponents({ name: 'InputNumber' });
    tell(wide!, 'update:modelValue', 700);
    tell(wide!, 'update:modelValue', null);
    expect(fields.emitted('change')).toEqual([[{ width: 2048, height: 2048 }], [{ width: 700, height: 1024 }]]);
    fields.unmount();
  });

  it('a name that is left empty is the usual one', async () => {
    const field = mounted(NameField, { value: 'Quay', label: 'Name', usual: 'Atlas', length: 40 });
    const input = field.find('input').element;
    await type(input, '  Mole ');
    await type(input, '  ');
    expect(field.emitted('change')).toEqual([['Mole'], ['Atlas']]);
    field.unmount();
  });

  it('a number shows its limits to whoever types', () => {
    const field = mounted(NumberField, { label: 'Samples', value: 4, min: 1, max: 16 });
    expect(field.findComponent({ name: 'InputNumber' }).props()).toMatchObject({ min: 1, max: 16 });
    field.unmount();
  });

  it('files that are chosen are told, and the same can be chosen again', async () => {
    const picker = mounted(FilePicker, { label: 'Import files' });
    const input = picker.find<HTMLInputElement>('input').element;
    Object.defineProperty(input, 'files', { value: [new File(['o a'], 'a.obj')] });
    input.dispatchEvent(new Event('change'));
    await settle();
    expect((picker.emitted('files')![0]![0] as File[]).map(({ name }) => name)).toEqual(['a.obj']);
    expect(input.value).toBe('');
    expect(input.accept).toContain('.glb');
    picker.unmount();
  });

  it('views side by side are kept as wide as they were dragged, room by room', () => {
    localStorage.setItem('zographos columns bake', '[20,80]');
    const columns = [
      { name: 'model', width: 40, least: 10 },
      { name: 'map', width: 60, least: 10 },
    ];
    const bake = mounted(Columns, { room: 'bake', columns }, { model: '<b>left</b>', map: '<b>right</b>' });
    expect(bake.text()).toBe('leftright');
    expect(bake.findAll('[role="separator"]')).toHaveLength(1);
    const wide = (wrapper: VueWrapper): string => wrapper.find<HTMLElement>('.column').element.style.flexBasis;
    const other = mounted(Columns, { room: 'uv', columns });
    expect(wide(bake)).toContain('20%');
    expect(wide(other)).toContain('40%');
    bake.unmount();
    other.unmount();
  });
});

describe('keys', () => {
  it('are not taken from somebody who types', () => {
    const at = (tag: string): boolean => {
      const element = document.body.appendChild(document.createElement(tag));
      let typing = false;
      element.addEventListener('keydown', (event) => (typing = isTyping(event)));
      element.dispatchEvent(new KeyboardEvent('keydown', { key: 'r', bubbles: true }));
      element.remove();
      return typing;
    };
    expect([at('input'), at('textarea'), at('div')]).toEqual([true, true, false]);
  });

  it('are listed in a dialog', async () => {
    const help = mounted(KeysHelp, { visible: true });
    await settle();
    expect(document.body.textContent).toContain('Ctrl');
    await press(document, 'Escape');
    help.unmount();
  });
});

describe('toasts', () => {
  it('announce errors at once and keep them; what is done goes by itself', async () => {
    setActivePinia(createPinia());
    const toasts = mounted(NoticeToasts);
    const notices = useNotices();
    notices.say('error', 'The file is torn. Copy it again.');
    notices.say('done', 'Saved.');
    await settle();
    const messages = toasts.findComponent({ name: 'Toast' });
    const told = [...document.querySelectorAll('[role="alert"]')].map((alert) => alert.textContent);
    expect(told).toEqual(['The file is torn. Copy it again.', 'Saved.']);
    tell(messages, 'close', { message: { detail: 'The file is torn. Copy it again.' } });
    expect(notices.notices.map(({ text }) => text)).toEqual(['Saved.']);
    toasts.unmount();
  });
});
