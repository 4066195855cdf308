import type { z } from 'zod';
import { ZographosError } from '@zographos/core/errors';
import { atlasOperation } from './atlas/operation.ts';
import { bakeOperation } from './bake/operation.ts';
import { combineOperation } from './combine/operation.ts';
import { cutoutsOperation } from './cutouts/operation.ts';
import { deliverOperation } from './deliver/operation.ts';
import { deriveOperation } from './derive/operation.ts';
import { fieldOperation } from './field/operation.ts';
import { layersOperation } from './layers/operation.ts';
import { layoutOperation } from './layout/operation.ts';
import { lightOperation } from './light/operation.ts';
import { mergeOperation } from './merge/operation.ts';
import type { Operation } from './operation.ts';
import { seamlessOperation } from './seamless/operation.ts';

/** Every operation there is, a line for each; whatever depends on the operation asks this table. */
export const OPERATIONS = {
  bake: bakeOperation,
  layout: layoutOperation,
  merge: mergeOperation,
  atlas: atlasOperation,
  seamless: seamlessOperation,
  derive: deriveOperation,
  field: fieldOperation,
  combine: combineOperation,
  cutouts: cutoutsOperation,
  layers: layersOperation,
  light: lightOperation,
  deliver: deliverOperation,
} as const;

export type OperationKind = keyof typeof OPERATIONS;

/** The settings of every operation, by its kind. */
export type OperationSettings = { [Kind in OperationKind]: z.infer<(typeof OPERATIONS)[Kind]['settings']> };

/** The reports of every operation, by its kind. */
export type OperationReports = { [Kind in OperationKind]: z.infer<(typeof OPERATIONS)[Kind]['report']> };

type KindsKept<Kept> = {
  [Kind in OperationKind]: (typeof OPERATIONS)[Kind]['ticket'] extends Kept ? Kind : never;
}[OperationKind];

/** Operations that are kept as tickets, to be run again. */
export type TicketKind = KindsKept<'mesh' | 'flat' | 'set' | 'lit'>;
/** Those whose maps lie on no mesh. */
export type FlatKind = KindsKept<'flat'>;
/** Those that lie on an image set which is there. */
export type SetKind = KindsKept<'set'>;
/** Those whose maps show meshes in light, in an image set of their own. */
export type LitKind = KindsKept<'lit'>;
/** Those that are done once, without a ticket. */
export type OnceKind = KindsKept<null>;

export const OPERATION_KINDS = Object.keys(OPERATIONS) as [OperationKind, ...OperationKind[]];

const kept = <Kind extends OperationKind>(is: (ticket: Operation<string, never, unknown>['ticket']) => boolean) =>
  OPERATION_KINDS.filter((kind) => is(OPERATIONS[kind].ticket)) as unknown as readonly [Kind, ...Kind[]];

export const TICKET_KINDS = kept<TicketKind>((ticket) => ticket !== null);
export const FLAT_KINDS = kept<FlatKind>((ticket) => ticket === 'flat');
export const ONCE_KINDS = kept<OnceKind>((ticket) => ticket === null);

export const isLit = (kind: OperationKind): kind is LitKind => OPERATIONS[kind].ticket === 'lit';

export const isFlat = (kind: OperationKind): kind is FlatKind => OPERATIONS[kind].ticket === 'flat';

/** An operation as its settings and reports are typed. */
export type OperationOf<Kind extends OperationKind> = Operation<Kind, OperationSettings[Kind], OperationReports[Kind]>;

/** The operation of a kind. @example operationOf('bake').sentence(settings, names, 'mm') */
export function operationOf<Kind extends OperationKind>(kind: Kind): OperationOf<Kind> {
  // The table has for each kind the operation of that kind, which indexing by a type parameter cannot show.
  return OPERATIONS[kind] as unknown as OperationOf<Kind>;
}

/**
 * Checks settings from outside against their operation.
 * @throws input/bad-settings naming the first setting that is wrong
 */
export function parseSettings<Kind extends OperationKind>(kind: Kind, settings: unknown): OperationSettings[Kind] {
  return parseWith(operationOf(kind).settings, settings, kind);
}

/** @throws input/bad-settings naming the first setting that is wrong */
export function parseWith<Settings>(schema: z.ZodType<Settings>, settings: unknown, what = 'settings'): Settings {
  const parsed = schema.safeParse(settings);
  if (parsed.success) return parsed.data;
  const issue = parsed.error.issues[0]!;
  throw new ZographosError(
    'input/bad-settings',
    `The setting “${spelledOut(issue.path) || what}” ${describeIssue(issue, settings)}`,
  );
}

/** The place of a setting as words: `occlusion.rays` is “occlusion rays”, `layers.2.scale` is “layers 3 scale”. */
const spelledOut = (path: readonly PropertyKey[]): string =>
  path
    .map((key) =>
      typeof key === 'number'
        ? String(key + 1)
        : String(key).replace(/(?<=[a-z])[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`),
    )
    .join(' ');

/** What is wrong with a setting, as the rest of a sentence that begins with its name. */
function describeIssue(issue: z.core.$ZodIssue, settings: unknown): string {
  const given = issue.path.reduce<unknown>(
    (value, key) =>
      typeof value === 'object' && value !== null ? (value as Record<PropertyKey, unknown>)[key] : undefined,
    settings,
  );
  const stated = typeof given === 'number' || typeof given === 'string' ? `; ${given} was given` : '';
  // A schema that has its own words for a limit says more than the numbers.
  if (!/^(Too (big|small)|Invalid|Unrecognized)/.test(issue.message)) return `is not usable: ${issue.message}`;
  switch (issue.code) {
    case 'too_big':
      return `must be ${issue.inclusive === false ? 'less than' : 'at most'} ${issue.maximum}${stated}.`;
    case 'too_small':
      return `must be ${issue.inclusive === false ? 'more than' : 'at least'} ${issue.minimum}${stated}.`;
    case 'invalid_value':
      return `must be ${issue.values.map(String).join(' or ')}${stated}.`;
    case 'invalid_type':
      return given === undefined ? 'is missing.' : `must be of type ${issue.expected}${stated}.`;
    case 'unrecognized_keys':
      return `has unknown parts: ${issue.keys.join(', ')}.`;
    default:
      return `is not usable: ${issue.message}`;
  }
}
