export * from './placements.ts';
export * from './composeAtlas.ts';
