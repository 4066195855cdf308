import { unzipSync } from 'fflate';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ArchiveWriter } from './writeArchive.ts';

async function archived(files: readonly (readonly [string, Uint8Array])[]): Promise<Uint8Array> {
  const pieces: Uint8Array[] = [];
  const archive = new ArchiveWriter((bytes) => {
    pieces.push(bytes);
    return Promise.resolve();
  });
  for (const [path, bytes] of files) await archive.add(path, bytes);
  await archive.finish();
  return Buffer.concat(pieces);
}

describe('an archive', () => {
  it('gives back every file byte by byte, compressed or not', async () => {
    const files = fc.uniqueArray(
      fc.tuple(fc.stringMatching(/^[a-z]{1,8}\.(png|json|tga)$/), fc.uint8Array({ maxLength: 5000 })),
      {
        selector: ([path]) => path,
        maxLength: 5,
      },
    );
    await fc.assert(
      fc.asyncProperty(files, async (list) => {
        const read = unzipSync(new Uint8Array(await archived(list)));
        expect(Object.keys(read).sort()).toEqual(list.map(([path]) => path).sort());
        for (const [path, bytes] of list) expect(Buffer.compare(read[path]!, bytes)).toBe(0);
      }),
      { numRuns: 30 },
    );
  });

  it('tells whoever adds to it that writing has failed', async () => {
    const archive = new ArchiveWriter(() => Promise.reject(new Error('The disk is full.')));
    await expect(
      (async () => {
        await archive.add('a.json', new Uint8Array(100_000));
        await archive.add('b.json', new Uint8Array(100_000));
        await archive.finish();
      })(),
    ).rejects.toThrow('The disk is full.');
  });
});
