import { Foundation1700000000001 } from './foundation.ts';

/** In the order in which they were written; each is named here, so that bundling cannot lose one. */
export const MIGRATIONS = [Foundation1700000000001];
