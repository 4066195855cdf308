import { z } from 'zod';
import type { FormatLimits } from '../../limits.ts';

/** Bytes of a component by its type (glTF 2.0, section 3.6.2.2). */
const COMPONENTS: Record<number, number> = { 5120: 1, 5121: 1, 5122: 2, 5123: 2, 5125: 4, 5126: 4 };
const ELEMENTS: Record<string, number> = { SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4, MAT2: 4, MAT3: 9, MAT4: 16 };

const whole = z.int().min(0);
const part = z.looseObject({ bufferView: whole, byteOffset: whole.default(0) });

/** As far as it says where something lies. */
const ranges = z.looseObject({
  buffers: z.array(z.looseObject({ uri: z.string().optional(), byteLength: whole })).default([]),
  bufferViews: z
    .array(
      z.looseObject({
        buffer: whole,
        byteOffset: whole.default(0),
        byteLength: whole,
        byteStride: z.int().min(4).max(252).optional(),
      }),
    )
    .default([]),
  accessors: z
    .array(
      z.looseObject({
        bufferView: whole.optional(),
        byteOffset: whole.default(0),
        componentType: z.int(),
        type: z.string(),
        count: whole,
        sparse: z
          .looseObject({ count: whole, indices: part.extend({ componentType: z.int() }), values: part })
          .optional(),
      }),
    )
    .default([]),
});

/** Corners that a triangle may have of its own, with what they carry beside places. */
const ACCESSORS_FOR_EACH = 3 * 16;

/**
 * Checks that everything a glTF document points at lies within its buffers, before any of it is read: the library would
 * hand out what lies behind them.
 * @param bytesOf how many bytes the buffer of a number has; undefined where it is not there
 * @throws RangeError, or what Zod throws, for a document that is damaged
 */
export function checkGltfRanges(
  json: unknown,
  bytesOf: (buffer: number) => number | undefined,
  limits: FormatLimits,
): void {
  const { buffers, bufferViews, accessors } = ranges.parse(json);
  buffers.forEach(({ byteLength }, i) => {
    if (!((bytesOf(i) ?? 0) >= byteLength)) throw new RangeError(`Buffer ${i} is shorter than it says.`);
  });
  bufferViews.forEach(({ buffer, byteOffset, byteLength }, i) => {
    const whole = buffers[buffer];
    if (!whole || byteOffset + byteLength > whole.byteLength) throw new RangeError(`View ${i} lies beyond its buffer.`);
  });
  /** @param bytes of one element, and from each to the next */
  const within = (view: number, from: number, count: number, bytes: number, stride: number): boolean => {
    const found = bufferViews[view];
    return found !== undefined && (count === 0 || from + stride * (count - 1) + bytes <= found.byteLength);
  };
  let elements = 0;
  accessors.forEach(({ bufferView, byteOffset, componentType, type, count, sparse }, i) => {
    const [component, width] = [COMPONENTS[componentType], ELEMENTS[type]];
    if (component === undefined || width === undefined) throw new RangeError(`Accessor ${i} has a type that is none.`);
    const bytes = component * width;
    elements += count;
    // Without a view it is zeros, of which a file can ask for any number.
    if (
      elements > limits.triangles * ACCESSORS_FOR_EACH ||
      (bufferView === undefined && count > limits.triangles * 3)
    ) {
      throw new RangeError(`Accessor ${i} has more elements than a mesh may have.`);
    }
    if (bufferView !== undefined) {
      const stride = bufferViews[bufferView]?.byteStride ?? bytes;
      if (!within(bufferView, byteOffset, count, bytes, stride))
        throw new RangeError(`Accessor ${i} lies beyond its view.`);
    }
    if (!sparse) return;
    const { indices, values } = sparse;
    const index = COMPONENTS[indices.componentType];
    if (
      index === undefined ||
      sparse.count > count ||
      !within(indices.bufferView, indices.byteOffset, sparse.count, index, index) ||
      !within(values.bufferView, values.byteOffset, sparse.count, bytes, bytes)
    ) {
      throw new RangeError(`The sparse part of accessor ${i} lies beyond its view.`);
    }
  });
}

/**
 * Bytes that a data address holds; NaN for one that is none.
 * @example dataBytes('data:application/octet-stream;base64,AAAA') // 3
 */
export function dataBytes(uri: string): number {
  const comma = uri.indexOf(',');
  if (comma < 0) return NaN;
  const content = uri.slice(comma + 1);
  if (!uri.slice(0, comma).endsWith(';base64')) return decodeURIComponent(content).length;
  return Math.floor((content.replace(/=+$/, '').length * 3) / 4);
}
