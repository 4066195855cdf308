import type { Receiver } from '../bake/receiver.ts';
import { readStencil, seamPoints, type SeamPoint, type Stencil, type TiledMap } from './seamPoints.ts';

export interface SeamError {
  /** Root of the mean squared difference across all seams; values 0 to 1, directions as half their distance. */
  mean: number;
  worst: number;
  /** Places along seams that were compared. */
  points: number;
  /** Where the difference is largest, the worst first: in space, and in the layout of one side. */
  places: { difference: number; position: readonly [number, number, number]; tile: number; texel: number }[];
  /** x, y, z and difference for places along the seams: to be shown as heat on the model. */
  heat: number[];
}

const PLACES = 12;
const HEAT = 4000;

/**
 * How much the two sides of each seam differ after bilinear sampling: own definition. Directions in tangent space are
 * compared in object space, as a renderer would see them.
 * @param scale what values are divided by: the range that is black to white
 */
export function seamError(receiver: Receiver, map: TiledMap, scale = 1): SeamError {
  const points = seamPoints(receiver, map);
  const compare = new Comparison(map);
  const differences = points.map((point) => compare.difference(point) / scale);
  const squares = differences.reduce((sum, value) => sum + value * value, 0);
  const order = differences.map((_, i) => i).sort((a, b) => differences[b]! - differences[a]!);
  const stride = Math.max(1, Math.ceil(points.length / HEAT));
  const heat: number[] = [];
  for (let i = 0; i < points.length; i += stride) {
    heat.push(...points[i]!.position.map((value) => Number(value.toPrecision(6))), rounded(differences[i]!));
  }
  return {
    mean: points.length > 0 ? Math.sqrt(squares / points.length) : 0,
    worst: order.length > 0 ? differences[order[0]!]! : 0,
    points: points.length,
    places: distinct(order.map((i) => ({ point: points[i]!, difference: differences[i]! }))),
    heat,
  };
}

const rounded = (value: number): number => Number(value.toPrecision(3));

/** The worst place of each seam. */
function distinct(found: { point: SeamPoint; difference: number }[]): SeamError['places'] {
  const seen = new Set<number>();
  const places: SeamError['places'] = [];
  for (const { point, difference } of found) {
    if (places.length === PLACES) break;
    if (seen.has(point.seam)) continue;
    seen.add(point.seam);
    places.push({ difference, position: point.position, tile: point.here.tile, texel: point.here.texels[0] });
  }
  return places;
}

class Comparison {
  private readonly map: TiledMap;
  private readonly here = new Float64Array(4);
  private readonly there = new Float64Array(4);
  private readonly turned = new Float64Array(3);

  constructor(map: TiledMap) {
    this.map = map;
  }

  difference(point: SeamPoint): number {
    const channels = this.read(point.here, this.here);
    this.read(point.there, this.there);
    let squares = 0;
    for (let c = 0; c < channels; c++) squares += (this.here[c]! - this.there[c]!) ** 2;
    return point.here.frame ? Math.sqrt(squares) / 2 : Math.sqrt(squares / channels);
  }

  private read(stencil: Stencil, out: Float64Array): number {
    const image = this.map.tiles.get(stencil.tile)!;
    readStencil(stencil, image, out);
    const { frame } = stencil;
    if (!frame) return image.channels;
    const { turned } = this;
    for (let k = 0; k < 3; k++) {
      turned[k] = 0;
      for (let c = 0; c < 3; c++) turned[k]! += frame[k * 3 + c]! * (out[c]! * 2 - 1);
    }
    const length = Math.hypot(turned[0]!, turned[1]!, turned[2]!) || 1;
    for (let k = 0; k < 3; k++) out[k] = turned[k]! / length;
    return 3;
  }
}
