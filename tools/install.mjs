// Installs what is missing: npm packages, and Debian's PostgreSQL and Chromium. Uses nothing but Node itself.
import { execFileSync, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { ROOT } from './paths.mjs';
import { serverPrograms } from './postgres.mjs';

/** Says one line and stops: for what the person at the keyboard has to do. @param {string} sentence @returns {never} */
export function giveUp(sentence) {
  process.stderr.write(`${sentence}\n`);
  process.exit(1);
}

/** Installs the packages of package-lock.json unless they are there already. */
export function installPackages() {
  const lock = createHash('sha256')
    .update(readFileSync(path.join(ROOT, 'package-lock.json')))
    .digest('hex');
  const mark = path.join(ROOT, 'node_modules/.installed-lock');
  if (existsSync(mark) && readFileSync(mark, 'utf8') === lock) return;
  process.stdout.write('Installing packages …\n');
  const { status } = spawnSync('npm', ['ci', '--no-audit', '--no-fund'], {
    cwd: ROOT,
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  if (status !== 0) giveUp('The packages could not be installed: npm ci failed, see above.');
  writeFileSync(mark, lock);
}

/** Makes sure of a PostgreSQL server, unless a database is given from outside. */
export function installPostgres() {
  if (process.env['DATABASE_URL'] || serverPrograms()) return;
  installDebianPackage('postgresql', 'PostgreSQL');
}

/** Makes sure of a browser for the end-to-end tests. */
export function installChromium() {
  if (!existsSync('/usr/bin/chromium')) installDebianPackage('chromium', 'Chromium');
}

/** @param {string} name @param {string} title */
function installDebianPackage(name, title) {
  const byHand = `sudo apt-get install --no-install-recommends ${name}`;
  if (process.getuid?.() !== 0) giveUp(`${title} is missing. Install it with: ${byHand}`);
  process.stdout.write(`Installing ${title} …\n`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  try {
    execFileSync('apt-get', ['update', '-qq'], { stdio: 'ignore', env });
    execFileSync('apt-get', ['install', '-y', '-qq', '--no-install-recommends', name], {
      stdio: ['ignore', 'ignore', 'inherit'],
      env,
    });
  } catch {
    giveUp(`${title} could not be installed. Try by hand: ${byHand}`);
  }
}
