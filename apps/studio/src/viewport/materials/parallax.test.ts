import { BufferGeometry, ShaderLib, Texture, type WebGLRenderer } from 'three';
import { describe, expect, it } from 'vitest';
import { GLTF_NORMAL } from '@zographos/core/image';
import { setParallax } from './parallax.ts';
import { viewMaterial } from './viewMaterial.ts';

/** The fragment shader of a material as it is compiled, and its uniforms. */
function compiled(isRelief: boolean) {
  const maps = new Map([['basecolor', new Texture()] as const, ['normal', new Texture()] as const]);
  const material = viewMaterial(maps, { normals: GLTF_NORMAL, normalStrength: 1 }, new BufferGeometry());
  const map = new Texture();
  map.repeat.set(4, 2);
  if (isRelief) setParallax(material, { map, tall: 0.1 });
  const { vertexShader, fragmentShader } = ShaderLib.standard;
  const shader = { vertexShader, fragmentShader, uniforms: {} as Record<string, { value: unknown }> };
  material.onBeforeCompile(shader as never, {} as WebGLRenderer);
  return { material, map, ...shader };
}

describe('parallax', () => {
  it('finds its place before any map is read, and leaves tangents to the surface', () => {
    const { fragmentShader } = compiled(true);
    const order = [
      'vec2 parallaxUv',
      '#include <map_fragment>',
      '#undef vNormalMapUv',
      '#include <normal_fragment_begin>',
    ];
    const places = order.map((text) => fragmentShader.indexOf(text));
    for (const [i, place] of places.entries()) expect(place, order[i]).toBeGreaterThan(i === 0 ? 0 : places[i - 1]!);
    expect(fragmentShader.split('#include <normal_fragment_begin>')).toHaveLength(2);
  });

  it('repeats as often as its heights, and is in no material that has none', () => {
    const { material, map, uniforms } = compiled(true);
    expect(material.defines).toHaveProperty('HAS_PARALLAX');
    expect(uniforms['parallaxMap']!.value).toBe(map);
    expect(uniforms['parallaxRepeat']!.value).toEqual(map.repeat);
    const plain = compiled(false);
    expect(plain.material.defines).not.toHaveProperty('HAS_PARALLAX');
    expect(plain.uniforms).not.toHaveProperty('parallaxMap');
  });
});
