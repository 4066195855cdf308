import { ZographosError } from '../errors.ts';
import type { Image } from './image.ts';

export const AXIS_ORDERS = ['xyz', 'xzy', 'yxz', 'yzx', 'zxy', 'zyx'] as const;
/** Which axis goes into red, green and blue. */
export type AxisOrder = (typeof AXIS_ORDERS)[number];

/** The channel (0 to 2) that x, y and z go into. */
export const channelsOfAxes = (axes: AxisOrder): number[] => ['x', 'y', 'z'].map((axis) => axes.indexOf(axis));

/**
 * How directions are written. `tangent` follows the MikkTSpace frame of the mesh, with y (green, unless axes are in
 * another order) up or down the picture; `object` keeps the axes of the mesh, and `y` says nothing.
 */
export interface NormalSpace {
  space: 'tangent' | 'object';
  y: 'up' | 'down';
  axes: AxisOrder;
}

/** What glTF 2.0 asks of a normal texture: tangent space, Y up, x, y and z in red, green and blue. */
export const GLTF_NORMAL: NormalSpace = { space: 'tangent', y: 'up', axes: 'xyz' };

/** Units that heights are given in: those of the mesh, shares of the width of a repeating tile, or a real unit. */
export const HEIGHT_UNITS = ['mesh', 'tile', 'mm', 'cm', 'm', 'in'] as const;
export type HeightUnit = (typeof HEIGHT_UNITS)[number];

/** How a map of directions is meant. */
export interface DirectionConvention extends NormalSpace {
  of: 'direction';
}

/** How a map of heights is meant: a number s between black (0) and white (1) stands for (s − mid) · span. */
export interface HeightConvention {
  of: 'height';
  unit: HeightUnit;
  /** The number that stands for the surface itself, usually 0 to 1. */
  mid: number;
  /** The height from black to white; more than 0. */
  span: number;
}

/**
 * How the numbers of a map are meant beyond its kind, range and colour space. What makes a map writes it down, it is
 * stored with the map, and whoever hands the map on converts from what is written.
 */
export type MapConvention = DirectionConvention | HeightConvention;

/** How the directions of a map are written, or null where nobody has said. */
export const directionsOf = ({ convention }: Pick<Image, 'convention'>): NormalSpace | null =>
  convention?.of === 'direction' ? convention : null;

/** As words: “tangent space, Y up”, “object space, XZY”. */
export function describeNormalSpace({ space, y, axes }: NormalSpace): string {
  const order = axes === 'xyz' ? '' : `, ${axes.toUpperCase()}`;
  return space === 'tangent' ? `tangent space, Y ${y}${order}` : `object space${order}`;
}

/**
 * A map of directions written in another way: green turned round, axes in another order. A map whose convention nobody
 * has said is taken to be as glTF 2.0 has it.
 * @param name of the map, for the error
 * @throws input/other-convention when one is in tangent space and the other in object space, which takes a mesh
 * @example inNormalSpace(bakedWithYDown, GLTF_NORMAL, 'bell_normal')
 */
export function inNormalSpace(image: Image, wanted: NormalSpace, name: string): Image {
  const given = directionsOf(image) ?? GLTF_NORMAL;
  const convention: DirectionConvention = { of: 'direction', ...spaceOf(wanted) };
  if (given.space !== wanted.space) {
    throw new ZographosError(
      'input/other-convention',
      `“${name}” holds normals in ${describeNormalSpace(given)}; ${describeNormalSpace(wanted)} is needed. Bake it again in that space, or leave it out.`,
    );
  }
  const from = channelsOfAxes(given.axes);
  const to = channelsOfAxes(wanted.axes);
  const isTurned = given.space === 'tangent' && given.y !== wanted.y;
  if (!isTurned && given.axes === wanted.axes) return { ...image, convention };
  const data = image.data.slice();
  for (let at = 0; at + 2 < data.length; at += image.channels) {
    for (let axis = 0; axis < 3; axis++) {
      const value = image.data[at + from[axis]!]!;
      data[at + to[axis]!] = isTurned && axis === 1 ? 1 - value : value;
    }
  }
  return { ...image, data, convention };
}

const spaceOf = ({ space, y, axes }: NormalSpace): NormalSpace => ({ space, y, axes });

/** Whether two maps of directions are written alike. */
export const isSameSpace = (a: NormalSpace, b: NormalSpace): boolean =>
  a.space === b.space && a.axes === b.axes && (a.space === 'object' || a.y === b.y);

/** The neutral texel of directions: along z in tangent space; of no direction in object space. */
export function neutralDirection({ space, axes }: NormalSpace): [number, number, number] {
  const texel: [number, number, number] = [0.5, 0.5, 0.5];
  if (space === 'tangent') texel[channelsOfAxes(axes)[2]!] = 1;
  return texel;
}
