import { BufferAttribute, BufferGeometry } from 'three';
import { expect, it } from 'vitest';
import { setTint } from './tint.ts';

it('gives the three corners of each triangle its colour, whatever order the triangles are drawn in', () => {
  const geometry = new BufferGeometry().setAttribute('position', new BufferAttribute(new Float32Array(18), 3));
  setTint(geometry, Uint32Array.of(1, 0), Uint8Array.of(10, 20, 30, 255, 40, 50, 60, 128));
  const tint = geometry.getAttribute('tint');
  expect([...tint.array.slice(0, 12)]).toEqual([40, 50, 60, 128, 40, 50, 60, 128, 40, 50, 60, 128]);
  expect([...tint.array.slice(12, 16)]).toEqual([10, 20, 30, 255]);
  setTint(geometry, Uint32Array.of(1, 0), null);
  expect(geometry.getAttribute('tint').array.every((value) => value === 0)).toBe(true);
});
