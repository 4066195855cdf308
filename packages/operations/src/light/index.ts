export * from './render/renderLight.ts';
export { measured } from './render/lightPasses.ts';
export { closeLightPool, tileWork, traceTile } from './render/lightTile.ts';
export { inOtherLight, litScene, type LitScene } from './scene/litScene.ts';
export * from './options.ts';
export * from './report.ts';
export * from './settings.ts';
