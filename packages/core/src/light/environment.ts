import { ZographosError } from '../errors.ts';
import type { Image } from '../image/image.ts';
import { sharedFloat32, sharedFloat64, sharedUint16 } from '../sharedArrays.ts';

/** Which way is up, and which is north, at the middle of an environment's picture; at right angles. */
export interface Bearings {
  up: readonly [number, number, number];
  north: readonly [number, number, number];
}

/** Up is y and north is −z, as maps of the sun have it. */
export const USUAL_BEARINGS: Bearings = { up: [0, 1, 0], north: [0, 0, -1] };

/**
 * Light from far away all about: a picture of longitude across, with north in its middle and east to the right, and of
 * height down from the zenith. Each texel sends the same light from all of it.
 */
export interface Environment {
  width: number;
  height: number;
  /** Linear r, g, b for each texel. */
  radiance: Float32Array;
  /** Up, north and east. */
  axes: Float64Array;
  /** Cumulative distributions: marginal of the rows, and conditional of the texels of each row. */
  rows: Float64Array;
  columns: Float64Array;
  /** The first entry of each that may be meant, for each of as many equal parts of 0 to 1. */
  rowGuide: Uint16Array;
  columnGuide: Uint16Array;
  /** Cosines of the angles from the zenith at which rows end, from the first row's upper one on. */
  edges: Float64Array;
  /** Mean radiance over the sphere, of all colours. */
  mean: number;
}

/**
 * Prepares a picture for importance sampling by the radiance of its texels.
 * @param picture three channels; grey is taken for all
 * @throws input/bad-picture for values that are no numbers, below 0, or all 0
 */
export function environmentOf(picture: Image, { up, north }: Bearings = USUAL_BEARINGS): Environment {
  const { width, height, channels, data } = picture;
  const radiance = sharedFloat32(width * height * 3);
  for (let i = 0; i < width * height; i++) {
    for (let c = 0; c < 3; c++) {
      const value = data[i * channels + (channels < 3 ? 0 : c)]!;
      if (!(value >= 0 && value < 1e30)) throw notLight(i % width, Math.floor(i / width), value);
      radiance[i * 3 + c] = value;
    }
  }
  const edges = sharedFloat64(height + 1);
  for (let y = 0; y <= height; y++) edges[y] = Math.cos((y * Math.PI) / height);
  const rows = sharedFloat64(height + 1);
  const columns = sharedFloat64((width + 1) * height);
  for (let y = 0; y < height; y++) {
    const first = y * (width + 1);
    for (let x = 0; x < width; x++) {
      const at = (y * width + x) * 3;
      columns[first + x + 1] = columns[first + x]! + radiance[at]! + radiance[at + 1]! + radiance[at + 2]!;
    }
    rows[y + 1] = rows[y]! + columns[first + width]! * solidAngle(y, width, height);
  }
  const total = rows[height]!;
  if (total === 0) {
    throw new ZographosError(
      'input/bad-settings',
      'The environment is black all over and gives no light. Choose another, or none.',
    );
  }
  for (let y = 0; y < height; y++) {
    const first = y * (width + 1);
    const sum = columns[first + width]!;
    if (sum > 0) for (let x = 1; x <= width; x++) columns[first + x]! /= sum;
    rows[y + 1]! /= total;
  }
  const rowGuide = sharedUint16(height);
  const columnGuide = sharedUint16(width * height);
  writeGuide(rows, 0, height, rowGuide, 0);
  for (let y = 0; y < height; y++) writeGuide(columns, y * (width + 1), width, columnGuide, y * width);
  const east = [
    north[1] * up[2] - north[2] * up[1],
    north[2] * up[0] - north[0] * up[2],
    north[0] * up[1] - north[1] * up[0],
  ];
  const axes = sharedFloat64(9);
  axes.set([...up, ...north, ...east]);
  return {
    width,
    height,
    radiance,
    axes,
    rows,
    columns,
    rowGuide,
    columnGuide,
    edges,
    mean: total / 3 / (4 * Math.PI),
  };
}

const notLight = (x: number, y: number, value: number): ZographosError =>
  new ZographosError(
    'input/bad-settings',
    `The environment has ${Number.isNaN(value) ? 'no number' : value < 0 ? 'light below 0' : 'endless light'} at ${x}, ${y}. Light is a finite number of 0 or more: mend the picture, or choose another.`,
  );

/** Of one texel of a row. */
const solidAngle = (y: number, width: number, height: number): number =>
  ((2 * Math.PI) / width) * (Math.cos((y * Math.PI) / height) - Math.cos(((y + 1) * Math.PI) / height));

/** Writes where a search in cumulative sums begins, for each of equal parts of 0 to 1. @param out told from `at` on */
export function writeGuide(
  sums: Float64Array,
  first: number,
  count: number,
  out: Uint16Array | Uint32Array,
  at: number,
): void {
  for (let k = 0, entry = 0; k < count; k++) {
    while (entry < count - 1 && sums[first + entry + 1]! <= k / count) entry++;
    out[at + k] = entry;
  }
}

/** Skies that are made here. */
export const SKIES = ['uniform', 'overcast', 'clear', 'studio'] as const;
export type Sky = (typeof SKIES)[number];

/** What the ground below a sky sends back of what falls on it. */
const GROUND = 0.2;

/**
 * A sky under which a level surface gets an irradiance of π, as under an even sky of radiance 1; below the horizon, ground
 * that reflects a fifth of it. Uniform is 1 all about.
 * @param sun where the sun stands: its elevation and azimuth, clockwise from north, in degrees
 */
export function skyPicture(
  sky: Sky,
  sun: { elevation: number; azimuth: number } = { elevation: 45, azimuth: 180 },
): Image {
  if (sky === 'uniform') return { width: 4, height: 2, channels: 3, data: new Float32Array(24).fill(1) };
  const width = 256;
  const height = 128;
  const data = new Float32Array(width * height * 3);
  let level = 0;
  const color = new Float64Array(3);
  for (let y = 0; y < height; y++) {
    const up = (Math.cos((y * Math.PI) / height) + Math.cos(((y + 1) * Math.PI) / height)) / 2;
    for (let x = 0; x < width; x++) {
      const azimuth = ((x + 0.5) / width - 0.5) * 2 * Math.PI;
      if (sky === 'studio') panels(up, azimuth, color);
      else if (up <= 0) color.fill(0);
      else if (sky === 'overcast') color.fill(1 + 2 * up);
      else clear(up, azimuth, sun, color);
      for (let c = 0; c < 3; c++) data[(y * width + x) * 3 + c] = color[c]!;
      if (up > 0) level += ((color[0]! + color[1]! + color[2]!) / 3) * up * solidAngle(y, width, height);
    }
  }
  const scale = Math.PI / level;
  for (let i = 0; i < data.length; i++) data[i]! *= scale;
  if (sky !== 'studio') data.fill(GROUND, (width * height * 3) / 2);
  return { width, height, channels: 3, data };
}

/**
 * A clear sky as CIE standardised it (Kittler 1967; CIE S 003, 1996), without its sun; bluer away from the sun and the
 * horizon (common practice, no source).
 */
function clear(up: number, azimuth: number, sun: { elevation: number; azimuth: number }, out: Float64Array): void {
  const height = (sun.elevation * Math.PI) / 180;
  const bearing = (sun.azimuth * Math.PI) / 180;
  const level = Math.sqrt(1 - up * up);
  const near = up * Math.sin(height) + level * Math.cos(height) * Math.cos(azimuth - bearing);
  const apart = Math.acos(Math.max(-1, Math.min(1, near)));
  const gradation = 1 - Math.exp(-0.32 / Math.max(0.01, up));
  const indicatrix = 0.91 + 10 * Math.exp(-3 * apart) + 0.45 * near * near;
  const blue = Math.min(1, 0.9 * up ** 0.4 * (1 - Math.exp(-2 * apart)));
  const luminance = gradation * indicatrix;
  out[0] = luminance * (1 - 0.62 * blue);
  out[1] = luminance * (1 - 0.3 * blue);
  out[2] = luminance * (1 + 0.4 * blue);
}

/** Three soft panels in a grey room: one large and high, one at its other side, one behind. */
function panels(up: number, azimuth: number, out: Float64Array): void {
  out.fill(0.25);
  for (const [middle, width, low, high, strength] of [
    [-0.9, 0.55, 0.25, 0.85, 9],
    [1.1, 0.35, 0, 0.6, 4],
    [2.9, 0.3, 0.3, 0.7, 6],
  ] as const) {
    let off = Math.abs(azimuth - middle);
    if (off > Math.PI) off = 2 * Math.PI - off;
    const edge = (distance: number): number => Math.max(0, Math.min(1, 0.5 + distance / 0.06));
    const share = edge(width - off) * edge(up - low) * edge(high - up);
    for (let c = 0; c < 3; c++) out[c]! += strength * share;
  }
}
