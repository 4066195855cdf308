export * from './renderLight.ts';
export * from './settings.ts';
