import path from 'node:path';
import { readdirSync, readFileSync } from 'node:fs';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { main } from './main.ts';
import { cliByNpm } from './testing/cli.ts';

afterEach(() => vi.restoreAllMocks());

/** Runs a command in this process; nothing here gets as far as computing. */
async function run(...args: string[]): Promise<{ status: number; out: string; err: string }> {
  let [out, err] = ['', ''];
  vi.spyOn(process.stdout, 'write').mockImplementation((text) => Boolean((out += String(text))));
  vi.spyOn(process.stderr, 'write').mockImplementation((text) => Boolean((err += String(text))));
  const status = await main(args);
  vi.restoreAllMocks();
  return { status, out, err };
}

const { out: overview } = await run('--help');
const commands = [...new Set([...overview.matchAll(/^ {2}cli ([a-z-]+) /gm)].map(([, name]) => name!))];

/** The flags that the commands of a file know, as its source has them. */
const FOLDER = path.join(import.meta.dirname, 'commands');
const flagsOf = (file: string): string[] =>
  [
    ...readFileSync(path.join(FOLDER, file), 'utf8').matchAll(
      /^\s+'?([a-z][a-z-]*)'?: \{ type: '(?:string|boolean)'/gm,
    ),
  ].map(([, name]) => name!);
const files = readdirSync(FOLDER).filter((name) => name.endsWith('Command.ts'));

describe('help', () => {
  it('lists every command, and each has a text of its own', async () => {
    expect(commands.length).toBeGreaterThan(12);
    for (const name of commands) {
      const { status, out } = await run(name, '--help');
      expect(status, name).toBe(0);
      expect(out, name).toMatch(new RegExp(`^cli ${name}`, 'm'));
      expect(out, name).toContain('--help');
    }
  });

  /** What flags were called before; they are taken still, and no longer shown. */
  const FORMER = ['oversize'];

  it('documents every flag of every command', async () => {
    let all = '';
    for (const name of commands) all += (await run(name, '--help')).out;
    const flags = files.flatMap((file) => flagsOf(file).map((flag) => ({ file, flag })));
    expect(flags.length).toBeGreaterThan(140);
    const silent = flags.filter(({ flag }) => !new RegExp(`--${flag}[ ,\\n]`).test(all));
    expect(silent.filter(({ flag }) => !FORMER.includes(flag))).toEqual([]);
  });

  it('is there by npm as well', () => {
    expect(cliByNpm('--help')).toEqual({ status: 0, out: overview, err: '' });
  });

  it('is the answer to nothing at all, which is no success', async () => {
    const { status, out } = await run();
    expect([status, out]).toEqual([2, overview]);
  });
});

describe('what cannot be meant', () => {
  it('is told in one sentence with the way out, and status 2', async () => {
    for (const args of [
      ['knit'],
      ['bake', '--wobble'],
      ...commands.filter((name) => name !== 'demo').map((name) => [name]),
    ]) {
      const { status, err, out } = await run(...args);
      expect([status, out], args.join(' ')).toEqual([2, '']);
      expect(err.trim().split('\n'), args.join(' ')).toHaveLength(1);
    }
    expect((await run('knit')).err).toContain('There is no command “knit”. Known: bake');
  });
});
