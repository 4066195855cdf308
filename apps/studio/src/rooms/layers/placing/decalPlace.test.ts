import { describe, expect, it } from 'vitest';
import { made } from '../adding/newLayers.ts';
import { decalAt, layerPlacedAt, placedAt } from './decalPlace.ts';

const where = { triangle: 7, place: [1, 2, 3], normal: [0, 1, 0] } as const;

describe('the place of an image', () => {
  it('is a decal of the image’s proportions, where the view was met', () => {
    expect(decalAt(where, 80, 0.5)).toMatchObject({ center: [1, 2, 3], normal: [0, 1, 0], width: 80, height: 40 });
    expect(decalAt(null, 80, 0.5)).toMatchObject({ center: [0, 0, 0], normal: [0, 0, 1] });
  });

  it('moves to where was clicked, of the layer and of its mask, and keeps its size', () => {
    const place = decalAt(null, 80, 0.5);
    const layer = made({
      ...{ name: 'sign', content: 'picture', picture: 0, channels: ['basecolor'], place },
      mask: {
        steps: [
          { measure: 'picture', picture: 1, channel: 'alpha', place },
          { measure: 'wear', radius: 2 },
        ],
      },
    });
    const moved = layerPlacedAt(layer, where);
    expect(moved).toMatchObject({
      place: { center: [1, 2, 3], width: 80 },
      mask: { steps: [{ place: { center: [1, 2, 3], width: 80 } }, { measure: 'wear' }] },
    });
    expect(placedAt({ on: 'layout' }, where)).toEqual({ on: 'layout' });
    const island = { on: 'island', triangle: 0, turn: 90, mirror: false, fill: true } as const;
    expect(placedAt(island, where)).toEqual({ ...island, triangle: 7 });
  });
});
