import type { VueWrapper } from '@vue/test-utils';
import { settle, tell, type } from './room.ts';

/** Does once what an artist can do with each part of an editor, one after the other. */
export async function tryAll(editor: VueWrapper): Promise<void> {
  for (const button of editor.findAll('button.p-togglebutton, button.plain-button, .p-button')) {
    if (button.element.isConnected) await button.trigger('click');
  }
  for (const box of editor.findAll('input[type="checkbox"]'))
    if (box.element.isConnected) await type(box.element, 'on');
  for (const select of editor.findAllComponents({ name: 'Select' })) {
    const options = select.props('options') as { value?: unknown }[] | undefined;
    for (const option of options ?? []) if ('value' in option) tell(select, 'update:modelValue', option.value);
  }
  for (const number of editor.findAllComponents({ name: 'InputNumber' })) {
    for (const end of ['min', 'max'] as const) {
      const value = number.props(end) as number | undefined;
      if (value !== undefined) tell(number, 'update:modelValue', value);
    }
  }
  for (const slider of editor.findAllComponents({ name: 'Slider' })) {
    for (const end of ['min', 'max'] as const) tell(slider, 'update:modelValue', slider.props(end));
    tell(slider, 'slideend', { value: slider.props('max') as number });
  }
  await settle();
}
