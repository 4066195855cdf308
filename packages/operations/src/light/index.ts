export * from './renderLight.ts';
export { closeLightPool } from './lightTile.ts';
export * from './options.ts';
export * from './report.ts';
export * from './settings.ts';
