import { mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DEFAULT_LIMITS } from '@zographos/formats/meshes';
import { readBeside } from './readBeside.ts';

let root: string;
beforeAll(() => {
  root = mkdtempSync(path.join(os.tmpdir(), 'zographos-beside-'));
  for (const folder of ['kit/pictures', 'kit2']) mkdirSync(path.join(root, folder), { recursive: true });
  for (const file of ['secret.txt', 'kit/bell.gltf', 'kit/bell.bin', 'kit/pictures/rust.png', 'kit2/other.bin']) {
    writeFileSync(path.join(root, file), file);
  }
  symlinkSync(path.join(root, 'secret.txt'), path.join(root, 'kit/link.bin'));
  symlinkSync(path.join(root, 'kit/bell.bin'), path.join(root, 'kit/near.bin'));
});
afterAll(() => rmSync(root, { recursive: true }));

const read = async (part: string, bytes = DEFAULT_LIMITS.bytes): Promise<string | null> => {
  const found = await readBeside(path.join(root, 'kit/bell.gltf'), part, { ...DEFAULT_LIMITS, bytes });
  return found && Buffer.from(found).toString();
};

describe('what a file names', () => {
  it('is read in its folder and below', async () => {
    expect(await read('bell.bin')).toBe('kit/bell.bin');
    expect(await read('pictures/rust.png')).toBe('kit/pictures/rust.png');
    expect(await read('pictures/../bell.bin')).toBe('kit/bell.bin');
    expect(await read('near.bin')).toBe('kit/bell.bin');
  });

  it('is not read anywhere else, by whatever way', async () => {
    for (const part of [
      '../secret.txt',
      '../kit2/other.bin',
      '../../../etc/passwd',
      '/etc/passwd',
      'link.bin',
      '.',
      '..',
      'none.bin',
    ]) {
      expect(await read(part), part).toBeNull();
    }
    expect(await read(path.join(root, 'secret.txt'))).toBeNull();
    expect(await read('bell.bin', 3)).toBeNull();
  });
});
