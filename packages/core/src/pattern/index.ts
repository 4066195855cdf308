export * from './domain.ts';
export * from './shapes.ts';
export { NOISE_STYLES, type NoiseStyle } from './octaves.ts';
export * from './field.ts';
