export * from './placements.ts';
export * from './alike.ts';
export * from './composeAtlas.ts';
export * from './cutOuts.ts';
