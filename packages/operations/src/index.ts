export * from './operation.ts';
export * from './bake/bakeSettings.ts';
export * from './bake/bakeOperation.ts';
export * from './bake/matching.ts';
export * from './layout/layoutSettings.ts';
export * from './registry.ts';
export * from './ticketFile.ts';
export * from './report.ts';
