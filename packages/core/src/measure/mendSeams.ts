import { conjugateGradients } from '../math/conjugateGradients.ts';
import type { Receiver } from '../bake/receiver.ts';
import type { Image } from '../image/image.ts';
import { seamPoints, type SeamPoint, type Stencil, type TiledMap } from './seamPoints.ts';

/** How strongly texels hold on to their values, against agreeing across the seam. */
const HOLD = 0.02;
const STEPS = 120;

/**
 * Changes the texels along seams as little as possible so that bilinear sampling agrees on both sides: least squares
 * over the texels that seams read, solved by conjugate gradients (Liu, Ferguson, Jacobson & Gingold, "Seamless:
 * Seam Erasure and Seam-Aware Decoupling of Shape from Mesh Resolution", 2017). Directions in tangent space agree in
 * object space.
 */
export function mendSeams(receiver: Receiver, map: TiledMap): void {
  const points = seamPoints(receiver, map);
  if (points.length === 0) return;
  const system = new SeamSystem(points, map);
  const changes = new Float64Array(system.unknowns);
  const multiply = (values: Float64Array, product: Float64Array): void => system.multiply(values, product);
  conjugateGradients({ multiply }, system.start(), changes, { steps: STEPS, share: 1e-12 });
  system.apply(changes);
  if (map.tangentSpace) system.normaliseDirections();
}

/** The unknowns are changes of texels; the equations, that both sides of each point read the same. */
class SeamSystem {
  readonly unknowns: number;
  private readonly channels: number;
  private readonly points: SeamPoint[];
  private readonly images: readonly Image[];
  /** For each point the four unknown texels of either side. */
  private readonly slots: Int32Array;
  private readonly texels: { image: Image; texel: number }[] = [];
  private readonly residual: Float64Array;

  constructor(points: SeamPoint[], map: TiledMap) {
    this.points = points;
    this.images = [...map.tiles.values()];
    this.channels = this.images[0]!.channels;
    const numbers = new Map<string, number>();
    const numberOf = (stencil: Stencil, k: number): number => {
      const key = `${stencil.tile} ${stencil.texels[k]}`;
      let number = numbers.get(key);
      if (number === undefined) {
        number = this.texels.push({ image: map.tiles.get(stencil.tile)!, texel: stencil.texels[k]! }) - 1;
        numbers.set(key, number);
      }
      return number;
    };
    this.slots = new Int32Array(points.length * 8);
    points.forEach(({ here, there }, p) => {
      for (let k = 0; k < 4; k++) {
        this.slots[p * 8 + k] = numberOf(here, k);
        this.slots[p * 8 + 4 + k] = numberOf(there, k);
      }
    });
    this.unknowns = this.texels.length * this.channels;
    this.residual = new Float64Array(points.length * this.channels);
  }

  /** The present differences, negated and carried back to the texels. */
  start(): Float64Array {
    const values = new Float64Array(this.unknowns);
    this.texels.forEach(({ image, texel }, i) => {
      for (let c = 0; c < this.channels; c++) values[i * this.channels + c] = image.data[texel * this.channels + c]!;
    });
    this.differences(values, true);
    const back = new Float64Array(this.unknowns);
    this.carryBack(back);
    for (let i = 0; i < back.length; i++) back[i] = -back[i]!;
    return back;
  }

  /** Multiplies by the matrix of the normal equations. */
  multiply(changes: Float64Array, out: Float64Array): void {
    this.differences(changes, false);
    for (let i = 0; i < out.length; i++) out[i] = changes[i]! * HOLD;
    this.carryBack(out);
  }

  apply(changes: Float64Array): void {
    this.texels.forEach(({ image, texel }, i) => {
      for (let c = 0; c < this.channels; c++) {
        image.data[texel * this.channels + c]! += changes[i * this.channels + c]!;
      }
    });
  }

  normaliseDirections(): void {
    for (const { image, texel } of this.texels) {
      const at = texel * 3;
      const d = [0, 1, 2].map((c) => image.data[at + c]! * 2 - 1);
      const length = Math.hypot(...d) || 1;
      for (let c = 0; c < 3; c++) image.data[at + c] = (d[c]! / length) * 0.5 + 0.5;
    }
  }

  /** @param whole whether values are meant, and not changes: stored directions then lose their offset */
  private differences(values: Float64Array, whole: boolean): void {
    const { channels, slots, residual } = this;
    const side = new Float64Array(4);
    this.points.forEach((point, p) => {
      for (let c = 0; c < channels; c++) residual[p * channels + c] = 0;
      for (const [stencil, first, sign] of [
        [point.here, 0, 1],
        [point.there, 4, -1],
      ] as const) {
        side.fill(0);
        for (let k = 0; k < 4; k++) {
          const from = slots[p * 8 + first + k]! * channels;
          for (let c = 0; c < channels; c++) side[c]! += stencil.weights[k]! * values[from + c]!;
        }
        const { frame } = stencil;
        for (let c = 0; c < channels; c++) {
          let value = side[c]!;
          if (frame) {
            value = 0;
            for (let j = 0; j < 3; j++) value += frame[c * 3 + j]! * (side[j]! - (whole ? 0.5 : 0));
          }
          residual[p * channels + c]! += sign * value;
        }
      }
    });
  }

  private carryBack(out: Float64Array): void {
    const { channels, slots, residual } = this;
    const turned = new Float64Array(4);
    this.points.forEach((point, p) => {
      for (const [stencil, first, sign] of [
        [point.here, 0, 1],
        [point.there, 4, -1],
      ] as const) {
        const { frame, weights } = stencil;
        for (let c = 0; c < channels; c++) {
          turned[c] = residual[p * channels + c]!;
          if (frame) {
            turned[c] = 0;
            for (let j = 0; j < 3; j++) turned[c]! += frame[j * 3 + c]! * residual[p * channels + j]!;
          }
        }
        for (let k = 0; k < 4; k++) {
          const to = slots[p * 8 + first + k]! * channels;
          for (let c = 0; c < channels; c++) out[to + c]! += sign * weights[k]! * turned[c]!;
        }
      }
    });
  }
}
