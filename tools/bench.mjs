// npm run bench: measures speed, always as ratios within one run. `npm run bench -- --help` says how.
import { installPackages } from './install.mjs';

installPackages();
const { buildNode, nodeProgram } = await import('./build.mjs');
await buildNode();
await import(nodeProgram('bench'));
