/** How receivers find the sources they may see: all of them, or those of the same name but for an ending. */
export type Matching = 'all' | { receiverEndings: readonly string[]; sourceEndings: readonly string[] };

export const USUAL_ENDINGS = {
  receiverEndings: ['_low', '_light', ' light'],
  sourceEndings: ['_high', '_dense', ' dense'],
};

/** Who sees whom. Numbers are places in the lists of names. */
export interface Pairing {
  /** The sources of each group. */
  groups: number[][];
  /** The group of each receiver; null for one that has no partner. */
  groupOf: (number | null)[];
  /** Sources that no receiver sees. */
  unseen: number[];
}

/**
 * Pairs receivers with sources. By name, “bolt_low” sees “bolt_high”, “bolt_high.001” and “bolt_high 2”: endings and
 * running numbers are cut off, and capitals do not count.
 */
export function pairUp(receivers: readonly string[], sources: readonly string[], matching: Matching): Pairing {
  const all = sources.map((_, i) => i);
  if (matching === 'all') return { groups: [all], groupOf: receivers.map(() => 0), unseen: [] };
  const byStem = new Map<string, number[]>();
  sources.forEach((name, i) => {
    const stem = stemOf(name, matching.sourceEndings);
    byStem.set(stem, [...(byStem.get(stem) ?? []), i]);
  });
  const numbers = new Map<string, number>();
  const groupOf = receivers.map((name) => {
    const stem = stemOf(name, matching.receiverEndings);
    if (!byStem.has(stem)) return null;
    if (!numbers.has(stem)) numbers.set(stem, numbers.size);
    return numbers.get(stem)!;
  });
  const groups = [...numbers.keys()].map((stem) => byStem.get(stem)!);
  const seen = new Set(groups.flat());
  return { groups, groupOf, unseen: all.filter((i) => !seen.has(i)) };
}

/** What is left of a name without its running number and its ending. */
const stemOf = (name: string, endings: readonly string[]): string =>
  withoutEnding(name, endings) ?? name.trim().toLowerCase();

/**
 * A name without its running number and the ending that it has; null where it has none of them.
 * @example withoutEnding('Bolt_high.001', ['_high']) // 'bolt'
 */
export function withoutEnding(name: string, endings: readonly string[]): string | null {
  const plain = name.trim().toLowerCase();
  for (const candidate of [plain, plain.replace(/[ ._-]?\d+$/, '')]) {
    const ending = endings.map((each) => each.toLowerCase()).find((each) => each && candidate.endsWith(each));
    if (ending) return candidate.slice(0, -ending.length);
  }
  return null;
}
