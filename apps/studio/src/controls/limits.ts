import { z } from 'zod';

/** Between which values a number lies, as its schema says. */
export interface NumberLimits {
  min?: number;
  max?: number;
}

/**
 * The limits of a number in a schema, so that a control allows just what the schema takes.
 * @param path to the number, from setting to setting
 * @example limitsOf(bakeSettings, 'occlusion', 'rays') // { min: 1, max: 4096 }
 */
export function limitsOf(schema: z.ZodType, ...path: string[]): NumberLimits {
  const inner = plain(schema);
  const [name, ...rest] = path;
  if (name !== undefined) {
    const next = inner instanceof z.ZodObject ? (inner.shape as Record<string, z.ZodType>)[name] : undefined;
    if (!next) throw new Error(`There is no setting “${name}” in this schema.`);
    return limitsOf(next, ...rest);
  }
  const number =
    inner instanceof z.ZodUnion ? inner.options.find((each) => plain(each as z.ZodType) instanceof z.ZodNumber) : inner;
  const own = number && plain(number as z.ZodType);
  if (!(own instanceof z.ZodNumber)) throw new Error('This setting is no number.');
  const [min, max] = [own.minValue, own.maxValue];
  return {
    ...(min !== null && Number.isFinite(min) ? { min } : {}),
    ...(max !== null && Number.isFinite(max) ? { max } : {}),
  };
}

/** A schema without what stands around it: defaults, and that it may be left out. */
function plain(schema: z.ZodType): z.ZodType {
  if (
    schema instanceof z.ZodDefault ||
    schema instanceof z.ZodPrefault ||
    schema instanceof z.ZodOptional ||
    schema instanceof z.ZodNullable
  ) {
    return plain(schema.unwrap() as z.ZodType);
  }
  return schema;
}
