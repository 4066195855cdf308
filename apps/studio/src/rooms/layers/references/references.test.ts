// @vitest-environment happy-dom
import { describe, expect, it, vi } from 'vitest';
import { made } from '../adding/newLayers.ts';
import { colorAt, seenPixels } from './referenceImage.ts';
import { withPickedColor } from './withPickedColor.ts';

class Pixels {
  readonly data: Uint8ClampedArray;
  readonly width: number;
  readonly height: number;
  constructor(width: number, height: number) {
    this.width = width;
    this.height = height;
    this.data = new Uint8ClampedArray(width * height * 4);
  }
}
vi.stubGlobal('ImageData', Pixels);

describe('a pinned image', () => {
  // 0.21586 of light is 128 of 255 in sRGB, by its curve (IEC 61966-2-1).
  it('is seen as it is stored, and tells the mean of nine pixels as a colour', () => {
    const data = new Float32Array(3 * 3 * 3).fill(0.2158605);
    const pixels = seenPixels({ width: 3, height: 3, channels: 3, data }, true);
    expect(colorAt(pixels, 0.5, 0.5)).toBe('#808080');
    data[12] = 1;
    expect(colorAt(seenPixels({ width: 3, height: 3, channels: 3, data }, true), 0.5, 0.5)).toBe('#8e8080');
    // At a corner there are four of them.
    expect(colorAt(seenPixels({ width: 3, height: 3, channels: 3, data }, true), 0, 0)).toBe('#a08080');
  });

  it('gives its colour to what has one', () => {
    const plain = made({ name: 'a', content: 'plain', values: { basecolor: '#000000', roughness: 0.3 } });
    expect(withPickedColor(plain, '#123456', false)).toMatchObject({
      values: { basecolor: '#123456', roughness: 0.3 },
    });
    const ramp = [
      { at: 0, color: '#000000' },
      { at: 1, color: '#ffffff' },
    ];
    const field = made({ name: 'b', content: 'field', field: { size: 10 }, ramp, values: {} });
    expect(withPickedColor(field, '#123456', true)).toMatchObject({ ramp: [ramp[0], { at: 1, color: '#123456' }] });
    expect(withPickedColor(made({ name: 'c', content: 'group', layers: [] }), '#123456', false)).toBeNull();
  });
});
