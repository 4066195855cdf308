export * from './render/renderLight.ts';
export { closeLightPool } from './render/lightTile.ts';
export * from './options.ts';
export * from './report.ts';
export * from './settings.ts';
