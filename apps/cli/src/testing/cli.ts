import { spawnSync } from 'node:child_process';
import path from 'node:path';

const ROOT = path.resolve(import.meta.dirname, '../../../..');

/** Runs the command line as a person does. */
export function cli(...args: string[]): { status: number | null; out: string; err: string } {
  const { status, stdout, stderr } = spawnSync('npm', ['run', '--silent', 'cli', '--', ...args], {
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
