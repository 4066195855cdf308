import { phraseOfKinds, type MapKind } from '@zographos/core/image';
import type { SentencePart } from '../operation.ts';

/** Adjustments at the end of a sentence, where there are any. */
export function adjusted(adjust: Partial<Record<MapKind, readonly unknown[]>>): SentencePart[] {
  const kinds = (Object.keys(adjust) as MapKind[]).filter((kind) => adjust[kind]!.length > 0);
  if (kinds.length === 0) return [];
  return [{ text: ', with ' }, { text: `${phraseOfKinds(kinds)} adjusted`, slot: 'adjust' }];
}
