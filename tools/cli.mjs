// The command line: builds it if need be, then hands over.
import { buildNode, nodeProgram } from './build.mjs';

await buildNode();
await import(nodeProgram('cli'));
