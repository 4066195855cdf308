/** How relief is shown: one way, or all side by side under the same light. */
export const RELIEFS = ['normal', 'bump', 'parallax', 'displacement', 'compare'] as const;
export type Relief = (typeof RELIEFS)[number];
export type SingleRelief = Exclude<Relief, 'compare'>;

export const RELIEF_LABELS: Record<Relief, string> = {
  normal: 'Normal map',
  bump: 'Bump',
  parallax: 'Parallax',
  displacement: 'Displacement',
  compare: 'Side by side',
};

export const SINGLE_RELIEFS = ['normal', 'bump', 'parallax', 'displacement'] as const satisfies readonly SingleRelief[];
