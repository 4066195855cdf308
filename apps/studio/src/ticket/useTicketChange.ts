import { computed } from 'vue';
import type { TicketOf } from '@zographos/contracts';
import type { OperationSettings, TicketKind } from '@zographos/operations';
import { useProject } from '../stores/project.ts';

/** Changes a ticket from the editor of a slot; every change takes effect, and can be undone, at once. */
export function useTicketChange<Kind extends TicketKind>(ticket: () => TicketOf<Kind>) {
  const store = useProject();

  /** @param what is changed, as the list of edits says it */
  const change = (what: string, part: Partial<OperationSettings[Kind]>): void => {
    const settings = { ...ticket().settings, ...part };
    // Settings of one operation with some of them changed are settings of that operation.
    void store.changeTicket(ticket().id, what, { settings: settings });
  };

  /** Sets an input, or leaves it out. */
  const setInput = (which: 'mask' | 'cage', value: string | undefined): void => {
    void store.changeTicket(ticket().id, which, { inputs: { ...ticket().inputs, [which]: value } });
  };

  const unit = computed(() => store.meshById(ticket().inputs.receivers[0] ?? '')?.unit ?? 'units');
  return { change, setInput, unit };
}
