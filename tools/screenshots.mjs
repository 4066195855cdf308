// npm run screenshots: takes docs/screenshots/ anew from the demo data.
import { spawnSync } from 'node:child_process';
import { installChromium, installPackages, installPostgres } from './install.mjs';
import { ROOT } from './paths.mjs';

installPackages();
installPostgres();
installChromium();
const { status } = spawnSync(process.execPath, ['--import', 'tsx', 'e2e/src/screenshots.ts'], {
  cwd: ROOT,
  stdio: 'inherit',
});
process.exit(status ?? 1);
