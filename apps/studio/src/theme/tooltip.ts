import type { ObjectDirective } from 'vue';

/** A pointer on its way over a row of buttons opens none. */
const DELAY_MS = 450;
/** Between an element and what is said of it, and to the borders of the window, in CSS pixels. */
const GAP = 6;

const texts = new WeakMap<HTMLElement, string>();
let bubble: HTMLElement | null = null;
let owner: HTMLElement | null = null;
let timer: ReturnType<typeof setTimeout> | undefined;

function show(element: HTMLElement): void {
  const text = texts.get(element);
  if (!text || !element.isConnected) return;
  bubble ??= Object.assign(document.createElement('div'), { className: 'tooltip' });
  bubble.setAttribute('role', 'tooltip');
  bubble.textContent = text;
  document.body.append(bubble);
  owner = element;
  const { left, width, top, bottom } = element.getBoundingClientRect();
  const most = window.innerWidth - bubble.offsetWidth - GAP;
  const isRoomBelow = bottom + GAP + bubble.offsetHeight <= window.innerHeight;
  bubble.style.left = `${Math.max(GAP, Math.min(most, left + width / 2 - bubble.offsetWidth / 2))}px`;
  bubble.style.top = `${isRoomBelow ? bottom + GAP : top - GAP - bubble.offsetHeight}px`;
}

function hide(): void {
  clearTimeout(timer);
  bubble?.remove();
  owner = null;
}

function wait({ currentTarget }: Event): void {
  clearTimeout(timer);
  timer = setTimeout(() => show(currentTarget as HTMLElement), DELAY_MS);
}

function setText(element: HTMLElement, text = ''): void {
  texts.set(element, text);
  if (text) element.setAttribute('aria-description', text);
  else element.removeAttribute('aria-description');
  if (owner === element) {
    if (text) show(element);
    else hide();
  }
}

/**
 * A short text below an element, after a moment; a screen reader gets it as the description. `v-tooltip="'Opens the UV
 * room'"`; an empty text shows none. The tooltip of the component library writes its styles as an attribute, which our
 * Content Security Policy forbids.
 */
export const tooltip: ObjectDirective<HTMLElement, string | undefined> = {
  mounted(element, { value }) {
    setText(element, value);
    for (const name of ['pointerenter', 'focus']) element.addEventListener(name, wait);
    for (const name of ['pointerleave', 'blur', 'click', 'keydown']) element.addEventListener(name, hide);
  },
  updated(element, { value, oldValue }) {
    if (value !== oldValue) setText(element, value);
  },
  unmounted(element) {
    texts.delete(element);
    if (owner === element) hide();
  },
};
