import { z } from 'zod';
import { ZographosError } from '@zographos/core/errors';

/** What a file may hold at the most. Each refusal names the limit, so that whoever runs the place can raise it. */
export interface FormatLimits {
  /** Bytes of one file. */
  bytes: number;
  /** Width × height of one image. */
  pixels: number;
  /** Triangles of one file. */
  triangles: number;
  /** Meshes of one file. */
  objects: number;
  /** Seconds that reading one file may take, beside those that its size may. */
  seconds: number;
}

export const DEFAULT_LIMITS: FormatLimits = {
  bytes: 4 * 1024 ** 3,
  pixels: 16384 * 16384,
  triangles: 20_000_000,
  objects: 5000,
  seconds: 60,
};

/** The slowest that any reader of ours should be, on a slow machine. */
const LEAST_BYTES_PER_SECOND = 1_000_000;

/**
 * How long reading a file may take before it is given up as damaged, or made to hold others up.
 * @example secondsToRead(50_000_000, DEFAULT_LIMITS) // 110
 */
export const secondsToRead = (bytes: number, { seconds }: FormatLimits): number =>
  seconds + bytes / LEAST_BYTES_PER_SECOND;

/** @throws limit/triangles */
export function checkTriangles(name: string, triangles: number, limits: FormatLimits): void {
  if (triangles <= limits.triangles) return;
  throw new ZographosError(
    'limit/triangles',
    `“${name}” has more than ${limits.triangles} triangles, the limit set by ZOGRAPHOS_MAX_TRIANGLES. Reduce its triangles, or raise the limit.`,
  );
}

/** @throws limit/objects */
export function checkObjects(name: string, objects: number, limits: FormatLimits): void {
  if (objects <= limits.objects) return;
  throw new ZographosError(
    'limit/objects',
    `“${name}” has more than ${limits.objects} objects, the limit set by ZOGRAPHOS_MAX_OBJECTS. Join those that belong together and export it again, or raise the limit.`,
  );
}

const megapixels = (pixels: number): string => String(Number((pixels / 1e6).toPrecision(3)));

/** @throws limit/pixels */
export function checkPixels(name: string, width: number, height: number, limits: FormatLimits): void {
  if (width * height <= limits.pixels) return;
  throw new ZographosError(
    'limit/pixels',
    `“${name}” is ${width} × ${height} px (${megapixels(width * height)} megapixels); the limit is ${megapixels(limits.pixels)} megapixels. Make the image smaller, or raise ZOGRAPHOS_MAX_PIXELS.`,
  );
}

/**
 * The limits in force: the defaults, or what the environment sets (ZOGRAPHOS_MAX_BYTES, _PIXELS, _TRIANGLES,
 * _OBJECTS, _READ_SECONDS).
 * @throws input/bad-settings for what is not a whole number above 0
 */
export function limitsFrom(environment: Record<string, string | undefined>): FormatLimits {
  return {
    bytes: limitFrom(environment, 'ZOGRAPHOS_MAX_BYTES', DEFAULT_LIMITS.bytes),
    pixels: limitFrom(environment, 'ZOGRAPHOS_MAX_PIXELS', DEFAULT_LIMITS.pixels),
    triangles: limitFrom(environment, 'ZOGRAPHOS_MAX_TRIANGLES', DEFAULT_LIMITS.triangles),
    objects: limitFrom(environment, 'ZOGRAPHOS_MAX_OBJECTS', DEFAULT_LIMITS.objects),
    seconds: limitFrom(environment, 'ZOGRAPHOS_MAX_READ_SECONDS', DEFAULT_LIMITS.seconds),
  };
}

const wholeNumber = z.coerce.number().int().positive();

/** A limit that the environment may set. @throws input/bad-settings for what is not a whole number above 0 */
export function limitFrom(environment: Record<string, string | undefined>, name: string, fallback: number): number {
  const text = environment[name];
  if (text === undefined || text === '') return fallback;
  const parsed = wholeNumber.safeParse(text);
  if (parsed.success) return parsed.data;
  throw new ZographosError(
    'input/bad-settings',
    `${name} is “${text}”; set it to a whole number above 0, or leave it out.`,
  );
}
