import type { SourceMaterials } from '../bake/source/sourceMaterials.ts';
import type { Material } from '../mesh/material.ts';
import { triangleArea } from '../mesh/triangleArea.ts';
import { sharedFloat32, sharedFloat64, sharedUint32 } from '../sharedArrays.ts';
import type { Scene } from '../trace/scene.ts';
import type { Environment } from './environment.ts';

/** The sun or what is like it: light from one side alone, from a disc in the sky. */
export interface SunLight {
  kind: 'sun';
  /** Unit direction towards its middle. */
  towards: readonly [number, number, number];
  /** Half of the angle it is seen under, in degrees; 0 for none. */
  halfAngle: number;
  /** What falls on a surface that faces it. */
  irradiance: readonly [number, number, number];
  group: number;
}

/** A light without size; within a cone, if it has one. */
export interface PointLight {
  kind: 'point';
  position: readonly [number, number, number];
  /** Radiant intensity along its axis: a surface that faces it at a distance d gets this by d². */
  intensity: readonly [number, number, number];
  /** Unit axis, and half angles in degrees within which it is full and beyond which there is nothing. */
  cone: { axis: readonly [number, number, number]; inner: number; outer: number } | null;
  group: number;
}

/** What lights and is lit; every array is shared by threads. */
export interface LightScene {
  scene: Scene;
  materials: SourceMaterials;
  /** The light group of each material's emission. */
  groupOf: Uint8Array;
  /** 1 for each material that sends light from its front alone. */
  oneSided: Uint8Array;
  emitters: Emitters | null;
  suns: readonly SunLight[];
  points: readonly PointLight[];
  environment: Environment | null;
  environmentGroup: number;
  /** Length of the scene's diagonal. */
  extent: number;
}

/** Emissive triangles, for sampling by power. */
export interface Emitters {
  triangles: Uint32Array;
  /** Cumulative distribution of the triangles. */
  sums: Float64Array;
  /** Probability density by area, for each material. */
  density: Float32Array;
  /** Radiant power of all of them over π, mean of the colours. */
  power: number;
}

/**
 * How likely light sampling asks each source, by its power.
 * @returns cumulative distribution of environment, suns, points, and all emissive triangles as one, from 0 on; 0 at its
 * end where there is no light at all
 */
export function sharesOf({ environment, suns, points, emitters }: LightScene): Float64Array {
  const mean = ([r, g, b]: readonly [number, number, number]): number => (r + g + b) / 3;
  // Both kinds are as likely as each other: which of them matters differs from place to place.
  const far = [environment ? Math.PI * environment.mean : 0, ...suns.map(({ irradiance }) => mean(irradiance))];
  const near = [...points.map(({ intensity }) => 4 * mean(intensity)), emitters?.power ?? 0];
  const sum = (values: number[]): number => values.reduce((total, value) => total + value, 0);
  const halves = [sum(far), sum(near)];
  const kinds = halves.filter((value) => value > 0).length;
  const shares = new Float64Array(far.length + near.length + 1);
  [...far, ...near].forEach((value, i) => {
    const half = halves[i < far.length ? 0 : 1]!;
    shares[i + 1] = shares[i]! + (value > 0 ? value / half / kinds : 0);
  });
  return shares;
}

/** What of a surface's light is told by the file in numbers of light: where those are not, colours are. */
export function radianceOf(material: Material): readonly [number, number, number] {
  const [r, g, b] = material.lit?.radiance ?? material.emission;
  const strength = material.emissionStrength ?? 1;
  return [r * strength, g * strength, b * strength];
}

/** @returns null where nothing sends light */
export function emittersOf({ positions, indices }: Scene, materials: SourceMaterials): Emitters | null {
  const strength = materials.materials.map((material) => {
    const plain = radianceOf(material);
    const use = material.pictures.emission;
    // Of a picture its mean, which its last level is.
    const mean = use ? materials.pictures[use.picture]!.at(-1)! : null;
    const shares = [0, 1, 2].map((c) => (mean ? mean.data[mean.channels < 3 ? 0 : c]! : 1));
    return plain.reduce((sum, value, c) => sum + value * shares[c]!, 0) / 3;
  });
  const found: number[] = [];
  const powers: number[] = [];
  for (let t = 0; t < indices.length / 3; t++) {
    const power = strength[materials.ofTriangle[t]!]! * triangleArea(positions, 3, indices, t);
    if (!(power > 0)) continue;
    found.push(t);
    powers.push(power);
  }
  if (found.length === 0) return null;
  const triangles = sharedUint32(found.length);
  triangles.set(found);
  const sums = sharedFloat64(found.length + 1);
  powers.forEach((power, i) => (sums[i + 1] = sums[i]! + power));
  const total = sums[found.length]!;
  for (let i = 1; i <= found.length; i++) sums[i]! /= total;
  const density = sharedFloat32(strength.length);
  strength.forEach((value, m) => (density[m] = value / total));
  return { triangles, sums, density, power: total };
}
