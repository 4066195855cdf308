// @vitest-environment happy-dom
import path from 'node:path';
import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { ROOMS, router } from './router.ts';

const sources = readdirSync(import.meta.dirname, { recursive: true, encoding: 'utf8' })
  .filter((name) => /\.(vue|ts)$/.test(name) && !/\.test\.ts$|^testing/.test(name))
  .map((name) => ({ name, text: readFileSync(path.join(import.meta.dirname, name), 'utf8') }));

describe('places of the studio', () => {
  it('that a page leads to are there', () => {
    let found = 0;
    for (const { name, text } of sources) {
      for (const [, place] of text.matchAll(/\{ name: '([a-zA-Z]+)'(?:, params|, query| \}">)/g)) {
        found++;
        expect(router.hasRoute(place!), `“${place!}” in ${name}`).toBe(true);
      }
    }
    expect(found).toBeGreaterThan(30);
  });

  it('are the rooms in the order of the work; one without a view leads to the contact sheet', async () => {
    for (const { name, view, path: address } of ROOMS) {
      if (view) expect(router.hasRoute(name)).toBe(true);
      else {
        const { matched } = router.resolve(`/projects/a/${address}`);
        expect(matched.at(-1)!.redirect).toEqual({ name: 'contactSheet' });
      }
    }
    await router.push('/nowhere/at/all');
    expect(router.currentRoute.value.name).toBe('projects');
  });
});
