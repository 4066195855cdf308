// Unit tests run the built command line and the kernel.
export { buildNode as default } from './build.mjs';
