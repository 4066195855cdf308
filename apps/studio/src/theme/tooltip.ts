import Tooltip from 'primevue/tooltip';
import type { DirectiveBinding, ObjectDirective } from 'vue';

type Hook = (element: HTMLElement, binding: object, ...nodes: unknown[]) => void;

/** A pointer on its way over a row of buttons opens none. */
const DELAY_MS = 450;

const HOOKS = ['created', 'beforeMount', 'mounted', 'beforeUpdate', 'updated', 'beforeUnmount', 'unmounted'] as const;

/**
 * The tooltip of the component library, below its element and after a moment; a screen reader gets it as the
 * description. `v-tooltip="'Opens the UV room'"`; an empty text shows none.
 */
export const tooltip: ObjectDirective<HTMLElement, string | undefined> = Object.fromEntries(
  HOOKS.map((name) => [
    name,
    (element: HTMLElement, binding: DirectiveBinding<string | undefined>, ...nodes: unknown[]) => {
      const text = binding.value ?? '';
      if (text) element.setAttribute('aria-description', text);
      else element.removeAttribute('aria-description');
      const value = { value: text, showDelay: DELAY_MS };
      const modifiers = { ...binding.modifiers, bottom: true };
      (Tooltip as Partial<Record<string, Hook>>)[name]?.(element, { ...binding, value, modifiers }, ...nodes);
    },
  ]),
);
