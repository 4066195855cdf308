import type { DataTexture } from 'three';
import { describe, expect, it, vi } from 'vitest';
import type { Patch } from '../preview/penPatches.ts';
import { withPatches } from '../preview/withPatches.ts';
import { LayerTextures, MASK_KIND, type PicturesOfTile } from './layerTextures.ts';

const SIDE = 8;
const picture = (kind: 'basecolor' | 'roughness', side = SIDE) => ({
  ...{ kind, width: side, height: side },
  rgba: new Uint8ClampedArray(side * side * 4),
});
const tileOf = (maps: PicturesOfTile['maps'], tile = 1001): PicturesOfTile => ({ tile, texel: 1, maps, mask: null });
const patch: Patch = {
  ...{ x: 2, y: 3, width: 4, height: 2 },
  maps: [{ kind: 'basecolor', rgba: new Uint8ClampedArray(4 * 2 * 4).fill(200) }],
};
const colorOf = (textures: LayerTextures, tile = 1001): DataTexture =>
  textures.of(tile).get('basecolor') as DataTexture;
/** As a renderer does once it has sent a texture to the graphics card. */
const send = (texture: DataTexture): void => {
  texture.onUpdate?.(texture);
  texture.clearUpdateRanges();
};

describe('maps of a stack as textures', () => {
  it('stay the same textures as long as the same maps come in the same size', () => {
    const textures = new LayerTextures();
    expect(textures.set([tileOf([picture('basecolor'), picture('roughness')])])).toBe(true);
    const first = colorOf(textures);
    const next = picture('basecolor');
    expect(textures.set([tileOf([next, picture('roughness')])])).toBe(false);
    expect(colorOf(textures)).toBe(first);
    expect(first.image.data).toBe(next.rgba);
    // Another size, one map less, a mask, another tile: each takes materials made anew.
    for (const other of [
      [tileOf([picture('basecolor', 16), picture('roughness')])],
      [tileOf([picture('basecolor', 16)])],
      [{ ...tileOf([picture('basecolor', 16)]), mask: picture('roughness', 16) }],
      [tileOf([picture('basecolor', 16)]), tileOf([picture('basecolor', 16)], 1002)],
    ]) {
      expect(textures.set(other)).toBe(true);
    }
    expect([...textures.of(1001).keys()]).not.toContain(MASK_KIND);
    expect(textures.of(1003).size).toBe(0);
  });

  it('are sent in parts where a stroke has changed parts, each written where it belongs', () => {
    const textures = new LayerTextures();
    const tiles = [tileOf([picture('basecolor'), picture('roughness')]), tileOf([picture('basecolor')], 1002)];
    textures.set(tiles);
    for (const tile of [1001, 1002]) send(colorOf(textures, tile));
    const patched = withPatches(
      tiles.map((tile) => ({ ...tile, maps: [...tile.maps] })),
      [{ tile: 1001, patches: [patch] }],
    );
    textures.set(patched);
    const texture = colorOf(textures);
    expect(texture.updateRanges).toEqual([
      { start: (3 * SIDE + 2) * 4, count: 16 },
      { start: (4 * SIDE + 2) * 4, count: 16 },
    ]);
    const bytes = texture.image.data as Uint8ClampedArray;
    for (let i = 0; i < SIDE * SIDE; i++) {
      const [x, y] = [i % SIDE, Math.floor(i / SIDE)];
      expect(bytes[i * 4]).toBe(x >= 2 && x < 6 && y >= 3 && y < 5 ? 200 : 0);
    }
    // What was not touched is as it was, and named so by having no version.
    expect(patched[1]).toMatchObject({ tile: 1002, maps: [{ kind: 'basecolor' }] });
    expect(patched[0]!.maps[1]).not.toHaveProperty('version');
  });

  it('are sent whole where a part was missed, or the whole has not been sent yet', () => {
    const textures = new LayerTextures();
    const tiles = [tileOf([picture('basecolor')])].map((tile) => ({ ...tile, maps: [...tile.maps] }));
    textures.set(tiles);
    // Nothing has been sent by now: a range alone would leave the rest out.
    const once = withPatches(tiles, [{ tile: 1001, patches: [patch] }]);
    textures.set([tileOf([picture('basecolor')])]);
    textures.set(once);
    expect(colorOf(textures).updateRanges).toEqual([]);
    send(colorOf(textures));
    const twice = withPatches(once, [{ tile: 1001, patches: [patch] }]);
    const thrice = withPatches(twice, [{ tile: 1001, patches: [patch] }]);
    textures.set(thrice);
    expect(colorOf(textures).updateRanges).toEqual([]);
  });

  it('are given back once no tile wears them', () => {
    const textures = new LayerTextures();
    textures.set([tileOf([picture('basecolor')]), tileOf([picture('basecolor')], 1002)]);
    const [kept, dropped] = [1001, 1002].map((tile) => colorOf(textures, tile)) as [DataTexture, DataTexture];
    const gone = [kept, dropped].map((texture) => vi.spyOn(texture, 'dispose'));
    textures.set([tileOf([picture('basecolor')])]);
    expect(gone.map((spy) => spy.mock.calls.length)).toEqual([0, 1]);
    textures.dispose();
    expect(gone.map((spy) => spy.mock.calls.length)).toEqual([1, 1]);
  });
});
