export * from './askThread.ts';
export * from './startThread.ts';
