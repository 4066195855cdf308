export * from './combineImages.ts';
export * from './heightBlend.ts';
export * from './matchTones.ts';
