// @vitest-environment happy-dom
import { describe, expect, it, vi } from 'vitest';
import { shallowRef } from 'vue';
import { useLasso } from './useLasso.ts';

function lasso() {
  const element = document.createElement('div');
  vi.spyOn(element, 'getBoundingClientRect').mockReturnValue({ width: 400, height: 200 } as DOMRect);
  element.setPointerCapture = () => {};
  const own = useLasso(shallowRef(element));
  const event = (x: number, y: number): PointerEvent => ({ offsetX: x, offsetY: y, pointerId: 1 }) as PointerEvent;
  return {
    ...own,
    begin: (x: number, y: number) => own.begin(event(x, y)),
    goOn: (x: number, y: number) => own.goOn(event(x, y)),
  };
}

describe('a lasso', () => {
  it('is a line in shares of the view, without steps that are too small to see', () => {
    const { begin, goOn, end, points } = lasso();
    begin(100, 50);
    goOn(200, 50);
    goOn(200.3, 50.1);
    goOn(200, 150);
    expect(points.value).toEqual([0.25, 0.25, 0.5, 0.25, 0.5, 0.75]);
    expect(end()).toEqual([0.25, 0.25, 0.5, 0.25, 0.5, 0.75]);
    expect(points.value).toEqual([]);
  });

  it('is none where it has no area', () => {
    const { begin, goOn, end } = lasso();
    begin(100, 50);
    goOn(200, 50);
    expect(end()).toBeNull();
  });

  it('stays bounded however long it is drawn, and goes on to where the pointer is', () => {
    const { begin, goOn, points } = lasso();
    begin(0, 0);
    for (let i = 1; i <= 9000; i++) goOn(200 + 150 * Math.cos(i / 7), 100 + 80 * Math.sin(i / 7));
    expect(points.value.length).toBeLessThanOrEqual(4002);
    expect(points.value.slice(-2)).toEqual([
      (200 + 150 * Math.cos(9000 / 7)) / 400,
      (100 + 80 * Math.sin(9000 / 7)) / 200,
    ]);
  });
});
