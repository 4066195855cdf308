export * from './kernel.ts';
export * from './kernelTeam.ts';
