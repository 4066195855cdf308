export * from './slopes.ts';
export * from './heightFromTone.ts';
export * from './heightFromNormal.ts';
export * from './normalFromHeight.ts';
export * from './occlusionFromHeight.ts';
export * from './curvatureFromHeight.ts';
export * from './toneMask.ts';
export * from './mapDeriver.ts';
