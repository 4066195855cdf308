export * from './unfoldArchive.ts';
export * from './usefulFiles.ts';
export * from './writeArchive.ts';
