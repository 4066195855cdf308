export * from './size.ts';
export * from './disjointSets.ts';
export * from './fourier.ts';
export * from './randomNumbers.ts';
export * from './lowDiscrepancy.ts';
