// npm test: sets up what is missing, then runs formatter, linter, type checks, unit, API and end-to-end tests.
// Ends with “N passed, N failed”, summed over all of them. `npm test -- unit` runs only what is named.
import { spawn, spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { installChromium, installPackages, installPostgres } from './install.mjs';
import { ROOT } from './paths.mjs';

// Tests make databases of their own; one given from outside is not theirs to touch.
delete process.env['DATABASE_URL'];
installPackages();
installPostgres();
installChromium();

const wanted = process.argv.slice(2);
const scratch = mkdtempSync(path.join(os.tmpdir(), 'zographos-test-'));
let passed = 0;
let failed = 0;

/** @param {string} name */
const isWanted = (name) => wanted.length === 0 || wanted.includes(name);

/** @typedef {{ name: string, command: string[] }} Check */

/**
 * Runs one check and shows what it says when it has ended, so that two at a time do not mix their lines.
 * @param {Check} check
 */
function runCheck({ name, command }) {
  return new Promise((resolve) => {
    const child = spawn('npx', ['--no-install', ...command], { cwd: ROOT, stdio: ['ignore', 'pipe', 'pipe'] });
    /** @type {Buffer[]} */
    const output = [];
    child.stdout.on('data', (chunk) => output.push(chunk));
    child.stderr.on('data', (chunk) => output.push(chunk));
    child.on('close', (status) => {
      process.stdout.write(`\n── ${name}: ${command.join(' ')}\n${Buffer.concat(output)}`);
      if (status === 0) passed++;
      else failed++;
      resolve(undefined);
    });
  });
}

/** @param {string} project one of vitest.config.ts */
function tests(project) {
  if (!isWanted(project)) return;
  const report = path.join(scratch, `${project}.json`);
  process.stdout.write(`\n── ${project} tests\n`);
  const reporters = ['--reporter=default', '--reporter=json', `--outputFile.json=${report}`];
  const ok =
    spawnSync('npx', ['--no-install', 'vitest', 'run', '--project', project, ...reporters], {
      cwd: ROOT,
      stdio: 'inherit',
    }).status === 0;
  try {
    const result = JSON.parse(readFileSync(report, 'utf8'));
    passed += result.numPassedTests;
    failed += result.numFailedTests;
    // A file that cannot even be loaded counts as a failure of its own.
    if (!ok && result.numFailedTests === 0) failed++;
  } catch {
    failed++;
  }
}

/** @type {Check[]} */
const checks = [
  { name: 'lint', command: ['eslint', 'apps/studio', '--max-warnings', '0'] },
  { name: 'lint', command: ['eslint', '.', '--ignore-pattern', 'apps/studio/**', '--max-warnings', '0'] },
  { name: 'types', command: ['vue-tsc', '-p', 'apps/studio'] },
  { name: 'types', command: ['tsc', '-p', 'tsconfig.json'] },
  { name: 'types', command: ['tsc', '-p', 'packages/core'] },
  { name: 'format', command: ['prettier', '--check', '--log-level', 'warn', '.'] },
].filter(({ name }) => isWanted(name));
// The linter takes longest: on the studio as long as on all the rest, so two lanes end at about the same time.
await Promise.all(
  [0, 1].map(async () => {
    for (let next = checks.shift(); next; next = checks.shift()) await runCheck(next);
  }),
);
for (const project of ['unit', 'api', 'e2e']) tests(project);

rmSync(scratch, { recursive: true, force: true });
process.stdout.write(`\n${passed} passed, ${failed} failed\n`);
process.exit(failed === 0 && passed > 0 ? 0 : 1);
