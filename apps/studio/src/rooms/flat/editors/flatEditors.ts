import { DERIVED_KINDS } from '@zographos/core/derive';
import { describeKind } from '@zographos/core/image';
import type { FlatTicket } from '@zographos/contracts';

type FlatKind = FlatTicket['operation'];

const KIND_TITLES = Object.fromEntries(DERIVED_KINDS.map((kind) => [kind, describeKind(kind).label]));

/**
 * The slots of each operation that are edited beside the preview, with their titles; each operation has an editor of its
 * own that shows them one at a time. `adjust` stands for what is done to finished maps, whatever made them.
 */
export const FLAT_SLOTS: Record<FlatKind, Record<string, string>> = {
  seamless: {
    pictures: 'Images',
    frame: 'Frame',
    even: 'Lighting',
    way: 'Method',
    spots: 'Spots',
    size: 'Size',
    adjust: 'Adjustments',
  },
  derive: {
    maps: 'Maps',
    from: 'Source',
    pictures: 'Source',
    depth: 'Height scale',
    ...KIND_TITLES,
    adjust: 'Adjustments',
  },
  field: { maps: 'Maps', layers: 'Layers', wrap: 'Tiling', size: 'Size', adjust: 'Adjustments' },
};

/** What a slot is called. @throws an Error for a slot that no editor shows: a fault in the sentence or in the table */
export function flatSlotTitle(operation: FlatKind, slot: string): string {
  const title = FLAT_SLOTS[operation][slot];
  if (!title) throw new Error(`Nothing edits the slot “${slot}” of the operation “${operation}”.`);
  return title;
}
