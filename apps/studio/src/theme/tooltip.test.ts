// @vitest-environment happy-dom
import { mount } from '@vue/test-utils';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { tooltip } from './tooltip.ts';

beforeEach(() => {
  vi.useFakeTimers();
});
afterEach(() => {
  vi.useRealTimers();
});

const shown = (): string | null => document.querySelector('[role="tooltip"]')?.textContent ?? null;
const tell = ({ element }: { element: unknown }, event: string): boolean =>
  (element as HTMLElement).dispatchEvent(new Event(event));
const button = (text: string | undefined) =>
  mount(
    { props: ['text'], template: '<button v-tooltip="text">Undo</button>', directives: { tooltip } },
    { props: { text }, attachTo: document.body },
  );

describe('a tooltip', () => {
  it('comes after a moment and goes with the pointer', () => {
    const undo = button('Undo size (Ctrl Z)');
    tell(undo, 'pointerenter');
    vi.advanceTimersByTime(300);
    expect(shown()).toBeNull();
    vi.advanceTimersByTime(300);
    expect(shown()).toBe('Undo size (Ctrl Z)');
    tell(undo, 'pointerleave');
    expect(shown()).toBeNull();
    undo.unmount();
  });

  it('comes by the keyboard too, goes with a key or a click, and is said to screen readers', () => {
    const undo = button('Undo');
    expect(undo.attributes('aria-description')).toBe('Undo');
    for (const end of ['keydown', 'click', 'blur']) {
      tell(undo, 'focus');
      vi.advanceTimersByTime(500);
      expect(shown(), end).toBe('Undo');
      tell(undo, end);
      expect(shown(), end).toBeNull();
    }
    undo.unmount();
  });

  it('changes with its text, and is none without one', async () => {
    const undo = button('Undo');
    tell(undo, 'pointerenter');
    vi.advanceTimersByTime(500);
    await undo.setProps({ text: 'Undo padding' });
    expect(shown()).toBe('Undo padding');
    await undo.setProps({ text: undefined });
    expect(shown()).toBeNull();
    expect(undo.attributes('aria-description')).toBeUndefined();
    tell(undo, 'pointerenter');
    vi.advanceTimersByTime(500);
    expect(shown()).toBeNull();
    undo.unmount();
  });

  it('does not outlive its element', () => {
    const undo = button('Undo');
    tell(undo, 'pointerenter');
    vi.advanceTimersByTime(500);
    undo.unmount();
    expect(shown()).toBeNull();
    vi.advanceTimersByTime(500);
    expect(shown()).toBeNull();
  });
});
