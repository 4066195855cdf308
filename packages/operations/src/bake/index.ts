export * from './bakeMaps.ts';
export * from './bakeTicket.ts';
export * from './measureReach.ts';
export * from './transferSettings.ts';
export { isDivisible, type EarlierBake, type Region, type TileRecord } from './blocks/reuse.ts';
