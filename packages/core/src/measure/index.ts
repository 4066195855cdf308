export * from './seamPoints.ts';
export * from './seamError.ts';
export * from './mendSeams.ts';
export * from './ssim.ts';
export * from './likeness.ts';
export * from './repetition.ts';
export * from './seamVisibility.ts';
export * from './tileProof.ts';
