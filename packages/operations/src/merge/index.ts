export * from './materialOf.ts';
export * from './mergeMeshes.ts';
export * from './drawCost.ts';
export * from './ticketOfMerge.ts';
