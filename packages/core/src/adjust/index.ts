export * from './curve.ts';
export * from './denoise.ts';
export * from './adjust.ts';
