/** The stages a run may go through, in order. */
export const STAGES = ['load', 'build', 'trace', 'pad', 'cut', 'pack', 'encode'] as const;
export type Stage = (typeof STAGES)[number];
