export * from './inspectMesh.ts';
