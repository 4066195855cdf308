export * from './runMesh.ts';
export * from './sceneCache.ts';
export * from './sceneTree.ts';
export { repeatLattice } from './repeatSources.ts';
export * from './wornMaps.ts';
