import type { Image } from '../../image/image.ts';
import { pictureAxes } from '../surface/direction.ts';
import type { Dabs } from './dabs.ts';
import type { Stroke } from './stroke.ts';

/** A picture that is taken anew for each dab, and fills its square. */
export class DabPicture {
  readonly color = new Float64Array(3);
  private readonly levels: readonly Image[];
  private readonly stroke: Stroke;
  private readonly dabs: Dabs;
  private readonly texel: number;
  private level: Image;
  private right: readonly number[] = [1, 0, 0];
  private up: readonly number[] = [0, 1, 0];
  private out: readonly number[] = [0, 0, 1];
  private scale = 1;

  constructor(levels: readonly Image[], stroke: Stroke, dabs: Dabs, texel: number) {
    this.levels = levels;
    this.stroke = stroke;
    this.dabs = dabs;
    this.texel = texel;
    this.level = levels[0]!;
  }

  begin(dab: number): void {
    const { normals, along, turns, radii, hands } = this.dabs;
    const { turn, angle } = this.stroke.brush.picture!;
    const normal = [normals[dab * 3]!, normals[dab * 3 + 1]!, normals[dab * 3 + 2]!] as const;
    let [right, up] = pictureAxes(normal);
    const way = [along[dab * 3]!, along[dab * 3 + 1]!, along[dab * 3 + 2]!] as const;
    if (turn === 'along' && Math.hypot(...way) > 0) {
      // The right of the picture goes ahead along the stroke.
      const [aside, ahead] = pictureAxes(normal, way);
      [right, up] = [ahead, [-aside[0], -aside[1], -aside[2]]];
    }
    const turned = (turns[dab]! * 360 + angle) * (Math.PI / 180);
    const [cos, sin] = [Math.cos(turned), Math.sin(turned)];
    const hand = hands[dab]!;
    this.right = right.map((value, k) => (value * cos + up[k]! * sin) * hand);
    this.up = up.map((value, k) => value * cos - right[k]! * sin);
    this.out = normal;
    this.scale = 0.5 / radii[dab]!;
    const texels = (2 * radii[dab]!) / this.texel;
    const level = Math.max(0, Math.min(this.levels.length - 1, Math.round(Math.log2(this.levels[0]!.width / texels))));
    this.level = this.levels[level]!;
  }

  /** A normal of the picture as a direction in space, as the dab lies there. */
  private turnNormal(): void {
    const { color, right, up, out } = this;
    const [x, y, z] = [color[0]! * 2 - 1, color[1]! * 2 - 1, color[2]! * 2 - 1];
    for (let k = 0; k < 3; k++) color[k] = right[k]! * x + up[k]! * y + out[k]! * z;
  }

  /** What the picture tells at a step from the middle of the dab: the share that it covers; its colour is in `color`. */
  look(dx: number, dy: number, dz: number): number {
    const { width, height, channels, data } = this.level;
    const { right, up, scale } = this;
    const u = 0.5 + (dx * right[0]! + dy * right[1]! + dz * right[2]!) * scale;
    const v = 0.5 + (dx * up[0]! + dy * up[1]! + dz * up[2]!) * scale;
    if (u < 0 || u > 1 || v < 0 || v > 1) return 0;
    const x = u * width - 0.5;
    const y = (1 - v) * height - 0.5;
    const [left, top] = [Math.floor(x), Math.floor(y)];
    const [fx, fy] = [x - left, y - top];
    const at = (column: number, row: number): number =>
      (Math.max(0, Math.min(height - 1, row)) * width + Math.max(0, Math.min(width - 1, column))) * channels;
    const [a, b, c, d] = [at(left, top), at(left + 1, top), at(left, top + 1), at(left + 1, top + 1)];
    const value = (k: number): number =>
      (data[a + k]! * (1 - fx) + data[b + k]! * fx) * (1 - fy) + (data[c + k]! * (1 - fx) + data[d + k]! * fx) * fy;
    const isGrey = channels < 3;
    for (let k = 0; k < 3; k++) this.color[k] = value(isGrey ? 0 : k);
    const { gives } = this.stroke.brush.picture!;
    if (gives === 'normal') this.turnNormal();
    if (channels % 2 === 0) return value(channels - 1);
    if (gives !== 'shape') return 1;
    return isGrey ? this.color[0]! : (this.color[0]! + this.color[1]! + this.color[2]!) / 3;
  }
}
