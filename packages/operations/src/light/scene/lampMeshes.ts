import { PLAIN_MATERIAL, triangleArea, type Mesh } from '@zographos/core/mesh';
import type { PlacedLight } from '../settings.ts';
import { lampFrame, unit } from './lampFrame.ts';

/** Lamps that have a size. */
export type Lamp = Extract<PlacedLight, { kind: 'sphere' | 'disk' | 'rectangle' }>;

export const isLamp = (light: PlacedLight): light is Lamp =>
  light.kind === 'sphere' || light.kind === 'disk' || light.kind === 'rectangle';

const RINGS = 48;
const COLUMNS = 96;

/**
 * A lamp as a mesh that sends light from its front. Its strength is what it sends along its axis, or any way from a
 * sphere: its radiance is that over its area as seen from there.
 */
export function lampMesh(lamp: Lamp): Mesh {
  const { positions, indices } = lamp.kind === 'sphere' ? sphere(lamp.radius) : flat(lamp);
  let area = 0;
  for (let t = 0; t < indices.length / 3; t++) area += triangleArea(positions, 3, indices, t);
  // Of a convex body a quarter of its area is seen on average (Cauchy 1832).
  const seen = lamp.kind === 'sphere' ? area / 4 : area;
  const normals = new Float32Array(positions.length);
  for (let i = 0; i < positions.length; i++) {
    normals[i] = lamp.kind === 'sphere' ? positions[i]! / lamp.radius : 0;
    positions[i]! += lamp.position[i % 3]!;
  }
  const radiance = lamp.strength.map((value) => value / seen) as [number, number, number];
  const lit = { reflectance: [0, 0, 0] as const, radiance, isDiffuse: true, isOneSided: true };
  return {
    ...{ name: lamp.group ?? lamp.kind, positions, normals, indices, uvSets: [], colors: null },
    ...{ slots: ['lamp'], triangleSlots: new Uint16Array(indices.length / 3) },
    materials: [{ ...PLAIN_MATERIAL, lit }],
  };
}

interface Shape {
  positions: Float32Array;
  indices: Uint32Array;
}

function sphere(radius: number): Shape {
  const positions: number[] = [];
  const indices: number[] = [];
  for (let j = 0; j <= RINGS; j++) {
    const polar = (j / RINGS) * Math.PI;
    for (let i = 0; i < COLUMNS; i++) {
      const turn = (i / COLUMNS) * 2 * Math.PI;
      const aside = j === 0 || j === RINGS ? 0 : Math.sin(polar) * radius;
      positions.push(aside * Math.cos(turn), Math.cos(polar) * radius, aside * Math.sin(turn));
      if (j === RINGS) continue;
      const [a, b] = [j * COLUMNS + i, j * COLUMNS + ((i + 1) % COLUMNS)];
      if (j > 0) indices.push(a, b, b + COLUMNS);
      if (j < RINGS - 1) indices.push(a, b + COLUMNS, a + COLUMNS);
    }
  }
  return { positions: Float32Array.from(positions), indices: Uint32Array.from(indices) };
}

/** A disk or a rectangle about the origin that faces its target. */
function flat(lamp: Extract<Lamp, { kind: 'disk' | 'rectangle' }>): Shape {
  const { position, target } = lamp;
  const { aside, up } = lampFrame(unit([target[0] - position[0], target[1] - position[1], target[2] - position[2]]));
  const corners =
    lamp.kind === 'disk'
      ? Array.from({ length: COLUMNS }, (_, i) => {
          const turn = (i / COLUMNS) * 2 * Math.PI;
          return [Math.cos(turn) * lamp.radius, Math.sin(turn) * lamp.radius] as const;
        })
      : (
          [
            [-1, -1],
            [1, -1],
            [1, 1],
            [-1, 1],
          ] as const
        ).map(([x, y]) => [(x * lamp.width) / 2, (y * lamp.height) / 2] as const);
  const positions = corners.flatMap(([x, y]) => [0, 1, 2].map((k) => aside[k]! * x + up[k]! * y));
  const indices = corners.slice(2).flatMap((_, i) => [0, i + 1, i + 2]);
  return { positions: Float32Array.from(positions), indices: Uint32Array.from(indices) };
}
