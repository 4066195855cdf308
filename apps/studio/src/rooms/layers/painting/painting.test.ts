import { describe, expect, it } from 'vitest';
import { PLAIN_BRUSH, type BrushPicture, type Layer, type Paint } from '@zographos/core/layers';
import { recordOfStroke, strokeOfRecord, strokeRecord, tilingSettings } from '@zographos/operations';
import { made } from '../adding/newLayers.ts';
import { PLAIN_PICTURE, pressureOf, StrokeInHand, usualPen } from './pen.ts';
import { paintTarget, withStroke } from './paintedLayer.ts';

const painted = made({ id: 'p', name: 'p', content: 'painted', channels: ['basecolor'] });
const masked = made({
  ...{ id: 'm', name: 'm', content: 'plain', values: { roughness: 0.5 } },
  mask: { steps: [{ measure: 'facing', direction: [0, 1, 0] }, { measure: 'painted' }] },
});
const plain = made({ id: 'x', name: 'x', content: 'plain', values: { roughness: 0.5 } });

const laying = (paint: Paint, picture: BrushPicture | null = null) => ({ paint, brush: { ...PLAIN_BRUSH, picture } });

describe('what is painted', () => {
  it('goes into the content of a painted layer, else into its mask', () => {
    expect([painted, masked, plain, undefined].map(paintTarget)).toEqual(['content', 1, null, null]);
    const laid = withStroke(painted, 'content', 'first', laying({ roughness: 0.3, height: 0.1 }));
    // It writes what its strokes write, in the order of channels.
    expect(laid).toMatchObject({ strokes: ['first'], channels: ['basecolor', 'roughness', 'height'] });
    const stamped = withStroke(painted, 'content', 'first', laying({}, { ...PLAIN_PICTURE, gives: 'normal' }));
    expect(stamped).toMatchObject({ channels: ['basecolor', 'normal'] });
    const tiling = tilingSettings.parse({ material: 2, channels: ['roughness', 'normal'] });
    const tiled = withStroke(painted, 'content', 'first', laying({ tiling }));
    expect(tiled).toMatchObject({ channels: ['basecolor', 'roughness', 'normal'] });
    const [, step] = withStroke(masked, 1, 'first', laying({ grey: 1 })).mask.steps;
    expect(step).toMatchObject({ measure: 'painted', strokes: ['first'] });
    expect(withStroke(plain, 'content', 'first', laying({ grey: 1 }))).toEqual(plain);
  });

  it('is collected as points on the surface, sent and read again to the bit', () => {
    const hand = new StrokeInHand(usualPen(600, false), 7, 0.5);
    for (let i = 0; i < 3000; i++) {
      hand.add({ place: [i / 3, Math.sin(i), -i], normal: [0, 0.6, 0.8], pressure: (i % 10) / 10 });
    }
    const record = strokeRecord.parse(JSON.parse(JSON.stringify(recordOfStroke(hand.stroke))));
    expect(strokeOfRecord(record)).toEqual(hand.stroke);
    expect(hand.stroke.brush).toEqual({ ...PLAIN_BRUSH, radius: 20 });
    expect(() => strokeOfRecord({ ...record, points: 'AAAA' })).toThrow('finite numbers');
    const broken = { ...hand.stroke, points: Float32Array.of(0, 0, Number.NaN, 0, 0, 1, 1) };
    expect(() => strokeOfRecord(recordOfStroke(broken))).toThrow('finite numbers');
  });

  it('has its own radius, or what pixels of the screen are where it begins', () => {
    const pen = usualPen(600, false);
    expect(new StrokeInHand(pen, 7, 0.5).stroke.brush.radius).toBe(20);
    expect(new StrokeInHand({ ...pen, screenRadius: 24 }, 7, 0.5).stroke.brush.radius).toBe(12);
  });

  it('has the pressure of a pen, and none of a mouse', () => {
    expect(pressureOf({ pointerType: 'pen', pressure: 0.2 })).toBe(0.2);
    expect(pressureOf({ pointerType: 'mouse', pressure: 0.5 })).toBe(1);
    expect(pressureOf({ pointerType: 'touch', pressure: 0 })).toBe(1);
  });

  it('fits the receiver', () => {
    const layer: Layer = painted;
    expect(layer.content).toBe('painted');
    expect(usualPen(30, true)).toMatchObject({ brush: { radius: 1 }, paint: { grey: 1 } });
  });
});
