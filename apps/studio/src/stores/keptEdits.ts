import { z } from 'zod';

/** A change of a ticket that can be taken back in this window after the page was loaded again. */
export interface KeptEdit {
  label: string;
  ticket: string;
  before: object;
  after: object;
}

export interface KeptEdits {
  done: KeptEdit[];
  undone: KeptEdit[];
  /** The version of each ticket once the last of them was made: with another, somebody else has changed it since. */
  versions: Record<string, number>;
}

const edit = z.object({ label: z.string(), ticket: z.string(), before: z.int(), after: z.int() });
/** States are listed once: what one edit ends with the next begins with. */
const stored = z.object({
  states: z.array(z.record(z.string(), z.unknown())),
  done: z.array(edit),
  undone: z.array(edit),
  versions: z.record(z.string(), z.int()),
});

/** Characters that are kept of a project: browsers keep about five million of a page. */
const MOST = 2_000_000;
const keyOf = (projectId: string): string => `zographos edits ${projectId}`;

/** Keeps the edits of a project until its window is closed; the oldest go where there are too many. */
export function keepEdits(projectId: string, { done, undone, versions }: KeptEdits): void {
  for (let from = 0; from <= done.length; from = from === 0 ? Math.ceil(done.length / 2) || 1 : from * 2) {
    const states: string[] = [];
    const numbers = new Map<string, number>();
    const numberOf = (state: object): number => {
      const text = JSON.stringify(state);
      const known = numbers.get(text) ?? states.push(text) - 1;
      numbers.set(text, known);
      return known;
    };
    const packed = (edits: readonly KeptEdit[]) =>
      edits.map(({ label, ticket, before, after }) => ({
        ...{ label, ticket },
        ...{ before: numberOf(before), after: numberOf(after) },
      }));
    const rest = JSON.stringify({ done: packed(done.slice(from)), undone: packed(undone), versions });
    const text = `{"states":[${states.join()}],${rest.slice(1)}`;
    if (text.length > MOST) continue;
    try {
      sessionStorage.setItem(keyOf(projectId), text);
    } catch {
      // What does not fit cannot be taken back after loading the page again; all else goes on.
      sessionStorage.removeItem(keyOf(projectId));
    }
    return;
  }
  sessionStorage.removeItem(keyOf(projectId));
}

/** The edits of a project that were kept in this window; null for none, or for what cannot be read. */
export function readKeptEdits(projectId: string): KeptEdits | null {
  const text = sessionStorage.getItem(keyOf(projectId));
  if (text === null) return null;
  try {
    const { states, done, undone, versions } = stored.parse(JSON.parse(text));
    const unpacked = (edits: z.infer<typeof edit>[]): KeptEdit[] =>
      edits.map(({ label, ticket, before, after }) => ({
        label,
        ticket,
        before: states[before]!,
        after: states[after]!,
      }));
    return { done: unpacked(done), undone: unpacked(undone), versions };
  } catch {
    return null;
  }
}
