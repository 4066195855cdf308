// What the live preview of the studio computes with, which runs in a browser too.
export * from './flatMap.ts';
export * from '../seamless/makeTiles.ts';
export * from '../field/mapsOfField.ts';
export * from '../combine/combineMaps.ts';
export * from '../cutouts/makeCutouts.ts';
export { stackInputs, type InputsOfTile } from '../layers/layerInputs.ts';
