/** How relief is shown: one way, or three side by side under the same light. */
export const RELIEFS = ['normal', 'bump', 'displacement', 'compare'] as const;
export type Relief = (typeof RELIEFS)[number];
export type SingleRelief = Exclude<Relief, 'compare'>;

export const RELIEF_LABELS: Record<Relief, string> = {
  normal: 'Normal map',
  bump: 'Bump',
  displacement: 'Displacement',
  compare: 'Side by side',
};

export const SINGLE_RELIEFS = ['normal', 'bump', 'displacement'] as const satisfies readonly SingleRelief[];
