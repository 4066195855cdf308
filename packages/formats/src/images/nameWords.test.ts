import { describe, expect, it } from 'vitest';
import { partsOfName } from './nameWords.ts';

describe('the parts of a name', () => {
  // Common practice, no source.
  it.each([
    ['Bollard_normal', false, 'Bollard', null],
    ['Bell-buoy 02_ambientOcclusion', false, 'Bell-buoy 02', null],
    ['bell_base_color.1002', false, 'bell', 1002],
    ['quay/Bollard_normal_gl', false, 'quay/Bollard', null],
    ['bollard_arm_4k', true, 'bollard', null],
    ['BollardRMA', true, 'Bollard', null],
    ['cleat 2048 roughness 2048', false, 'cleat 2048', null],
    // What is made of metal is called so; only of packed files several kinds go.
    ['cleat_metal_basecolor', false, 'cleat_metal', null],
    ['quay_occlusionRoughnessMetallic', true, 'quay', null],
    ['ring_basecolor_smoothness', true, 'ring', null],
    // The folder is the name of what lies in it.
    ['lamp/normal', false, 'lamp/', null],
  ])('%s', (name, isPacked, stem, tile) => {
    expect(partsOfName(name, isPacked)).toEqual({ stem, tile, hasKind: true });
  });

  it('of a name that says no kind of map is all of it', () => {
    expect(partsOfName('Harbour stone 1004', false)).toEqual({
      stem: 'Harbour stone 1004',
      tile: null,
      hasKind: false,
    });
  });
});
