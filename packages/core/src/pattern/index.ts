export * from './domain.ts';
export * from './shapes.ts';
export * from './field.ts';
