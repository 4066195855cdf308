export * from './askThread.ts';
export * from './startThread.ts';
export * from './readInTime.ts';
