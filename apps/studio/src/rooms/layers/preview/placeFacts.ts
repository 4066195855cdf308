import {
  facesByAngle,
  facesInMap,
  facesInView,
  grownFaces,
  rangesOfFaces,
  TexelBlock,
  TEXELS,
  type LayeredSurface,
  type LayeredTile,
} from '@zographos/core/layers';
import { BLOCK } from '@zographos/core/bake';
import { screenByte } from '@zographos/core/color';
import type { Size } from '@zographos/core/math';
import { FIRST_TILE, tileOfTriangle } from '@zographos/core/uv';
import type { InputsOfTile } from '@zographos/operations/preview';
import type { FacesAsk, FoundPlace, GrowAsk, LassoAsk, LayersTold, PlaceFacts, TriangleAsk } from './layersMessages.ts';
import { tileOf } from './previewSurface.ts';

/** The inputs of the picture that is shown. */
export interface ShownInputs {
  of: InputsOfTile;
  size: Size;
}

/** What lies at a place of a tile; null for nothing. */
export function placeInTile(surface: LayeredSurface, { tile, u, v, add, pressure }: TriangleAsk): FoundPlace | null {
  const size = { width: PICK_SIDE, height: PICK_SIDE };
  const there = tileOf(surface, tile, size);
  const block = new TexelBlock(there);
  const [x, y] = [Math.floor(u * PICK_SIDE), Math.floor((1 - v) * PICK_SIDE)];
  if (x < 0 || y < 0 || x >= PICK_SIDE || y >= PICK_SIDE) return null;
  block.load(Math.floor(y / BLOCK) * Math.ceil(PICK_SIDE / BLOCK) + Math.floor(x / BLOCK));
  const found = block.at.subarray(0, block.count).indexOf(y * PICK_SIDE + x);
  if (found < 0) return null;
  const triangle = block.triangles[found]!;
  block.standOn(Uint32Array.of(triangle), weightsInLayout(there, triangle, u, v));
  const place = [0, 1, 2].map((k) => block.places[k]![0]!) as FoundPlace['place'];
  const normal = [0, 1, 2].map((k) => block.normals[k * TEXELS]!) as FoundPlace['normal'];
  return { triangle, add, pressure, place, normal };
}

/** What is known of a place, in millimetres, on a triangle. */
export async function factsOf(
  surface: LayeredSurface,
  triangle: number,
  place: readonly number[],
  shown: ShownInputs | null,
): Promise<PlaceFacts | null> {
  if (triangle >= surface.slotOf.length) return null;
  const tile = tileOfFace(surface, triangle);
  return {
    slot: surface.slots[surface.slotOf[triangle]!] ?? '',
    object: surface.objects[surface.objectOf[triangle]!] ?? '',
    tile,
    idColor: shown && (await idColorAt(surface, triangle, place, tile, shown)),
  };
}

async function idColorAt(
  surface: LayeredSurface,
  triangle: number,
  place: readonly number[],
  tile: number,
  { of, size }: ShownInputs,
): Promise<string | null> {
  const ids = (await of(tile, size)).measured.id;
  if (!ids) return null;
  const block = new TexelBlock(tileOf(surface, tile, size));
  const triangles = Uint32Array.of(triangle);
  block.standOn(triangles, weightsOf(surface, triangles, Float32Array.from(place), [0]));
  const at = block.at[0]! * ids.channels;
  const byte = (value: number): number =>
    ids.colorSpace === 'srgb' ? screenByte(value) : Math.round(255 * Math.max(0, Math.min(1, value)));
  return `#${[0, 1, 2]
    .map((k) =>
      byte(ids.data[at + k]!)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;
}

/** The faces that are picked with one that was clicked, within a lasso, or once those around are added. */
export function facesFor(
  ask: FacesAsk | GrowAsk | LassoAsk,
  surface: LayeredSurface,
): Extract<LayersTold, { what: 'faces' }> {
  return { what: 'faces', ranges: rangesOfFaces(facesOf(ask, surface)), of: surface.receiver.indices.length / 3 };
}

function facesOf(ask: FacesAsk | GrowAsk | LassoAsk, surface: LayeredSurface): Uint8Array {
  if (ask.what === 'faces') return facesByAngle([ask.triangle], ask.angle, surface);
  if (ask.what === 'lasso') {
    const { on, polygon } = ask;
    if ('view' in on) return facesInView(surface, on.view, polygon);
    return facesInMap(tileOf(surface, on.tile, { width: PICK_SIDE, height: PICK_SIDE }), polygon);
  }
  const picked = new Uint8Array(surface.receiver.indices.length / 3);
  for (const [from, to] of ask.ranges) picked.fill(1, from, to);
  return grownFaces(picked, surface);
}

/** Weights of a triangle's second and third corner at a place of its tile. */
function weightsInLayout({ uvs, surface }: LayeredTile, triangle: number, u: number, v: number): Float64Array {
  const [a, b, c] = [0, 1, 2].map((corner) => surface.receiver.indices[triangle * 3 + corner]! * 2) as [
    number,
    number,
    number,
  ];
  const [px, py] = [u - uvs[a]!, v - uvs[a + 1]!];
  const [bx, by] = [uvs[b]! - uvs[a]!, uvs[b + 1]! - uvs[a + 1]!];
  const [cx, cy] = [uvs[c]! - uvs[a]!, uvs[c + 1]! - uvs[a + 1]!];
  const det = bx * cy - by * cx || 1e-30;
  return Float64Array.of((px * cy - py * cx) / det, (bx * py - by * px) / det);
}

/** Texels along the side of a tile that clicks are told apart by. */
const PICK_SIDE = 1024;

/** Barycentric weights of points on their triangles. */
export function weightsOf(
  { receiver: { positions, indices } }: LayeredSurface,
  triangles: Uint32Array,
  points: Float32Array,
  places: readonly number[],
): Float64Array {
  const weights = new Float64Array(places.length * 2);
  places.forEach((i, k) => {
    const corner = (c: number): number[] => {
      const at = indices[triangles[i]! * 3 + c]! * 3;
      return [positions[at]!, positions[at + 1]!, positions[at + 2]!];
    };
    const [a, b, c] = [corner(0), corner(1), corner(2)];
    const from = (p: ArrayLike<number>): number[] => [0, 1, 2].map((axis) => p[axis]! - a[axis]!);
    const dot = (x: number[], y: number[]): number => x[0]! * y[0]! + x[1]! * y[1]! + x[2]! * y[2]!;
    const [u, v, p] = [from(b), from(c), from(points.subarray(i * 3, i * 3 + 3))];
    const [uu, uv, vv, pu, pv] = [dot(u, u), dot(u, v), dot(v, v), dot(p, u), dot(p, v)];
    const det = uu * vv - uv * uv || 1e-30;
    weights[k * 2] = (pu * vv - pv * uv) / det;
    weights[k * 2 + 1] = (pv * uu - pu * uv) / det;
  });
  return weights;
}

/** Places by the tile that their triangles lie in: the numbers of those of each. */
export function placesByTile(surface: LayeredSurface, triangles: Uint32Array): Map<number, number[]> {
  const byTile = new Map<number, number[]>();
  for (const [i, triangle] of triangles.entries()) {
    const tile = tileOfFace(surface, triangle);
    const places = byTile.get(tile) ?? [];
    places.push(i);
    byTile.set(tile, places);
  }
  return byTile;
}

const tileOfFace = ({ receiver, repeats }: LayeredSurface, triangle: number): number =>
  repeats ? FIRST_TILE : (tileOfTriangle(receiver, triangle) ?? FIRST_TILE);
