import {
  ggxDistribution,
  fresnel,
  LEAST_ALPHA,
  smithLambda,
  schlickWeight,
  sampleVisibleNormal,
} from './microfacet.ts';
import { directionalAlbedo } from './directionalAlbedo.ts';

/** What a surface is made of at one place, in the terms of glTF 2.0; colours are light. */
export interface SurfaceValues {
  base: Float64Array;
  metallic: number;
  roughness: number;
  /** How much of the reflection of a dielectric there is: 1, or 0 for a surface that is nothing but diffuse. */
  specular: number;
  /** The share of what a dielectric does not reflect that goes through, and its index of refraction. */
  transmission: number;
  ior: number;
}

/** Reflectance of a dielectric of index 1.5 that faces the light (Fresnel). */
const DIELECTRIC = 0.04;

/**
 * The bidirectional scattering distribution function of a surface: how it scatters light that leaves it one way, diffusely,
 * at its roughness and, where it transmits, through it. What is lost between the mirrors of
 * a rough surface is given back (Turquin, "Practical multiple scattering compensation for microfacet models", 2019), and
 * what is reflected does not reach the colour below. All directions are in the surface's frame, with z upwards.
 * @example bsdf.prepare(values, 0, 0, 1); bsdf.evaluate(0.6, 0, 0.8); const weight = bsdf.diffuse[0];
 */
export class Bsdf {
  /** Of the direction evaluated last: the function times the cosine, for each colour; and its probability density. */
  readonly diffuse = new Float64Array(3);
  readonly glossy = new Float64Array(3);
  pdf = 0;
  /** The direction that was sampled last; below the surface for what is transmitted, */
  readonly sampled = new Float64Array(3);
  /** of each colour of which this is left, over the probability that it was sampled. */
  readonly through = new Float64Array(3);
  private readonly base = new Float64Array(3);
  private throughShare = 0;
  /** What goes through of what is not reflected. */
  private transmission = 0;
  /** Index of refraction on this side over that beyond. */
  private ratio = 1;
  /** Diffuse reflectance of each colour. */
  private readonly albedo = new Float64Array(3);
  private readonly facing = new Float64Array(3);
  private readonly compensation = new Float64Array(3);
  private readonly normal = new Float64Array(3);
  private readonly split = new Float64Array(2);
  private grazing = 1;
  private alpha = 1;
  private glossyShare = 0;
  private ownMasking = 0;
  private x = 0;
  private y = 0;
  private z = 1;

  /**
   * @param x, y, z the direction in which light leaves, above the surface
   * @param isWithin whether that is within the body, which matters where it lets light through
   */
  prepare(values: SurfaceValues, x: number, y: number, z: number, isWithin = false): void {
    const { base, metallic, roughness, specular } = values;
    this.transmission = values.transmission * (1 - metallic);
    this.x = x;
    this.y = y;
    this.z = Math.max(1e-4, z);
    this.alpha = Math.max(LEAST_ALPHA, roughness * roughness);
    this.ownMasking = smithLambda(this.z, this.alpha);
    const dielectric = DIELECTRIC * specular;
    this.grazing = specular + (1 - specular) * metallic;
    let reflected = 0;
    let below = 0;
    if (this.grazing > 0) {
      directionalAlbedo(this.z, roughness, this.split);
      const scale = this.split[0]!;
      const bias = this.split[1]!;
      const lost = 1 / (scale + bias) - 1;
      const covered = (dielectric * scale + specular * bias) * (1 + dielectric * lost);
      for (let c = 0; c < 3; c++) {
        const facing = dielectric + (base[c]! - dielectric) * metallic;
        this.facing[c] = facing;
        this.compensation[c] = 1 + facing * lost;
        reflected += (facing * scale + this.grazing * bias) * this.compensation[c]!;
        this.albedo[c] = base[c]! * (1 - metallic) * (1 - covered);
        below += this.albedo[c]!;
      }
    } else {
      for (let c = 0; c < 3; c++) {
        this.albedo[c] = base[c]! * (1 - metallic);
        below += this.albedo[c]!;
      }
    }
    this.throughShare = 0;
    if (this.transmission > 0) {
      this.ratio = isWithin ? values.ior : 1 / values.ior;
      const mirrored = fresnel(this.z, this.ratio);
      const kept = 1 - this.transmission;
      let through = 0;
      for (let c = 0; c < 3; c++) {
        this.base[c] = base[c]!;
        this.albedo[c]! *= kept;
        this.compensation[c] = 1;
        through += base[c]! * this.transmission * (1 - mirrored);
      }
      below *= kept;
      reflected = Math.max(reflected, 3 * mirrored);
      const sum = reflected + below + through;
      this.throughShare = sum > 0 ? Math.max(0.1, Math.min(0.8, through / sum)) : 0;
    }
    const share = reflected + below > 0 ? reflected / (reflected + below) : 0;
    // Whatever is there at all is also looked for.
    this.glossyShare = reflected === 0 ? 0 : below === 0 ? 1 : Math.max(0.1, Math.min(0.9, share));
    this.glossyShare *= 1 - this.throughShare;
  }

  /** What light that comes from a direction becomes. */
  evaluate(x: number, y: number, z: number): void {
    const { diffuse, glossy, glossyShare, alpha } = this;
    this.pdf = 0;
    if (z <= 0) {
      diffuse.fill(0);
      glossy.fill(0);
      return;
    }
    const cosine = z / Math.PI;
    for (let c = 0; c < 3; c++) diffuse[c] = this.albedo[c]! * cosine;
    this.pdf = (1 - glossyShare - this.throughShare) * cosine;
    if (glossyShare === 0) {
      glossy.fill(0);
      return;
    }
    const sx = this.x + x;
    const sy = this.y + y;
    const sz = this.z + z;
    const length = Math.sqrt(sx * sx + sy * sy + sz * sz);
    const upright = sz / length;
    const facing = Math.max(0, (this.x * sx + this.y * sy + this.z * sz) / length);
    const d = ggxDistribution(upright, alpha);
    const other = smithLambda(z, alpha);
    // D G / (4 cos cos) times the cosine of the light.
    const both = d / (4 * this.z * (1 + this.ownMasking + other));
    const white = schlickWeight(facing);
    // Of what lets light through it is told exactly, or what goes on would not fit what comes back.
    const mirrored = this.transmission > 0 ? fresnel(facing, this.ratio) : 0;
    for (let c = 0; c < 3; c++) {
      const plain = this.facing[c]! + (this.grazing - this.facing[c]!) * white;
      const reflectance = plain + (mirrored - plain) * this.transmission;
      glossy[c] = both * reflectance * this.compensation[c]!;
    }
    this.pdf += (glossyShare * d) / (4 * this.z * (1 + this.ownMasking));
  }

  /**
   * Samples a direction in proportion to the function, roughly. Directions below the surface have their weight in `through`.
   * @param kind, u, v from 0 to below 1
   */
  sample(kind: number, u: number, v: number): void {
    const { sampled } = this;
    if (kind >= 1 - this.throughShare) {
      this.refract(u, v);
      return;
    }
    if (kind < this.glossyShare) {
      sampleVisibleNormal(this.x, this.y, this.z, this.alpha, u, v, this.normal);
      const nx = this.normal[0]!;
      const ny = this.normal[1]!;
      const nz = this.normal[2]!;
      const twice = 2 * (this.x * nx + this.y * ny + this.z * nz);
      sampled[0] = twice * nx - this.x;
      sampled[1] = twice * ny - this.y;
      sampled[2] = twice * nz - this.z;
      return;
    }
    const radius = Math.sqrt(u);
    const turn = 2 * Math.PI * v;
    sampled[0] = radius * Math.cos(turn);
    sampled[1] = radius * Math.sin(turn);
    sampled[2] = Math.sqrt(1 - u);
  }

  /** Through a mirror as it is seen, by Snell's law; nothing is left of what cannot leave. */
  private refract(u: number, v: number): void {
    const { sampled, through, ratio, normal } = this;
    sampleVisibleNormal(this.x, this.y, this.z, this.alpha, u, v, normal);
    const nx = normal[0]!;
    const ny = normal[1]!;
    const nz = normal[2]!;
    const cosine = this.x * nx + this.y * ny + this.z * nz;
    const square = 1 - ratio * ratio * (1 - cosine * cosine);
    if (square <= 0) {
      through.fill(0);
      sampled.fill(0);
      return;
    }
    const along = ratio * cosine - Math.sqrt(square);
    sampled[0] = along * nx - ratio * this.x;
    sampled[1] = along * ny - ratio * this.y;
    sampled[2] = along * nz - ratio * this.z;
    const seen = (1 + this.ownMasking) / (1 + this.ownMasking + smithLambda(Math.abs(sampled[2]), this.alpha));
    const left = sampled[2] < 0 ? ((1 - fresnel(cosine, ratio)) * seen * this.transmission) / this.throughShare : 0;
    for (let c = 0; c < 3; c++) through[c] = this.base[c]! * left;
  }
}
