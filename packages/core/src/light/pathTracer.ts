import { mixed } from '../math/lowDiscrepancy.ts';
import { triangleFace } from '../mesh/triangleFace.ts';
import { hitBatch, rayBatch, type HitBatch, type RayBatch, type Tracer } from '../trace/rays.ts';
import type { LightScene } from './lightScene.ts';
import { LightSampler } from './lightSampler.ts';
import { ACCUMULATED, GROUPS_AT } from './passes.ts';
import { orthonormalBasis } from '../math/orthonormalBasis.ts';
import { chanceOf, pointOf } from './sampling.ts';
import { Bsdf } from './bsdf.ts';
import { placeOn } from './surfacePlace.ts';
import type { SurfaceReader } from './surfaceReader.ts';

/** Paths that are followed together. */
export const PATHS = 4096;

/** Offset of ray origins along the geometric normal, as a share of the scene's diagonal. */
const OFFSET = 4e-6;
/** Below this cosine to the shading normal the geometric normal is used instead. */
const LEAST_COSINE = 0.01;
/** Path vertices that use low-discrepancy points; deeper ones use hashed random numbers. */
const EVEN_DEPTH = 2;
/** Path vertices before Russian roulette begins. */
const ROULETTE_DEPTH = 3;

/** First vertices of camera paths, and the texels whose sums they add to. */
export interface PathStarts {
  count: number;
  /** Place, shading normal, and unit direction of the eye: x, y, z each. */
  positions: Float64Array;
  normals: Float64Array;
  eyes: Float64Array;
  /** Of the scene; with the weights of its second and third corner. */
  triangles: Int32Array;
  weights: Float64Array;
  /** The triangle of the receiver. */
  owners: Int32Array;
  /** Index of the texel's sums. */
  slots: Int32Array;
  /** Number of the sample, and of the texel in the whole picture. */
  samples: Int32Array;
  seeds: Int32Array;
}

export const pathStarts = (capacity: number): PathStarts => ({
  count: 0,
  positions: new Float64Array(capacity * 3),
  normals: new Float64Array(capacity * 3),
  eyes: new Float64Array(capacity * 3),
  triangles: new Int32Array(capacity),
  weights: new Float64Array(capacity * 2),
  owners: new Int32Array(capacity),
  slots: new Int32Array(capacity),
  samples: new Int32Array(capacity),
  seeds: new Int32Array(capacity),
});

/**
 * Throughput of a path, three colours for each lobe of its first surface: diffuse, glossy, transmitted; and without any, for
 * the incident light.
 */
const LOBES = 12;
const TRANSMITTED = 6;
const INCIDENT = 9;

/**
 * Unidirectional path tracing in wavefronts: at each vertex one light is sampled and one direction by the BSDF, and both
 * estimates are combined by multiple importance sampling (Veach, "Robust Monte Carlo
 * Methods for Light Transport Simulation", 1997: next-event estimation, balance heuristic, Russian roulette). All paths
 * are extended one vertex at a time, so that their rays make one batch.
 */
export class PathTracer {
  /** Rays that were cast so far. */
  cast = 0;
  private readonly scene: LightScene;
  private readonly tracer: Tracer;
  private readonly surfaces: SurfaceReader;
  private readonly lights: LightSampler;
  private readonly bounces: number;
  private readonly seesSky: boolean;
  private readonly offset: number;
  private readonly bsdf = new Bsdf();
  private readonly frame = new Float64Array(6);
  private readonly face = new Float64Array(9);
  private readonly one = new Float64Array(2);
  private readonly two = new Float64Array(2);

  private readonly rays: RayBatch;
  private readonly hits: HitBatch;
  private readonly shadows: RayBatch;
  private readonly blocked: Uint8Array;
  /** The path of each ray and of each shadow ray. */
  private readonly rayPaths = new Int32Array(PATHS);
  private readonly shadowPaths = new Int32Array(PATHS);
  /** Radiance each shadow ray carries if it is unoccluded, by lobe; and the light group. */
  private readonly pending = new Float64Array(PATHS * LOBES);
  private readonly pendingGroups = new Uint8Array(PATHS);

  private readonly places = new Float64Array(PATHS * 3);
  private readonly normals = new Float64Array(PATHS * 3);
  private readonly back = new Float64Array(PATHS * 3);
  private readonly triangles = new Int32Array(PATHS);
  private readonly weights = new Float64Array(PATHS * 2);
  private readonly throughput = new Float64Array(PATHS * LOBES);
  /** Unit direction in which each path has left its first surface. */
  private readonly firsts = new Float64Array(PATHS * 3);
  /** Probability density of each extension ray; Infinity where light sampling cannot find the same. */
  private readonly pdfs = new Float64Array(PATHS);
  /** The material that each path travels within, or −1. */
  private readonly within = new Int16Array(PATHS);
  /** Logarithm of the transmittance of a mesh unit within each material; null for 1. */
  private readonly absorbed: (Float64Array | null)[];

  /**
   * @param bounces surfaces between the first and a light, at most; 0 for direct light alone
   * @param seesSky whether it is also counted how much of the surroundings is open
   */
  constructor(scene: LightScene, tracer: Tracer, surfaces: SurfaceReader, bounces: number, seesSky = false) {
    this.scene = scene;
    this.tracer = tracer;
    this.surfaces = surfaces;
    this.lights = new LightSampler(scene, surfaces);
    this.bounces = bounces;
    this.seesSky = seesSky;
    this.offset = scene.extent * OFFSET;
    this.absorbed = scene.materials.materials.map(({ glass }) =>
      glass?.attenuation
        ? Float64Array.from(
            glass.attenuation.color,
            (left) => Math.log(Math.max(1e-9, left)) / glass.attenuation!.distance,
          )
        : null,
    );
    this.rays = rayBatch(PATHS);
    this.hits = hitBatch(PATHS);
    this.shadows = rayBatch(PATHS);
    this.blocked = new Uint8Array(PATHS);
  }

  /**
   * @param starts up to `PATHS` of them
   * @param counted added to, `stride` numbers for each slot
   */
  trace(starts: PathStarts, counted: Float64Array, stride: number): void {
    const { rays, hits, shadows, blocked, tracer, rayPaths } = this;
    this.begin(starts, counted, stride);
    if (this.seesSky) this.sampleSky(starts, counted, stride);
    let alive = starts.count;
    for (let depth = 0; alive > 0; depth++) {
      rays.count = 0;
      shadows.count = 0;
      for (let k = 0; k < alive; k++) this.scatter(rayPaths[k]!, depth, starts);
      this.cast += shadows.count + rays.count;
      if (shadows.count > 0) {
        tracer.anyHits(shadows, blocked, 'accept');
        this.addUnoccluded(depth, starts, counted, stride);
      }
      if (rays.count === 0) return;
      tracer.closestHits(rays, hits, 'accept');
      alive = this.extend(depth, starts, counted, stride);
    }
  }

  private begin(starts: PathStarts, counted: Float64Array, stride: number): void {
    const { count, positions, normals, eyes, triangles, weights, owners, slots } = starts;
    this.places.set(positions.subarray(0, count * 3));
    this.normals.set(normals.subarray(0, count * 3));
    this.back.set(eyes.subarray(0, count * 3));
    this.triangles.set(triangles.subarray(0, count));
    this.weights.set(weights.subarray(0, count * 2));
    this.throughput.fill(1, 0, count * LOBES);
    this.within.fill(-1, 0, count);
    const { groupOf, materials } = this.scene;
    for (let p = 0; p < count; p++) {
      this.rayPaths[p] = p;
      const triangle = triangles[p]!;
      const sent = this.surfaces.radianceAt(triangle, weights[p * 2]!, weights[p * 2 + 1]!, owners[p]!);
      if (sent[0]! + sent[1]! + sent[2]! === 0) continue;
      const at = slots[p]! * stride;
      const group = at + GROUPS_AT + groupOf[materials.ofTriangle[triangle]!]! * 3;
      for (let c = 0; c < 3; c++) {
        counted[at + ACCUMULATED.emission + c]! += sent[c]!;
        counted[group + c]! += sent[c]!;
      }
    }
  }

  /** Sky visibility: one cosine-weighted direction for each path. */
  private sampleSky(starts: PathStarts, counted: Float64Array, stride: number): void {
    const { shadows, blocked, frame, two, normals, places, offset, back } = this;
    shadows.count = starts.count;
    for (let p = 0; p < starts.count; p++) {
      this.faceOf(this.triangles[p]!, back[p * 3]!, back[p * 3 + 1]!, back[p * 3 + 2]!);
      this.shadeBy(normals, p * 3);
      const { nx, ny, nz } = this;
      orthonormalBasis(nx, ny, nz, frame);
      this.draw(starts.samples[p]!, starts.seeds[p]!, 0, 3, two);
      const radius = Math.sqrt(two[0]!);
      const a = radius * Math.cos(2 * Math.PI * two[1]!);
      const b = radius * Math.sin(2 * Math.PI * two[1]!);
      const up = Math.sqrt(1 - two[0]!);
      shadows.directions[p * 3] = frame[0]! * a + frame[3]! * b + nx * up;
      shadows.directions[p * 3 + 1] = frame[1]! * a + frame[4]! * b + ny * up;
      shadows.directions[p * 3 + 2] = frame[2]! * a + frame[5]! * b + nz * up;
      shadows.origins[p * 3] = places[p * 3]! + this.gx * offset;
      shadows.origins[p * 3 + 1] = places[p * 3 + 1]! + this.gy * offset;
      shadows.origins[p * 3 + 2] = places[p * 3 + 2]! + this.gz * offset;
      shadows.lengths[p] = this.scene.extent * 4;
    }
    this.cast += shadows.count;
    this.tracer.anyHits(shadows, blocked, 'accept');
    for (let p = 0; p < starts.count; p++) {
      if (blocked[p] === 0) counted[starts.slots[p]! * stride + ACCUMULATED.sky]!++;
    }
  }

  /** Shades a path vertex: samples one light and queues its shadow ray, samples the BSDF and queues the next ray. */
  private scatter(p: number, depth: number, starts: PathStarts): void {
    const { bsdf, frame, one, two, back, normals, places, throughput, lights } = this;
    const owner = starts.owners[p]!;
    const triangle = this.triangles[p]!;
    const bx = back[p * 3]!;
    const by = back[p * 3 + 1]!;
    const bz = back[p * 3 + 2]!;
    // The surface's own normal on the side that is looked at, and the one it is shaded by.
    this.faceOf(triangle, bx, by, bz);
    const gx = this.gx;
    const gy = this.gy;
    const gz = this.gz;
    this.shadeBy(normals, p * 3);
    const bent = this.surfaces.normalAt(triangle, this.weights[p * 2]!, this.weights[p * 2 + 1]!, owner);
    if (bent) this.shadeBy(bent, 0);
    let nx = this.nx;
    let ny = this.ny;
    let nz = this.nz;
    let z = nx * bx + ny * by + nz * bz;
    // Where the eye is below what the surface is shaded as, it is shaded as it lies.
    if (z < LEAST_COSINE) {
      nx = gx;
      ny = gy;
      nz = gz;
      z = nx * bx + ny * by + nz * bz;
    }
    orthonormalBasis(nx, ny, nz, frame);
    const tx = frame[0]!;
    const ty = frame[1]!;
    const tz = frame[2]!;
    const sx = frame[3]!;
    const sy = frame[4]!;
    const sz = frame[5]!;
    const values = this.surfaces.valuesAt(triangle, this.weights[p * 2]!, this.weights[p * 2 + 1]!, owner);
    bsdf.prepare(values, bx * tx + by * ty + bz * tz, bx * sx + by * sy + bz * sz, z, this.isBack);
    const offset = this.offset;
    const x = places[p * 3]! + gx * offset;
    const y = places[p * 3 + 1]! + gy * offset;
    const q = places[p * 3 + 2]! + gz * offset;
    const seed = starts.seeds[p]!;
    const sample = starts.samples[p]!;

    this.draw(sample, seed, depth, 0, one);
    this.draw(sample, seed, depth, 1, two);
    const kind = one[1]!;
    // From the place itself: rays begin beside it only so as not to meet it.
    if (lights.sample(places[p * 3]!, places[p * 3 + 1]!, places[p * 3 + 2]!, one[0]!, two[0]!, two[1]!, owner)) {
      const { towards, light, pdf, distance } = lights;
      const lx = towards[0]!;
      const ly = towards[1]!;
      const lz = towards[2]!;
      const up = lx * nx + ly * ny + lz * nz;
      if (up > 0 && lx * gx + ly * gy + lz * gz > 0) {
        bsdf.evaluate(lx * tx + ly * ty + lz * tz, lx * sx + ly * sy + lz * sz, up);
        const weight = pdf === 0 ? 1 : 1 / (pdf + bsdf.pdf);
        this.queueShadowRay(p, depth, light, weight, up, x, y, q, distance);
      }
    }
    this.draw(sample, seed, depth, 2, two);
    bsdf.sample(kind, two[0]!, two[1]!);
    const px = bsdf.sampled[0]!;
    const py = bsdf.sampled[1]!;
    const pz = bsdf.sampled[2]!;
    if (pz === 0) return;
    const dx = tx * px + sx * py + nx * pz;
    const dy = ty * px + sy * py + ny * pz;
    const dz = tz * px + sz * py + nz * pz;
    const isThrough = pz < 0;
    // Light that would come through the surface where it does not, or not where it does.
    if (dx * gx + dy * gy + dz * gz > 0 === isThrough) return;
    const at = p * LOBES;
    if (isThrough) {
      if (!this.transmit(p, at, depth)) return;
    } else {
      bsdf.evaluate(px, py, pz);
      const { pdf } = bsdf;
      if (!(pdf > 0)) return;
      for (let c = 0; c < 3; c++) {
        const diffuse = bsdf.diffuse[c]! / pdf;
        const glossy = bsdf.glossy[c]! / pdf;
        if (depth === 0) {
          throughput[at + c] = diffuse;
          throughput[at + 3 + c] = glossy;
          throughput[at + TRANSMITTED + c] = 0;
          throughput[at + INCIDENT + c] = pz / pdf;
        } else {
          for (let way = c; way < LOBES; way += 3) throughput[at + way]! *= diffuse + glossy;
        }
      }
      this.pdfs[p] = pdf;
    }
    const side = isThrough ? -2 * offset : 0;
    const { rays } = this;
    const r = rays.count++;
    this.rayPaths[r] = p;
    rays.origins[r * 3] = x + gx * side;
    rays.origins[r * 3 + 1] = y + gy * side;
    rays.origins[r * 3 + 2] = q + gz * side;
    rays.directions[r * 3] = dx;
    rays.directions[r * 3 + 1] = dy;
    rays.directions[r * 3 + 2] = dz;
    rays.lengths[r] = this.scene.extent * 4;
    if (depth > 0) return;
    this.firsts[p * 3] = dx;
    this.firsts[p * 3 + 1] = dy;
    this.firsts[p * 3 + 2] = dz;
  }

  private nx = 0;
  private ny = 0;
  private nz = 1;

  /** Takes a shading normal, turned to the side of the geometric one. */
  private shadeBy(normals: Float64Array, at: number): void {
    const x = normals[at]!;
    const y = normals[at + 1]!;
    const z = normals[at + 2]!;
    const side = x * this.gx + y * this.gy + z * this.gz < 0 ? -1 : 1;
    this.nx = x * side;
    this.ny = y * side;
    this.nz = z * side;
  }

  /** Continues a path through its surface. @returns whether its throughput is above 0 */
  private transmit(p: number, at: number, depth: number): boolean {
    const { throughput } = this;
    const { through } = this.bsdf;
    if (!(through[0]! + through[1]! + through[2]! > 0)) return false;
    for (let c = 0; c < 3; c++) {
      if (depth === 0) {
        throughput[at + c] = 0;
        throughput[at + 3 + c] = 0;
        throughput[at + TRANSMITTED + c] = through[c]!;
        throughput[at + INCIDENT + c] = 0;
      } else {
        for (let way = c; way < LOBES; way += 3) throughput[at + way]! *= through[c]!;
      }
    }
    this.pdfs[p] = Infinity;
    this.within[p] = this.isBack ? -1 : this.scene.materials.ofTriangle[this.triangles[p]!]!;
    return true;
  }

  /** Whether the normal of a triangle's plane points away from what was asked for last. */
  private isBack = false;
  private gx = 0;
  private gy = 0;
  private gz = 1;

  /** The geometric normal of a triangle, on the side of a direction. */
  private faceOf(triangle: number, x: number, y: number, z: number): void {
    const { face } = this;
    triangleFace(this.scene.scene, triangle, face);
    const nx = face[6]!;
    const ny = face[7]!;
    const nz = face[8]!;
    const length = Math.sqrt(nx * nx + ny * ny + nz * nz);
    this.isBack = nx * x + ny * y + nz * z < 0;
    const scale = length === 0 ? 0 : (this.isBack ? -1 : 1) / length;
    this.gx = nx * scale;
    this.gy = ny * scale;
    this.gz = nz * scale;
  }

  private draw(sample: number, seed: number, depth: number, use: number, out: Float64Array): void {
    const own = mixed(seed, depth * 4 + use);
    if (depth < EVEN_DEPTH) pointOf(sample, own | 0, out);
    else chanceOf(mixed(own, sample), out);
  }

  /** Queues a shadow ray with the radiance that it adds if it is unoccluded. */
  private queueShadowRay(
    p: number,
    depth: number,
    light: Float64Array,
    weight: number,
    cosine: number,
    x: number,
    y: number,
    z: number,
    distance: number,
  ): void {
    const { bsdf, shadows, pending, throughput, lights } = this;
    const s = shadows.count;
    const at = s * LOBES;
    let any = 0;
    for (let c = 0; c < 3; c++) {
      const arriving = light[c]! * weight;
      const diffuse = bsdf.diffuse[c]!;
      const glossy = bsdf.glossy[c]!;
      if (depth === 0) {
        pending[at + c] = arriving * diffuse;
        pending[at + 3 + c] = arriving * glossy;
        pending[at + TRANSMITTED + c] = 0;
        pending[at + INCIDENT + c] = arriving * cosine;
      } else {
        const both = arriving * (diffuse + glossy);
        for (let way = c; way < LOBES; way += 3) pending[at + way] = both * throughput[p * LOBES + way]!;
      }
      any += pending[at + c]! + pending[at + 3 + c]! + pending[at + TRANSMITTED + c]! + pending[at + INCIDENT + c]!;
    }
    if (!(any > 0)) return;
    shadows.count++;
    this.shadowPaths[s] = p;
    this.pendingGroups[s] = lights.group;
    const { towards } = lights;
    const { places } = this;
    if (!Number.isFinite(distance)) {
      for (let k = 0; k < 3; k++) shadows.directions[s * 3 + k] = towards[k]!;
      shadows.lengths[s] = this.scene.extent * 4;
    } else {
      // From beside the place to the same place of the lamp, and not into that itself.
      const dx = places[p * 3]! + towards[0]! * distance - x;
      const dy = places[p * 3 + 1]! + towards[1]! * distance - y;
      const dz = places[p * 3 + 2]! + towards[2]! * distance - z;
      const length = Math.sqrt(dx * dx + dy * dy + dz * dz) || 1;
      shadows.directions[s * 3] = dx / length;
      shadows.directions[s * 3 + 1] = dy / length;
      shadows.directions[s * 3 + 2] = dz / length;
      shadows.lengths[s] = length * (1 - 1e-4);
    }
    shadows.origins[s * 3] = x;
    shadows.origins[s * 3 + 1] = y;
    shadows.origins[s * 3 + 2] = z;
  }

  private addUnoccluded(depth: number, { slots }: PathStarts, counted: Float64Array, stride: number): void {
    const { shadows, blocked, shadowPaths, pending, pendingGroups, firsts } = this;
    for (let s = 0; s < shadows.count; s++) {
      const slot = slots[shadowPaths[s]!]! * stride;
      const isFree = blocked[s] === 0;
      if (depth === 0) {
        const bare = s * LOBES + INCIDENT;
        const sent = pending[bare]! + pending[bare + 1]! + pending[bare + 2]!;
        counted[slot + ACCUMULATED.unoccluded]! += sent;
        if (isFree) counted[slot + ACCUMULATED.visible]! += sent;
      }
      if (!isFree) continue;
      if (depth === 0) this.comeFrom(shadows.directions, s * 3);
      else this.comeFrom(firsts, shadowPaths[s]! * 3);
      this.count(pending, s * LOBES, 1, 1, 1, depth === 0, pendingGroups[s]!, counted, slot);
    }
  }

  /** Where light comes from that is counted next. */
  private ix = 0;
  private iy = 0;
  private iz = 0;

  private comeFrom(directions: Float64Array | Float32Array, at: number): void {
    this.ix = directions[at]!;
    this.iy = directions[at + 1]!;
    this.iz = directions[at + 2]!;
  }

  /** Adds radiance to the sums of its passes. @param isDirect whether it left a light without a bounce */
  private count(
    ways: Float64Array,
    at: number,
    r: number,
    g: number,
    b: number,
    isDirect: boolean,
    group: number,
    counted: Float64Array,
    slot: number,
  ): void {
    const diffuse = slot + (isDirect ? ACCUMULATED.diffuseDirect : ACCUMULATED.diffuseIndirect);
    const glossy = slot + (isDirect ? ACCUMULATED.reflectionDirect : ACCUMULATED.reflectionIndirect);
    let incident = 0;
    for (let c = 0; c < 3; c++) {
      const light = c === 0 ? r : c === 1 ? g : b;
      const own = ways[at + c]! * light;
      const gloss = ways[at + 3 + c]! * light;
      counted[diffuse + c]! += own;
      counted[glossy + c]! += gloss;
      const through = ways[at + TRANSMITTED + c]! * light;
      counted[slot + ACCUMULATED.refraction + c]! += through;
      const falling = ways[at + INCIDENT + c]! * light;
      counted[slot + ACCUMULATED.irradiance + c]! += falling;
      incident += falling;
      counted[slot + GROUPS_AT + group * 3 + c]! += own + gloss + through;
    }
    counted[slot + ACCUMULATED.direction]! += incident * this.ix;
    counted[slot + ACCUMULATED.direction + 1]! += incident * this.iy;
    counted[slot + ACCUMULATED.direction + 2]! += incident * this.iz;
  }

  /** Extends paths to what their rays hit, and adds the emission found there. @returns how many paths go on */
  private extend(depth: number, starts: PathStarts, counted: Float64Array, stride: number): number {
    const { rays, hits, rayPaths, throughput, pdfs, lights, scene } = this;
    const { groupOf, materials } = scene;
    let alive = 0;
    for (let r = 0; r < rays.count; r++) {
      const p = rayPaths[r]!;
      const at = p * LOBES;
      const slot = starts.slots[p]! * stride;
      const pdf = pdfs[p]!;
      const dx = rays.directions[r * 3]!;
      const dy = rays.directions[r * 3 + 1]!;
      const dz = rays.directions[r * 3 + 2]!;
      const triangle = hits.triangles[r]!;
      this.comeFrom(this.firsts, p * 3);
      if (triangle >= 0 && this.within[p]! >= 0) this.absorb(p, at, hits.distances[r]!);
      if (triangle < 0) {
        for (let source = 0; source < lights.farSources; source++) {
          if (!lights.fromFar(source, dx, dy, dz)) continue;
          const { light } = lights;
          const weight = 1 / (1 + lights.pdf / pdf);
          const red = light[0]! * weight;
          const green = light[1]! * weight;
          const blue = light[2]! * weight;
          this.count(throughput, at, red, green, blue, depth === 0, lights.group, counted, slot);
        }
        continue;
      }
      const wb = hits.weights[r * 2]!;
      const wc = hits.weights[r * 2 + 1]!;
      const sent = this.surfaces.radianceAt(triangle, wb, wc, starts.owners[p]!);
      if (sent[0]! + sent[1]! + sent[2]! > 0) {
        const other = lights.pdfOfHit(triangle, hits.distances[r]!, dx, dy, dz);
        const weight = other < 0 ? 0 : 1 / (1 + other / pdf);
        const group = groupOf[materials.ofTriangle[triangle]!]!;
        const red = sent[0]! * weight;
        const green = sent[1]! * weight;
        const blue = sent[2]! * weight;
        this.count(throughput, at, red, green, blue, depth === 0, group, counted, slot);
      }
      if (depth >= this.bounces || !this.survives(p, depth, starts)) continue;
      this.moveTo(p, triangle, wb, wc, dx, dy, dz);
      rayPaths[alive++] = p;
    }
    return alive;
  }

  /** Absorption along a segment within a body (law of Beer and Lambert). */
  private absorb(p: number, at: number, distance: number): void {
    const absorbed = this.absorbed[this.within[p]!];
    if (!absorbed) return;
    for (let c = 0; c < 3; c++) {
      const left = Math.exp(absorbed[c]! * distance);
      for (let way = c; way < LOBES; way += 3) this.throughput[at + way]! *= left;
    }
  }

  private survives(p: number, depth: number, { samples, seeds }: PathStarts): boolean {
    const { throughput } = this;
    const at = p * LOBES;
    let most = 0;
    for (let c = 0; c < 3; c++)
      most = Math.max(most, throughput[at + c]! + throughput[at + 3 + c]! + throughput[at + TRANSMITTED + c]!);
    if (!(most > 0)) {
      // A black surface is still lit.
      for (let c = INCIDENT; c < LOBES; c++) most = Math.max(most, throughput[at + c]! / Math.PI);
    }
    if (!(most > 0)) return false;
    if (depth + 1 < ROULETTE_DEPTH) return true;
    const share = Math.min(0.95, most);
    this.draw(samples[p]!, seeds[p]!, depth, 3, this.one);
    if (this.one[0]! >= share) return false;
    for (let way = 0; way < LOBES; way++) throughput[at + way]! /= share;
    return true;
  }

  private moveTo(p: number, triangle: number, wb: number, wc: number, dx: number, dy: number, dz: number): void {
    placeOn(this.scene.scene, triangle, wb, wc, this.places, this.normals, p * 3);
    this.back[p * 3] = -dx;
    this.back[p * 3 + 1] = -dy;
    this.back[p * 3 + 2] = -dz;
    this.triangles[p] = triangle;
    this.weights[p * 2] = wb;
    this.weights[p * 2 + 1] = wc;
  }
}
