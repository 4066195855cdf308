import { definePreset } from '@primeuix/themes';
import Aura from '@primeuix/themes/aura';

/**
 * PrimeVue in our own dress: all colours come from tokens.css, corners are nearly square, nothing glows.
 * The base preset only supplies the measures of parts we do not speak of.
 */
const azurite = Object.fromEntries(
  [50, 100, 200, 300, 400, 500, 600, 700, 800, 900, 950].map((step) => [
    step,
    step <= 200 ? 'var(--azurite-wash)' : step <= 600 ? 'var(--azurite)' : 'var(--azurite-deep)',
  ]),
);

const scheme = {
  surface: {
    0: 'var(--paper-raised)',
    50: 'var(--paper-raised)',
    100: 'var(--paper)',
    200: 'var(--line)',
    300: 'var(--line)',
    400: 'var(--line-strong)',
    500: 'var(--line-strong)',
    600: 'var(--ink-soft)',
    700: 'var(--ink)',
    800: 'var(--ink)',
    900: 'var(--lamp-black)',
    950: 'var(--lamp-black)',
  },
  primary: {
    color: 'var(--azurite)',
    contrastColor: 'var(--on-azurite)',
    hoverColor: 'var(--azurite-deep)',
    activeColor: 'var(--azurite-deep)',
  },
  highlight: {
    background: 'var(--azurite-wash)',
    focusBackground: 'var(--azurite-wash)',
    color: 'var(--ink)',
    focusColor: 'var(--ink)',
  },
  text: {
    color: 'var(--ink)',
    hoverColor: 'var(--ink)',
    mutedColor: 'var(--ink-soft)',
    hoverMutedColor: 'var(--ink-soft)',
  },
  content: {
    background: 'var(--paper-raised)',
    hoverBackground: 'var(--azurite-wash)',
    borderColor: 'var(--line)',
    color: 'var(--ink)',
  },
  formField: {
    background: 'var(--paper-raised)',
    borderColor: 'var(--line-strong)',
    hoverBorderColor: 'var(--ink)',
    focusBorderColor: 'var(--azurite)',
    color: 'var(--ink)',
    placeholderColor: 'var(--ink-soft)',
    shadow: 'none',
  },
  overlay: {
    select: { background: 'var(--paper-raised)', borderColor: 'var(--line-strong)', color: 'var(--ink)' },
    popover: { background: 'var(--paper-raised)', borderColor: 'var(--line-strong)', color: 'var(--ink)' },
    modal: { background: 'var(--paper-raised)', borderColor: 'var(--line-strong)', color: 'var(--ink)' },
  },
};

/** Buttons that are not the main one: ink on paper, since a pigment on the bench reads poorly. */
const outlined = {
  primary: {
    color: 'var(--ink)',
    borderColor: 'var(--line-strong)',
    hoverBackground: 'var(--azurite-wash)',
    activeBackground: 'var(--azurite-wash)',
  },
};

/** Choices side by side: the one that holds is black, the rest are ink on paper. */
const choice = {
  root: {
    background: 'var(--paper)',
    hoverBackground: 'var(--azurite-wash)',
    checkedBackground: 'var(--lamp-black)',
    borderColor: 'var(--line-strong)',
    checkedBorderColor: 'var(--lamp-black)',
    color: 'var(--ink)',
    hoverColor: 'var(--ink)',
    checkedColor: 'var(--lead-white)',
  },
  content: { checkedBackground: 'var(--lamp-black)' },
};

export const lightBox = definePreset(Aura, {
  primitive: {
    borderRadius: { none: '0', xs: '1px', sm: '2px', md: '2px', lg: '2px', xl: '2px' },
  },
  semantic: {
    primary: azurite,
    transitionDuration: '0.08s',
    focusRing: { width: '2px', style: 'solid', color: 'var(--azurite)', offset: '2px' },
    formField: {
      paddingX: '8px',
      paddingY: '4px',
      borderRadius: 'var(--corner)',
      sm: { fontSize: '13px', paddingX: '6px', paddingY: '3px' },
    },
    list: { padding: '4px', option: { padding: '5px 8px' } },
    overlay: {
      select: { shadow: '0 2px 8px oklch(0 0 0 / 0.25)' },
      popover: { shadow: '0 2px 10px oklch(0 0 0 / 0.3)', padding: '12px' },
      modal: { shadow: '0 4px 24px oklch(0 0 0 / 0.35)', padding: '16px' },
    },
    colorScheme: { light: scheme, dark: scheme },
  },
  components: {
    button: { colorScheme: { light: { outlined }, dark: { outlined } } },
    togglebutton: { colorScheme: { light: choice, dark: choice } },
  },
});
