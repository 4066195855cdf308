// npm run setup: everything that npm start and the command line need, without starting anything.
import { installPackages, installPostgres } from './install.mjs';

installPackages();
installPostgres();
const { buildNode, buildStudio } = await import('./build.mjs');
await buildNode();
await buildStudio();
process.stdout.write('Ready: npm start, or npm run --silent cli -- --help\n');
