export * from '../limits.ts';
export * from './meshFile.ts';
export * from './readMeshFile.ts';
export * from './packedMesh.ts';
export * from './writePly.ts';
export * from './writeObj.ts';
export * from './writeGlb.ts';
export * from './writeMtl.ts';
