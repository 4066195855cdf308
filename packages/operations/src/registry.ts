import type { z } from 'zod';
import { ZographosError } from '@zographos/core/errors';
import { bakeOperation } from './bake/operation.ts';
import type { BakeOperationSettings } from './bake/settings.ts';
import { deliverOperation } from './deliver/operation.ts';
import type { DeliverSettings } from './deliver/settings.ts';
import type { DeriveSettings } from './derive/settings.ts';
import type { FieldSettings } from './field/settings.ts';
import { deriveOperation, fieldOperation, seamlessOperation } from './flat/flatOperations.ts';
import type { SeamlessSettings } from './seamless/settings.ts';
import { layoutOperation } from './layout/operation.ts';
import type { LayoutSettings } from './layout/settings.ts';
import { mergeOperation } from './merge/operation.ts';
import type { MergeSettings } from './merge/settings.ts';
import type { Operation } from './operation.ts';
import { sheetOperation } from './atlas/operation.ts';
import type { SheetSettings } from './atlas/settings.ts';

/** The settings of every operation there is, by its kind. */
export interface OperationSettings {
  bake: BakeOperationSettings;
  layout: LayoutSettings;
  merge: MergeSettings;
  sheet: SheetSettings;
  seamless: SeamlessSettings;
  derive: DeriveSettings;
  field: FieldSettings;
  deliver: DeliverSettings;
}

export type OperationKind = keyof OperationSettings;

/** Every operation there is. */
export const OPERATIONS: { [Kind in OperationKind]: Operation<OperationSettings[Kind]> } = {
  bake: bakeOperation,
  layout: layoutOperation,
  merge: mergeOperation,
  sheet: sheetOperation,
  seamless: seamlessOperation,
  derive: deriveOperation,
  field: fieldOperation,
  deliver: deliverOperation,
};

export const OPERATION_KINDS = Object.keys(OPERATIONS) as [OperationKind, ...OperationKind[]];

/** Operations that make maps are kept as tickets, to be run again; the others are done once. */
export const TICKET_KINDS = ['bake', 'seamless', 'derive', 'field'] as const satisfies OperationKind[];
export type TicketKind = (typeof TICKET_KINDS)[number];

/** Those whose maps lie on no mesh. */
export const FLAT_KINDS = ['seamless', 'derive', 'field'] as const satisfies TicketKind[];
export type FlatKind = (typeof FLAT_KINDS)[number];

export const isFlat = (kind: OperationKind): kind is FlatKind => (FLAT_KINDS as readonly string[]).includes(kind);

/**
 * Checks settings from outside against their operation.
 * @throws input/bad-settings naming the first setting that is wrong
 */
export function parseSettings<Kind extends OperationKind>(kind: Kind, settings: unknown): OperationSettings[Kind] {
  return parseWith(OPERATIONS[kind].settings, settings, kind);
}

/** @throws input/bad-settings naming the first setting that is wrong */
export function parseWith<Settings>(schema: z.ZodType<Settings>, settings: unknown, what = 'settings'): Settings {
  const parsed = schema.safeParse(settings);
  if (parsed.success) return parsed.data;
  const issue = parsed.error.issues[0]!;
  throw new ZographosError(
    'input/bad-settings',
    `The setting “${issue.path.join('.') || what}” is not usable: ${issue.message}`,
  );
}
