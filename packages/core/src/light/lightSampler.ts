import { triangleFace } from '../mesh/triangleFace.ts';
import { pdfOf, sampleDirection, placeIn, texelTowards } from './environment.ts';
import type { LightScene } from './lightScene.ts';
import { orthonormalBasis } from '../math/orthonormalBasis.ts';

import type { SurfaceReader } from './surfaceReader.ts';

const DEGREE = Math.PI / 180;
/** Discs in the sky that are smaller have no size. */
const LEAST_ANGLE = 1e-3;

interface Sun {
  towards: readonly [number, number, number];
  /** Of half the angle it is seen under; 1 for a sun without size. */
  cosine: number;
  /** Across it, or what falls on a surface that faces it where it has no size. */
  light: readonly [number, number, number];
  /** In each unit of its solid angle; 0 for a sun without size. */
  pdf: number;
  group: number;
}

/** Samples lights by their power: environment and suns, points and emissive triangles. */
export class LightSampler {
  /** Of the last sample: unit direction, distance, radiance, and probability density by solid angle. */
  readonly towards = new Float64Array(3);
  distance = 0;
  readonly light = new Float64Array(3);
  /** 0 for a delta light, whose `light` is irradiance over its probability. */
  pdf = 0;
  group = 0;

  private readonly scene: LightScene;
  private readonly surfaces: SurfaceReader;
  private readonly suns: Sun[];
  /** Cumulative distribution of the sources: environment, suns, points, and all emissive triangles as one. */
  private readonly shares: Float64Array;
  private readonly frame = new Float64Array(6);
  private readonly face = new Float64Array(9);

  constructor(scene: LightScene, surfaces: SurfaceReader) {
    this.scene = scene;
    this.surfaces = surfaces;
    this.suns = scene.suns.map(({ towards, halfAngle, irradiance, group }) => {
      const angle = Math.min(90, halfAngle) * DEGREE;
      if (angle < LEAST_ANGLE) return { towards, cosine: 1, light: irradiance, pdf: 0, group };
      // A disc of radiance L seen at right angles gives π L sin².
      const across = Math.PI * Math.sin(angle) ** 2;
      const [r, g, b] = irradiance;
      const pdf = 1 / (2 * Math.PI * (1 - Math.cos(angle)));
      return { towards, cosine: Math.cos(angle), light: [r / across, g / across, b / across], pdf, group };
    });
    const mean = ([r, g, b]: readonly [number, number, number]): number => (r + g + b) / 3;
    const { environment, suns, points, emitters } = scene;
    // Both kinds are as likely as each other: which of them matters differs from place to place.
    const far = [environment ? Math.PI * environment.mean : 0, ...suns.map(({ irradiance }) => mean(irradiance))];
    const near = [...points.map(({ intensity }) => 4 * mean(intensity)), emitters?.power ?? 0];
    const sum = (values: number[]): number => values.reduce((total, value) => total + value, 0);
    const halves = [sum(far), sum(near)];
    const kinds = halves.filter((value) => value > 0).length;
    this.shares = new Float64Array(far.length + near.length + 1);
    [...far, ...near].forEach((value, i) => {
      const half = halves[i < far.length ? 0 : 1]!;
      this.shares[i + 1] = this.shares[i]! + (value > 0 ? value / half / kinds : 0);
    });
  }

  /** Whether there is any light at all. */
  get hasLight(): boolean {
    return this.shares.at(-1)! > 0;
  }

  private shareOf(source: number): number {
    return this.shares[source + 1]! - this.shares[source]!;
  }

  /** @param which, u, v from 0 to below 1 @returns whether anything can come from there */
  sample(x: number, y: number, z: number, which: number, u: number, v: number, receiverTriangle: number): boolean {
    const { shares, scene, suns } = this;
    const count = shares.length - 1;
    if (!(shares[count]! > 0)) return false;
    const source = placeIn(shares, 0, count, Math.min(which, shares[count]! * (1 - 1e-12)));
    const share = this.shareOf(source);
    if (share <= 0) return false;
    if (source === 0) return this.sampleEnvironment(share, u, v);
    if (source <= suns.length) return this.sampleSun(suns[source - 1]!, share, u, v);
    if (source <= suns.length + scene.points.length) return this.samplePoint(source - suns.length - 1, share, x, y, z);
    return this.sampleTriangle(x, y, z, share, (which - shares[source]!) / share, u, v, receiverTriangle);
  }

  private sampleEnvironment(share: number, u: number, v: number): boolean {
    const environment = this.scene.environment!;
    const texel = sampleDirection(environment, u, v, this.towards);
    for (let c = 0; c < 3; c++) this.light[c] = environment.radiance[texel * 3 + c]!;
    this.pdf = share * pdfOf(environment, texel);
    this.distance = Infinity;
    this.group = this.scene.environmentGroup;
    return this.pdf > 0;
  }

  private sampleSun(sun: Sun, share: number, u: number, v: number): boolean {
    const { frame, towards } = this;
    const { cosine, light, pdf, group } = sun;
    const x = sun.towards[0];
    const y = sun.towards[1];
    const z = sun.towards[2];
    this.distance = Infinity;
    this.group = group;
    if (pdf === 0) {
      for (let c = 0; c < 3; c++) this.light[c] = light[c]! / share;
      towards[0] = x;
      towards[1] = y;
      towards[2] = z;
      this.pdf = 0;
      return true;
    }
    orthonormalBasis(x, y, z, frame);
    const along = 1 - u * (1 - cosine);
    const aside = Math.sqrt(Math.max(0, 1 - along * along));
    const a = aside * Math.cos(2 * Math.PI * v);
    const b = aside * Math.sin(2 * Math.PI * v);
    towards[0] = x * along + frame[0]! * a + frame[3]! * b;
    towards[1] = y * along + frame[1]! * a + frame[4]! * b;
    towards[2] = z * along + frame[2]! * a + frame[5]! * b;
    for (let c = 0; c < 3; c++) this.light[c] = light[c]!;
    this.pdf = share * pdf;
    return true;
  }

  private samplePoint(number: number, share: number, x: number, y: number, z: number): boolean {
    const { towards } = this;
    const { position, intensity, cone, group } = this.scene.points[number]!;
    towards[0] = position[0] - x;
    towards[1] = position[1] - y;
    towards[2] = position[2] - z;
    const square = towards[0] ** 2 + towards[1] ** 2 + towards[2] ** 2;
    if (square === 0) return false;
    this.distance = Math.sqrt(square);
    for (let k = 0; k < 3; k++) towards[k]! /= this.distance;
    let scale = 1 / square / share;
    if (cone) {
      const along = -(towards[0] * cone.axis[0] + towards[1] * cone.axis[1] + towards[2] * cone.axis[2]);
      const full = Math.cos(cone.inner * DEGREE);
      const none = Math.cos(cone.outer * DEGREE);
      const t = full > none ? Math.max(0, Math.min(1, (along - none) / (full - none))) : along >= none ? 1 : 0;
      scale *= t * t * (3 - 2 * t);
    }
    for (let c = 0; c < 3; c++) this.light[c] = intensity[c]! * scale;
    this.pdf = 0;
    this.group = group;
    return scale > 0;
  }

  private sampleTriangle(
    x: number,
    y: number,
    z: number,
    share: number,
    which: number,
    u: number,
    v: number,
    receiverTriangle: number,
  ): boolean {
    const { scene, towards } = this;
    const { emitters, materials, groupOf } = scene;
    const { positions: p, indices } = scene.scene;
    const { sums, triangles } = emitters!;
    const place = placeIn(sums, 0, triangles.length, which);
    const triangle = triangles[place]!;
    const root = Math.sqrt(u);
    const wb = root * (1 - v);
    const wc = root * v;
    const wa = 1 - wb - wc;
    const a = indices[triangle * 3]! * 3;
    const b = indices[triangle * 3 + 1]! * 3;
    const c = indices[triangle * 3 + 2]! * 3;
    towards[0] = p[a]! * wa + p[b]! * wb + p[c]! * wc - x;
    towards[1] = p[a + 1]! * wa + p[b + 1]! * wb + p[c + 1]! * wc - y;
    towards[2] = p[a + 2]! * wa + p[b + 2]! * wb + p[c + 2]! * wc - z;
    const square = towards[0] ** 2 + towards[1] ** 2 + towards[2] ** 2;
    if (square === 0) return false;
    this.distance = Math.sqrt(square);
    for (let k = 0; k < 3; k++) towards[k]! /= this.distance;
    const material = materials.ofTriangle[triangle]!;
    this.pdf = this.trianglePdf(share, triangle, material, this.distance, towards[0], towards[1], towards[2]);
    if (this.isFromBehind && scene.oneSided[material] === 1) return false;
    const sent = this.surfaces.radianceAt(triangle, wb, wc, receiverTriangle);
    for (let k = 0; k < 3; k++) this.light[k] = sent[k]!;
    this.group = groupOf[material]!;
    return Number.isFinite(this.pdf);
  }

  private trianglePdf(
    share: number,
    triangle: number,
    material: number,
    distance: number,
    x: number,
    y: number,
    z: number,
  ): number {
    const { face } = this;
    triangleFace(this.scene.scene, triangle, face);
    const nx = face[6]!;
    const ny = face[7]!;
    const nz = face[8]!;
    const facing = nx * x + ny * y + nz * z;
    this.isFromBehind = facing > 0;
    const cosine = Math.abs(facing) / Math.sqrt(nx * nx + ny * ny + nz * nz);
    return (share * this.scene.emitters!.density[material]! * distance * distance) / cosine;
  }

  /** Whether the triangle that was asked about last shows its back. */
  private isFromBehind = false;

  /**
   * Probability density, by solid angle, with which light sampling would have found a triangle that a ray has hit.
   * @returns below 0 where it sends nothing this way
   */
  pdfOfHit(triangle: number, distance: number, x: number, y: number, z: number): number {
    const { emitters, materials } = this.scene;
    if (!emitters) return 0;
    const share = this.shareOf(this.shares.length - 2);
    const material = materials.ofTriangle[triangle]!;
    const pdf = this.trianglePdf(share, triangle, material, distance, x, y, z);
    return this.isFromBehind && this.scene.oneSided[material] === 1 ? -1 : pdf;
  }

  /** The environment and all suns. */
  get farSources(): number {
    return 1 + this.suns.length;
  }

  /**
   * Radiance of one distant source in a direction, with the probability density of light sampling there, as `sample` tells
   * them.
   * @returns whether anything does
   */
  fromFar(source: number, x: number, y: number, z: number): boolean {
    const { light } = this;
    if (source === 0) {
      const { environment, environmentGroup } = this.scene;
      if (!environment) return false;
      const texel = texelTowards(environment, x, y, z);
      for (let c = 0; c < 3; c++) light[c] = environment.radiance[texel * 3 + c]!;
      this.pdf = this.shareOf(0) * pdfOf(environment, texel);
      this.group = environmentGroup;
      return true;
    }
    const sun = this.suns[source - 1]!;
    const { towards } = sun;
    if (sun.pdf === 0 || x * towards[0] + y * towards[1] + z * towards[2] < sun.cosine) return false;
    for (let c = 0; c < 3; c++) light[c] = sun.light[c]!;
    this.pdf = this.shareOf(source) * sun.pdf;
    this.group = sun.group;
    return true;
  }
}
