export * from './entities.ts';
export * from './endpoints.ts';
export * from './openapi.ts';
export * from './samples.ts';
