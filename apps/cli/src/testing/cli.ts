import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { nodeProgram } from '../../../../tools/build.mjs';

const ROOT = path.resolve(import.meta.dirname, '../../../..');

interface Ran {
  status: number | null;
  out: string;
  err: string;
}

function ran(program: string, args: readonly string[]): Ran {
  const { status, stdout, stderr } = spawnSync(program, args, {
    cwd: ROOT,
    encoding: 'utf8',
    env: { ...process.env, npm_config_loglevel: 'silent' },
  });
  // npm itself may warn about settings of the machine.
  const err = stderr
    .split('\n')
    .filter((line) => line !== '' && !line.startsWith('npm warn'))
    .join('\n');
  return { status, out: stdout, err };
}

/** Runs the command line that was built for the tests, in a process of its own. */
export const cli = (...args: string[]): Ran => ran(process.execPath, [nodeProgram('cli'), ...args]);

/** Runs it as a person does, who also waits for npm. */
export const cliByNpm = (...args: string[]): Ran => ran('npm', ['run', '--silent', 'cli', '--', ...args]);
