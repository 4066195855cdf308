import type { InjectionKey } from 'vue';

/** Brings files into the open project. */
export type BringIn = (files: File[]) => Promise<void>;

export const bringInKey: InjectionKey<BringIn> = Symbol('bring in');
