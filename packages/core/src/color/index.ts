export * from './srgb.ts';
export * from './luminance.ts';
export * from './oklab.ts';
export * from './ramp.ts';
export * from './idColors.ts';
