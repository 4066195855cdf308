export * from './askThread.ts';
export * from './context.ts';
export * from './startThread.ts';
export * from './sceneCache.ts';
export * from './runBake.ts';
export * from './memoryLimit.ts';
export * from './sceneTree.ts';
export * from './measure.ts';
export { isDivisible, type EarlierBake, type Region, type TileRecord } from './reuse.ts';
