import { pictureLevels } from '../bake/source/sourceMaterials.ts';
import type { Image } from '../image/image.ts';
import type { LayerChannel } from '../layers/channels.ts';
import { layeredMeshes, type LayeredSurface } from '../layers/surface/layeredSurface.ts';
import { PLAIN_BRUSH, type Brush, type BrushPicture, type Paint, type Stroke } from '../layers/painting/stroke.ts';
import type { Layer } from '../layers/stack.ts';
import { composed, layerBase } from './layers.ts';
import { reliefPlane } from './shapes.ts';

/** A stroke of points x, y, z, normal and, if it is not 1, pressure. */
export const stroke = (points: number[][], brush: Partial<Brush> = {}, paint: Paint = { roughness: 1 }): Stroke => ({
  ...{ brush: { ...PLAIN_BRUSH, ...brush }, paint, seed: 1 },
  points: Float32Array.from(
    points.flatMap(([x, y, z, nx, ny, nz, pressure = 1]) => [x!, y!, z!, nx!, ny!, nz!, pressure]),
  ),
});

/** A line over a plane that faces up. */
export const line = (from: number[], to: number[], count = 20): number[][] =>
  Array.from({ length: count }, (_, i) => {
    const share = i / (count - 1);
    return [from[0]! + (to[0]! - from[0]!) * share, from[1]! + (to[1]! - from[1]!) * share, 0, 0, 0, 1];
  });

/** A picture as it usually lies on a brush. */
export const brushPicture = (change: Partial<BrushPicture> = {}): BrushPicture => ({
  ...{ picture: 0, lies: 'dab', gives: 'shape', turn: 'fixed', angle: 0, width: 20 },
  ...{ view: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 1] },
  ...change,
});

/** A picture of one channel, in full and halved again and again. */
export const greyLevels = (width: number, height: number, value: (x: number, y: number) => number): Image[] =>
  pictureLevels({
    ...{ width, height, channels: 1 },
    data: Float32Array.from({ length: width * height }, (_, i) => value(i % width, Math.floor(i / width))),
  });

/** Strokes by the names that `paintedLayer` has for them. */
export const namedStrokes = (strokes: readonly Stroke[]): ReadonlyMap<string, Stroke> =>
  new Map(strokes.map((each, i) => [`${i}`, each]));

export const paintedLayer = (strokes: readonly Stroke[], channels: readonly LayerChannel[]): Layer => ({
  ...layerBase('painted'),
  ...{ content: 'painted', channels, strokes: strokes.map((_, i) => `${i}`) },
});

/** The roughness of strokes over a ground of 0, 0 beyond the layout. */
export async function painted(
  strokes: readonly Stroke[],
  surface: LayeredSurface,
  side = 256,
  pictures: Image[][] = [],
): Promise<Float32Array> {
  const ground: Layer = { ...layerBase('ground'), content: 'plain', values: { roughness: 0 } };
  const layers = [ground, paintedLayer(strokes, ['roughness'])];
  const made = { pictures, strokes: namedStrokes(strokes) };
  const planes = await composed(layers, ['roughness'], surface, side, made);
  return planes.channels.roughness!.map((value, i) => (planes.states[i] ? value : 0));
}

/** A square of 100 mm with UVs that are laid out otherwise. */
export function square(change: (u: number, v: number) => [number, number]): LayeredSurface {
  const mesh = reliefPlane('square', 8, 50);
  const { coords } = mesh.uvSets[0]!;
  mesh.uvSets[0]!.coords = coords.map((_, i) => change(coords[i - (i % 2)]!, coords[i - (i % 2) + 1]!)[i % 2]!);
  return layeredMeshes([mesh], 0, 1);
}

/** A square of 100 mm whose UVs are its places. */
export const plainSquare = square((u, v) => [u, v]);

/** Painted area in mm², of a map that covers the square by this share. */
export const areaOnSquare = (values: Float32Array, share: number): number =>
  (values.reduce((sum, value) => sum + value, 0) / values.length / share) * 100 ** 2;

/** The value at a place of the plain square, in millimetres from its middle. */
export const atOnSquare = (values: Float32Array, x: number, y: number, side = 256): number =>
  values[Math.floor((0.5 - y / 100) * side) * side + Math.floor((x / 100 + 0.5) * side)]!;
