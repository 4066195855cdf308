// @vitest-environment happy-dom
import { mount, type VueWrapper } from '@vue/test-utils';
import { createPinia } from 'pinia';
import PrimeVue from 'primevue/config';
import ToastService from 'primevue/toastservice';
import { describe, expect, it } from 'vitest';
import { BRUSH_TOOLS, POINT } from '@zographos/core/layers';
import { recordOfStroke, strokeRecord, tilingSettings } from '@zographos/operations';
import { tryAll } from '../../../testing/tryAll.ts';
import { tooltip } from '../../../theme/tooltip.ts';
import { PLAIN_PICTURE, usualPen, type Pen } from './pen.ts';
import PenPanel from './PenPanel.vue';

const opened = (pen: Pen): VueWrapper =>
  mount(PenPanel, {
    props: {
      ...{ pen, extent: 600, middle: [0, 0, 0], pictures: [{ id: 'a', name: 'grain' }], overlaps: 2 },
      ...{
        materials: [{ id: 'm', name: 'Oak' }],
        materialsOfStack: [{ set: 'm', name: 'Oak' }],
        hasCloneSource: false,
      },
    },
    global: { plugins: [PrimeVue, ToastService, createPinia()], directives: { tooltip } },
    attachTo: document.body,
  });
const told = (panel: VueWrapper): Pen[] => (panel.emitted('change') ?? []).map(([pen]) => pen as Pen);
const usual = usualPen(600, false);
const tiling = tilingSettings.parse({ material: 0, channels: ['basecolor'] });
const PENS: Record<string, Pen> = {
  'a plain brush': usual,
  'a brush in pixels': { ...usual, screenRadius: 24 },
  'a tiling material': { ...usual, paint: { tiling } },
  'a mask': usualPen(600, true),
  'an image': { ...usual, brush: { ...usual.brush, picture: PLAIN_PICTURE } },
  'a tiled image': { ...usual, brush: { ...usual.brush, picture: { ...PLAIN_PICTURE, lies: 'surface' } } },
  'a stencil': { ...usual, brush: { ...usual.brush, picture: { ...PLAIN_PICTURE, lies: 'view' } } },
  'a mirror': { ...usual, brush: { ...usual.brush, symmetry: { by: 'mirror', axis: 0, at: 0 } } },
  'faces by angle': { ...usual, brush: { ...usual.brush, tool: 'fill', fill: 'angle' } },
};

describe('what is painted with', () => {
  it.each(Object.keys(PENS))(
    '%s: whatever is done with any slot of its sentence, a stroke can be kept',
    async (name) => {
      const panel = opened(PENS[name]!);
      for (const slot of panel.findAll('button.slot')) {
        await slot.trigger('click');
        await tryAll(panel);
      }
      const pens = told(panel);
      expect(pens.length).toBeGreaterThan(10);
      for (const { brush, paint, screenRadius } of pens) {
        const stroke = { brush, paint, seed: 1, points: new Float32Array(POINT).fill(0.5) };
        const { error } = strokeRecord.safeParse(recordOfStroke(stroke));
        expect(error?.issues.map(({ path, message }) => `${path.join('.')}: ${message}`)).toBeUndefined();
        expect(screenRadius === null || screenRadius > 0).toBe(true);
      }
      panel.unmount();
    },
  );

  it('has all tools, says that texels are shared, and asks for materials and for what is cloned', async () => {
    const panel = opened({ ...usual, brush: { ...usual.brush, tool: 'clone' } });
    const tools = panel.findAll('.tools button');
    expect(tools).toHaveLength(BRUSH_TOOLS.length);
    expect(panel.text()).toContain('2 pairs of triangles overlap');
    expect(panel.text()).toContain('Hold Alt and click the place that is to be cloned');
    await tools[0]!.trigger('click');
    expect(told(panel).at(-1)!.brush.tool).toBe('paint');
    await panel.setProps({ pen: usual });
    await panel
      .findAll('button.slot')
      .find((slot) => slot.text().startsWith('#'))!
      .trigger('click');
    await panel
      .findAll('button.p-togglebutton')
      .find((button) => button.text() === 'Tiling material')!
      .trigger('click');
    expect(panel.emitted('material')).toEqual([['m']]);
    panel.unmount();
  });
});
