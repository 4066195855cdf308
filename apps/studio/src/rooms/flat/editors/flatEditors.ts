import { DERIVED_KINDS } from '@zographos/core/derive';
import { describeKind } from '@zographos/core/image';
import type { FlatTicket } from '@zographos/contracts';

type FlatKind = FlatTicket['operation'];

const KIND_TITLES = Object.fromEntries(DERIVED_KINDS.map((kind) => [kind, describeKind(kind).label]));

interface FlatEditing {
  /** What a step of the operation is called in the list of steps. */
  step: string;
  /** The slot that is shown first. */
  first: string;
  /** Its slots with their titles; `adjust` stands for what is done to finished maps, whatever made them. */
  slots: Record<string, string>;
}

/** What is edited beside the preview, by operation; each has an editor of its own that shows its slots one at a time. */
export const FLAT_EDITING: Record<FlatKind, FlatEditing> = {
  seamless: {
    step: 'Tile',
    first: 'way',
    slots: {
      pictures: 'Images',
      frame: 'Frame',
      even: 'Lighting',
      way: 'Method',
      spots: 'Spots',
      size: 'Size',
      adjust: 'Adjustments',
    },
  },
  derive: {
    step: 'Maps',
    first: 'height',
    slots: {
      maps: 'Maps',
      from: 'Source',
      pictures: 'Source',
      depth: 'Height scale',
      ...KIND_TITLES,
      adjust: 'Adjustments',
    },
  },
  field: {
    step: 'Procedural texture',
    first: 'layers',
    slots: { maps: 'Maps', layers: 'Layers', wrap: 'Tiling', size: 'Size', adjust: 'Adjustments' },
  },
  cutouts: {
    step: 'Cut-outs',
    first: 'mask',
    slots: { pictures: 'Images', mask: 'Mask', size: 'Size', adjust: 'Adjustments' },
  },
  combine: {
    step: 'Combined maps',
    first: 'layers',
    slots: { maps: 'Maps', pictures: 'Images', layers: 'Layers', size: 'Size', adjust: 'Adjustments' },
  },
};

/** What a slot is called. @throws an Error for a slot that no editor shows: a fault in the sentence or in the table */
export function flatSlotTitle(operation: FlatKind, slot: string): string {
  const title = FLAT_EDITING[operation].slots[slot];
  if (!title) throw new Error(`Nothing edits the slot “${slot}” of the operation “${operation}”.`);
  return title;
}
