export * from './imageFormats.ts';
export * from './encodeImage.ts';
export * from './openRaster.ts';
export * from './guessKind.ts';
export * from './meaning.ts';
export * from './readImageFile.ts';
export * from '../limits.ts';
export * from './drawSvg.ts';
