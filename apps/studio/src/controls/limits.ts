import { z } from 'zod';

/** Between which values a number lies, as its schema says. */
export interface NumberLimits {
  min?: number;
  max?: number;
}

/**
 * The limits of a number in a schema, so that a control allows just what the schema takes.
 * @param path to the number: names of settings, `0` for any item of a list
 * @param digits that the control shows after the decimal point: what is above a limit is so much above it
 * @returns what has no limit is left out
 * @throws if there is no such setting, or it is no number
 * @example limitsOf(bakeSettings, 'occlusion.rays') // { min: 1, max: 4096 }
 */
export function limitsOf(schema: z.ZodType, path: string, digits = 6): NumberLimits {
  const found = unwrapped(settingAt(schema, path));
  const options = found instanceof z.ZodUnion ? (found.options as z.ZodType[]) : [found];
  const number = options.map(plain).find((each): each is z.ZodNumber => each instanceof z.ZodNumber);
  if (!number) throw new Error(`The setting “${path}” is no number.`);
  const { minValue: min, maxValue: max } = number;
  const isInt = number.format?.includes('int') ?? false;
  const isAbove = min !== null && !number.safeParse(min).success;
  return {
    ...(min !== null && min > -SAFE ? { min: isAbove ? min + (isInt ? 1 : 10 ** -digits) : min } : {}),
    ...(max !== null && max < SAFE ? { max } : {}),
  };
}

/**
 * Limits of a number that is shown multiplied, as shares are in per cent.
 * @example scaled({ min: 0, max: 1 }, 100) // { min: 0, max: 100 }
 */
export function scaled({ min, max }: NumberLimits, factor: number): NumberLimits {
  return { ...(min === undefined ? {} : { min: min * factor }), ...(max === undefined ? {} : { max: max * factor }) };
}

/**
 * How many characters a text may have.
 * @param path as of `limitsOf`
 * @throws if there is no such setting, or it is no text, or may have any length
 * @example lengthOf(layoutSettings, 'name') // 60
 */
export function lengthOf(schema: z.ZodType, path: string): number {
  const text = plain(settingAt(schema, path));
  if (!(text instanceof z.ZodString) || text.maxLength === null) {
    throw new Error(`The setting “${path}” is no text with a greatest length.`);
  }
  return text.maxLength;
}

/** Zod limits whole numbers to those that are exact; that is no limit of a setting. */
const SAFE = Number.MAX_SAFE_INTEGER;

/**
 * What a number is when nothing was said about it.
 * @param path as of `limitsOf`
 * @throws if there is no such setting, or it has no default
 * @example defaultOf(deriveSettings, 'ao.reach') // 0.06
 */
export function defaultOf(schema: z.ZodType, path: string): number {
  const found = settingAt(schema, path);
  const value: unknown = found instanceof z.ZodDefault ? found.def.defaultValue : undefined;
  if (typeof value !== 'number') throw new Error(`The setting “${path}” has no default that is a number.`);
  return value;
}

/** The schema of a setting within the schema of all. */
function settingAt(schema: z.ZodType, path: string): z.ZodType {
  let here = schema;
  for (const name of path.split('.')) {
    const inner = plain(here);
    const next =
      inner instanceof z.ZodObject
        ? (inner.shape as Record<string, z.ZodType>)[name]
        : inner instanceof z.ZodArray
          ? (inner.element as z.ZodType)
          : inner instanceof z.ZodTuple
            ? (inner.def.items[Number(name)] as z.ZodType | undefined)
            : inner instanceof z.ZodRecord
              ? (inner.valueType as z.ZodType)
              : undefined;
    if (!next) throw new Error(`There is no setting “${name}” in “${path}”.`);
    here = next;
  }
  return here;
}

/** A schema without what stands around it, where that is an object among other choices the object. */
function plain(schema: z.ZodType): z.ZodType {
  const inner = unwrapped(schema);
  const options = inner instanceof z.ZodUnion ? (inner.options as z.ZodType[]) : [];
  return options.find((each) => each instanceof z.ZodObject) ?? inner;
}

/** A schema without what stands around it: defaults, that it may be left out, and how older values are read. */
function unwrapped(schema: z.ZodType): z.ZodType {
  if (schema instanceof z.ZodPipe && schema.in instanceof z.ZodTransform) return unwrapped(schema.out as z.ZodType);
  if (
    schema instanceof z.ZodDefault ||
    schema instanceof z.ZodPrefault ||
    schema instanceof z.ZodOptional ||
    schema instanceof z.ZodNullable
  ) {
    return unwrapped(schema.unwrap() as z.ZodType);
  }
  return schema;
}
