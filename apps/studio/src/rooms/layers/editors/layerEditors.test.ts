// @vitest-environment happy-dom
import { mount, type VueWrapper } from '@vue/test-utils';
import { createPinia } from 'pinia';
import PrimeVue from 'primevue/config';
import ToastService from 'primevue/toastservice';
import { describe, expect, it } from 'vitest';
import type { Layer, LayerMask } from '@zographos/core/layers';
import { layer as layerSchema, MEASURE_LABELS, optionsOf } from '@zographos/operations';
import { tryAll } from '../../../testing/tryAll.ts';
import { tooltip } from '../../../theme/tooltip.ts';
import { made } from '../adding/newLayers.ts';
import BlendEditor from './BlendEditor.vue';
import ContentEditor from './ContentEditor.vue';
import MaskEditor from './MaskEditor.vue';
import { newStep } from './newStep.ts';

const base = { id: 'l', name: 'Layer' };
const decal = {
  ...{ on: 'surface', center: [0, 0, 0], normal: [0, 0, 1], up: [0, 1, 0], width: 20, height: 10, depth: 5 },
  ...{ angle: 80, falloff: 10 },
};
const LAYERS: Record<string, Layer> = {
  plain: made({ ...base, content: 'plain', values: { basecolor: '#112233', roughness: 0.5, height: 1, maskred: 1 } }),
  tiling: made({ ...base, content: 'tiling', material: 0, channels: ['basecolor', 'normal'] }),
  'tiling along an axis': made({
    ...{ ...base, content: 'tiling', material: 0, channels: ['basecolor'] },
    projection: { by: 'planar', direction: [0, 0, 1] },
  }),
  'picture as decal': made({
    ...base,
    content: 'picture',
    picture: 0,
    channels: ['basecolor', 'height'],
    place: decal,
  }),
  'picture on an island': made({
    ...{ ...base, content: 'picture', picture: 0, channels: ['basecolor'] },
    place: { on: 'island', triangle: 0, turn: 0, mirror: false, fill: true },
  }),
  field: made({
    ...{ ...base, content: 'field', field: { size: 10 }, values: { roughness: [0.2, 0.8] } },
    ramp: [
      { at: 0, color: '#000000' },
      { at: 1, color: '#ffffff' },
    ],
  }),
  painted: made({ ...base, content: 'painted', channels: ['basecolor'] }),
  maps: made({ ...base, content: 'maps', channels: ['normal'] }),
  adjustment: made({
    ...{ ...base, content: 'adjustment', channels: ['basecolor'] },
    steps: [{ do: 'levels', black: 0, white: 1, gamma: 1 }],
  }),
};
const surface = { extent: 600, triangles: 1200, slots: ['Steel', 'Rope'], objects: ['Bell'] };
const pictures = [{ id: 'a', name: 'grain' }];

const mounted = (component: unknown, props: object): VueWrapper =>
  mount(component as never, {
    props: props as never,
    // Letters are drawn on a canvas, which is not here.
    global: {
      ...{ plugins: [PrimeVue, ToastService, createPinia()], directives: { tooltip } },
      stubs: { LetteringEditor: true },
    },
    attachTo: document.body,
  });

/** What an editor has told, each of which the schema takes. */
function requireSound(editor: VueWrapper, layerOf: (told: unknown) => unknown): number {
  const told = [...(editor.emitted('change') ?? []), ...(editor.emitted('move') ?? [])].map(([value]) => value);
  for (const value of told) {
    const { error } = layerSchema.safeParse(layerOf(value));
    expect(error?.issues.map(({ path, message }) => `${path.join('.')}: ${message}`)).toBeUndefined();
  }
  return told.length;
}

describe('the editors of a layer', () => {
  it.each(Object.keys(LAYERS))('%s: whatever is done with it, the schema takes', async (name) => {
    const layer = LAYERS[name]!;
    const content = mounted(ContentEditor, {
      ...{ layer, extent: 600, pictures, placing: false, histogram: null },
      ...{ materials: [{ id: 'm', name: 'Oak' }], material: 'm' },
    });
    await tryAll(content);
    expect(requireSound(content, (told) => told)).toBeGreaterThan(0);
    content.unmount();
    const blend = mounted(BlendEditor, { layer });
    await tryAll(blend);
    expect(requireSound(blend, (told) => told)).toBeGreaterThan(3);
    blend.unmount();
  });

  const measures = optionsOf(MEASURE_LABELS).map(({ value }) => value);
  it.each(measures)('a mask that goes by %s: whatever is done with it, the schema takes', async (measure) => {
    const mask: LayerMask = { ...LAYERS.plain!.mask, steps: [newStep(measure, surface)] };
    const editor = mounted(MaskEditor, {
      ...{ mask, surface, picking: null, placing: null, title: 'Layer', faceAngle: 0, byLasso: false },
      ...{ histogram: Array.from({ length: 64 }, () => 1), pictures },
    });
    await tryAll(editor);
    expect(requireSound(editor, (told) => ({ ...LAYERS.plain, mask: told }))).toBeGreaterThan(5);
    editor.unmount();
  });
});
