import { BLOCK } from '../bake/coverage/blocks.ts';
import type { BlockSamples } from '../bake/coverage/coverage.ts';
import { orthonormalBasis } from '../math/orthonormalBasis.ts';
import { facesAlong, triangleFace } from '../mesh/triangleFace.ts';
import type { LightScene } from './lightScene.ts';
import { PATHS } from './pathRoom.ts';
import type { PathTracer } from './pathTracer.ts';
import { placeOn } from './surfacePlace.ts';

/** Rays along the surface from each place: to four sides. */
const SIDES = 4;
/** How far they go, in widths of a texel: as far as the next texel. */
const REACH = 1.5;
/** From the middle of a texel so far, to see whether anything is near at all. */
const NEAR = 2;
/** How far above the surface they begin, in widths of a texel. */
const HEIGHT = 0.02;

/**
 * Tells which places of texels lie within another body, such as the floor below a wall that stands on it: from there the
 * next surface along the floor is seen from behind (common practice, no source). Without that, the dark of the inside shows
 * beside the wall: a leak.
 */
export class OpenPlaces {
  private readonly light: LightScene;
  private readonly paths: PathTracer;
  private readonly firstTriangle: number;
  /** Width of a texel on each triangle of the receiver, in mesh units. */
  private readonly widths: Float32Array;
  private readonly place = new Float64Array(3);
  private readonly normal = new Float64Array(3);
  private readonly basis = new Float64Array(6);
  private readonly face = new Float64Array(9);

  constructor(light: LightScene, paths: PathTracer, firstTriangle: number, widths: Float32Array) {
    this.light = light;
    this.paths = paths;
    this.firstTriangle = firstTriangle;
    this.widths = widths;
  }

  /** @param buried told 1 for each sample's place that lies within a body, else 0 */
  find(samples: BlockSamples, buried: Uint8Array): void {
    buried.fill(0, 0, samples.count);
    const { texels, count } = samples;
    const middles: number[] = [];
    for (let first = 0, end = 0; first < count; first = end) {
      while (end < count && texels[end] === texels[first]) end++;
      middles.push(first + ((end - first) >> 1));
    }
    // Most texels have nothing near them.
    const isNear = new Uint8Array(BLOCK * BLOCK);
    this.look(samples, middles, NEAR, (s, ray) => {
      if (this.paths.starts.next.hits.triangles[ray]! >= 0) isNear[texels[s]!] = 1;
    });
    const places: number[] = [];
    for (let s = 0; s < count; s++) if (isNear[texels[s]!] === 1) places.push(s);
    this.look(samples, places, REACH, (s, ray) => {
      if (this.meetsBack(ray)) buried[s] = 1;
    });
  }

  /** Casts rays along the surface from places. @param told each place and the number of each of its rays */
  private look(
    samples: BlockSamples,
    places: readonly number[],
    reach: number,
    told: (place: number, ray: number) => void,
  ): void {
    const atOnce = PATHS / SIDES;
    for (let from = 0; from < places.length; from += atOnce) {
      const count = Math.min(atOnce, places.length - from);
      for (let k = 0; k < count; k++) this.aim(samples, places[from + k]!, k * SIDES, reach);
      this.paths.castRays(this.paths.starts.next, count * SIDES, false);
      for (let ray = 0; ray < count * SIDES; ray++) told(places[from + Math.floor(ray / SIDES)]!, ray);
    }
  }

  private aim({ triangles, weights }: BlockSamples, s: number, ray: number, reach: number): void {
    const { place, normal, basis, face, light } = this;
    const { origins, directions, lengths } = this.paths.starts.next.rays;
    const triangle = triangles[s]!;
    placeOn(light.scene, this.firstTriangle + triangle, weights[s * 2]!, weights[s * 2 + 1]!, place, normal, 0);
    triangleFace(light.scene, this.firstTriangle + triangle, face);
    const length = Math.sqrt(face[6]! ** 2 + face[7]! ** 2 + face[8]! ** 2) || 1;
    for (let k = 0; k < 3; k++) normal[k] = face[6 + k]! / length;
    orthonormalBasis(normal[0]!, normal[1]!, normal[2]!, basis);
    const width = this.widths[triangle]!;
    for (let side = 0; side < SIDES; side++) {
      const r = ray + side;
      const sign = side < 2 ? 1 : -1;
      for (let k = 0; k < 3; k++) {
        origins[r * 3 + k] = place[k]! + normal[k]! * width * HEIGHT;
        directions[r * 3 + k] = sign * basis[(side & 1) * 3 + k]!;
      }
      lengths[r] = width * reach;
    }
  }

  private meetsBack(ray: number): boolean {
    const { rays, hits } = this.paths.starts.next;
    const triangle = hits.triangles[ray]!;
    if (triangle < 0) return false;
    const [x, y, z] = rays.directions.subarray(ray * 3, ray * 3 + 3);
    return facesAlong(this.light.scene, triangle, x!, y!, z!);
  }
}
