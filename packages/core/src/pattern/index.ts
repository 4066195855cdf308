export * from './domain.ts';
export * from './shapes.ts';
export { NOISE_STYLES, type NoiseStyle } from './octave.ts';
export * from './fieldLayer.ts';
export * from './field.ts';
export * from './solidField.ts';
