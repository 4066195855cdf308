export * from './renderLight.ts';
export * from './report.ts';
export * from './settings.ts';
