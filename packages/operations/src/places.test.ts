import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { describe, expect, it } from 'vitest';
import { BAKED_KINDS } from '@zographos/core/image';
import { OPERATIONS } from './registry.ts';

/** Counts the source files that name a kind of map or an operation, so that adding one stays a matter of few places. */
const ROOT = path.resolve(import.meta.dirname, '../../..');
const sources = ['packages', 'apps'].flatMap((group) =>
  readdirSync(path.join(ROOT, group)).flatMap((name) => {
    const folder = path.join(group, name, 'src');
    return readdirSync(path.join(ROOT, folder), { recursive: true, encoding: 'utf8' })
      .filter((file) => /\.(ts|vue)$/.test(file) && !/\.test\.ts$|\/migrations\//.test(file))
      .map((file) => path.join(folder, file));
  }),
);
const texts = new Map(sources.map((file) => [file, readFileSync(path.join(ROOT, file), 'utf8')]));
const naming = (id: string): string[] =>
  sources.filter(
    (file) =>
      new RegExp(`['"]${id}['"]`).test(texts.get(file)!) || new RegExp(`^  ${id}: \\{`, 'm').test(texts.get(file)!),
  );

describe('a kind of map', () => {
  it.each(['thickness', 'facing', 'position'] as const)(
    '%s is made in core/bake and listed in the table alone',
    (kind) => {
      expect(BAKED_KINDS).toContain(kind);
      const made = naming(kind).filter((file) => file.startsWith('packages/core/src/bake/maps/'));
      const listed = naming(kind).filter((file) => file === 'packages/core/src/image/mapKinds.ts');
      expect(listed).toHaveLength(1);
      expect(made.length).toBeLessThanOrEqual(2);
      // Neither contracts, server nor command line know a kind by name unless they do something with that kind alone.
      const elsewhere = naming(kind).filter((file) => /^(packages\/contracts|apps\/(server|cli))/.test(file));
      expect(elsewhere).toEqual([]);
    },
  );
});

describe('an operation', () => {
  it.each(Object.keys(OPERATIONS))('%s: its folder, and one line in the registry', (id) => {
    const folder = `packages/operations/src/${id}/`;
    for (const file of ['settings.ts', 'operation.ts', 'run.ts']) expect(sources).toContain(folder + file);
    const registry = texts.get('packages/operations/src/registry.ts')!;
    expect(registry.match(new RegExp(`from './${id}/operation.ts'`, 'g'))).toHaveLength(1);
  });

  it('contracts name none of them but the one that all meshes and maps turn on', () => {
    const named = Object.keys(OPERATIONS).filter((id) =>
      naming(id).some((file) => file.startsWith('packages/contracts/')),
    );
    expect(named).toEqual(['bake']);
  });
});
