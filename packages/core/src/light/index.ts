export * from './environment.ts';
export * from './lightBaker.ts';
export * from './lightMemory.ts';
export * from './lightScene.ts';
export * from './passes.ts';
export * from './viewTransform.ts';
export * from './denoise.ts';
