export * from './scans.ts';
export * from './shapes.ts';
