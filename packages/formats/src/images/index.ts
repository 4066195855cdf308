export * from './encodeImage.ts';
export * from './guessKind.ts';
export * from './readImageFile.ts';
