// npm test: sets up what is missing, then runs formatter, linter, type checks, unit, API and end-to-end tests.
// Ends with “N passed, N failed”, summed over all of them. `npm test -- unit` runs only what is named.
import { spawnSync } from 'node:child_process';
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

/** @param {string} title @param {string[]} command */
function run(title, command) {
  process.stdout.write(`\n── ${title}\n`);
  const [program, ...args] = command;
  return (
    spawnSync('npx', ['--no-install', /** @type {string} */ (program), ...args], { cwd: ROOT, stdio: 'inherit' })
      .status === 0
  );
}

/** @param {string} name @param {string} title @param {string[][]} commands */
function check(name, title, ...commands) {
  if (wanted.length > 0 && !wanted.includes(name)) return;
  for (const command of commands) {
    if (run(title, command)) passed++;
    else failed++;
  }
}

/** @param {string} project one of vitest.config.ts */
function tests(project) {
  if (wanted.length > 0 && !wanted.includes(project)) return;
  const report = path.join(scratch, `${project}.json`);
  const ok = run(`${project} tests`, [
    'vitest',
    'run',
    '--project',
    project,
    '--reporter=default',
    '--reporter=json',
    `--outputFile.json=${report}`,
  ]);
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

check('format', 'format', ['prettier', '--check', '--log-level', 'warn', '.']);
check('lint', 'lint', ['eslint', '.', '--max-warnings', '0']);
check(
  'types',
  'types',
  ['tsc', '-p', 'packages/core'],
  ['tsc', '-p', 'tsconfig.json'],
  ['vue-tsc', '-p', 'apps/studio'],
);
for (const project of ['unit', 'api', 'e2e']) tests(project);

rmSync(scratch, { recursive: true, force: true });
process.stdout.write(`\n${passed} passed, ${failed} failed\n`);
process.exit(failed === 0 && passed > 0 ? 0 : 1);
