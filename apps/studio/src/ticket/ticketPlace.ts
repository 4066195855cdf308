import type { RouteLocationRaw } from 'vue-router';
import type { Ticket } from '@zographos/contracts';

/** The room in which a ticket is worked on: bakes on the bench, light in its own room, flat material and layers with the set they fill. */
export function ticketPlace(projectId: string, { id, operation, imageSetId }: Ticket): RouteLocationRaw {
  if (operation === 'layers') return { name: 'layers', params: { projectId, setId: imageSetId } };
  if (operation === 'light') return { name: 'light', params: { projectId, ticketId: id } };
  return operation === 'bake'
    ? { name: 'bake', params: { projectId, ticketId: id } }
    : { name: 'flat', params: { projectId, setId: imageSetId }, query: { ticket: id } };
}
