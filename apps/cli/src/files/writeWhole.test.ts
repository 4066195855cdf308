import {
  lstatSync,
  mkdtempSync,
  readFileSync,
  readdirSync,
  rmSync,
  statSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { writeWhole } from './writeWhole.ts';

let folder: string;
beforeAll(() => (folder = mkdtempSync(path.join(os.tmpdir(), 'zographos-write-'))));
afterAll(() => rmSync(folder, { recursive: true }));

describe('a file that is written', () => {
  it('takes the place of what was there, and leaves nothing beside it', async () => {
    const file = path.join(folder, 'map.txt');
    writeFileSync(file, 'old');
    await writeWhole(file, 'new');
    expect(readFileSync(file, 'utf8')).toBe('new');
    expect(readdirSync(folder)).toEqual(['map.txt']);
  });

  it('is written where a link leads, which stays a link', async () => {
    const [file, link] = [path.join(folder, 'map.txt'), path.join(folder, 'link.txt')];
    symlinkSync(file, link);
    await writeWhole(link, 'through');
    expect(lstatSync(link).isSymbolicLink()).toBe(true);
    expect(readFileSync(file, 'utf8')).toBe('through');
  });

  it('leaves a device a device', async () => {
    const link = path.join(folder, 'nothing');
    symlinkSync('/dev/null', link);
    await writeWhole(link, 'gone');
    expect(statSync('/dev/null').isCharacterDevice()).toBe(true);
  });

  it('is not there where it could not be written', async () => {
    await expect(writeWhole(path.join(folder, 'missing', 'map.txt'), 'x')).rejects.toMatchObject({ code: 'ENOENT' });
  });
});
