import type { z } from 'zod';
import { ZographosError } from '@zographos/core';
import { bakeOperation } from './bake/bakeOperation.ts';
import type { BakeOperationSettings } from './bake/bakeSettings.ts';
import { layoutOperation } from './layout/layoutOperation.ts';
import type { LayoutSettings } from './layout/layoutSettings.ts';
import { mergeOperation } from './merge/mergeOperation.ts';
import type { MergeSettings } from './merge/mergeSettings.ts';
import type { Operation } from './operation.ts';
import { sheetOperation } from './sheet/sheetOperation.ts';
import type { SheetSettings } from './sheet/sheetSettings.ts';

/** The settings of every operation there is, by its kind. */
export interface OperationSettings {
  bake: BakeOperationSettings;
  layout: LayoutSettings;
  merge: MergeSettings;
  sheet: SheetSettings;
}

export type OperationKind = keyof OperationSettings;

/** Every operation there is. */
export const OPERATIONS: { [Kind in OperationKind]: Operation<OperationSettings[Kind]> } = {
  bake: bakeOperation,
  layout: layoutOperation,
  merge: mergeOperation,
  sheet: sheetOperation,
};

/** Operations that make maps are kept as tickets, to be run again; the others are done once. */
export const TICKET_KINDS = ['bake'] as const satisfies OperationKind[];
export type TicketKind = (typeof TICKET_KINDS)[number];

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
