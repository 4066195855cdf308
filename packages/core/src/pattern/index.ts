export * from './domain.ts';
export { ramp, RAMP_WAYS } from './shapes/ramp.ts';
export { NO_VARIATION, type ElementVariation } from './shapes/elements.ts';
export { NOISE_STYLES, type NoiseStyle } from './noise/octave.ts';
export * from './fieldLayer.ts';
export * from './field.ts';
export * from './elementMap.ts';
export * from './solidField.ts';
