import type { ImageSetRow, TicketRow } from './entities.ts';

/** The meshes that wear an image set: those its tickets bake for, or the one it was made for; none for flat material. */
export function wearersOf(
  { id, receiverId }: Pick<ImageSetRow, 'id' | 'receiverId'>,
  tickets: readonly Pick<TicketRow, 'imageSetId' | 'inputs'>[],
): string[] {
  const receivers = tickets.filter(({ imageSetId }) => imageSetId === id).flatMap(({ inputs }) => inputs.receivers);
  if (receivers.length > 0) return [...new Set(receivers)];
  return receiverId === null ? [] : [receiverId];
}
