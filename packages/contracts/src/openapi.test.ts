import { describe, expect, it } from 'vitest';
import { z } from 'zod';
import { ENDPOINTS, PATHS } from './endpoints.ts';
import { openApiDocument } from './openapi.ts';

interface Operation {
  summary: string;
  parameters: { name: string; in: string }[];
  requestBody?: { content: Record<string, { schema?: object }> };
  responses: Record<string, { content?: Record<string, { schema: object }> }>;
}
const document = openApiDocument() as { openapi: string; paths: Record<string, Record<string, Operation>> };
const operations = Object.entries(document.paths).flatMap(([path, methods]) =>
  Object.entries(methods).map(([method, operation]) => ({ path, method, operation })),
);
const templateOf = (path: string): string => path.replace(/:(\w+)/g, '{$1}');

describe('the OpenAPI document', () => {
  it('describes every call of the contract, with what it takes and answers', () => {
    for (const [name, { method, path, body, response }] of Object.entries(ENDPOINTS)) {
      const operation = document.paths[templateOf(path)]?.[method];
      expect(operation, name).toBeDefined();
      expect(Boolean(operation!.requestBody), name).toBe(!((body as z.ZodType) instanceof z.ZodUndefined));
      expect(Boolean(operation!.responses['200']!.content), name).toBe(
        !((response as z.ZodType) instanceof z.ZodUndefined),
      );
    }
  });

  it('describes every address that is answered with bytes, with what can be asked', () => {
    const addresses: Record<keyof typeof PATHS, string> = {
      files: PATHS.files('{id}'),
      events: PATHS.events('{id}'),
      blob: PATHS.blob('{hash}'),
      preview: PATHS.preview('{id}', 1),
      tile: PATHS.tile('{id}', '{plane}' as 'map', '{level}' as never, '{column}' as never, '{row}' as never),
      samples: PATHS.samples('{id}', 'a', 64),
      archive: PATHS.archive('{id}'),
      picture: PATHS.picture('{id}', 64),
      download: PATHS.download('{id}', 'png8', {
        ...{ alpha: true, dither: true, background: 'black', screen: { view: 'filmic', exposure: 1 } },
      }),
      likeness: PATHS.likeness('{id}'),
      coatingFile: PATHS.coatingFile('{id}'),
      layeredFile: PATHS.layeredFile('{id}'),
      coatingFiles: PATHS.coatingFiles,
      stackFile: PATHS.stackFile('{id}'),
      ticketFile: PATHS.ticketFile('{id}'),
      meshFile: PATHS.meshFile(['a'], 'glb'),
      wornMesh: PATHS.wornMesh('a', 'inside'),
      guide: PATHS.guide({
        ...{ meshes: ['a'], uvSets: [0], size: { width: 8, height: 8 }, tile: 1001 },
        ...{ fill: true, inner: true, legend: true, format: 'png' },
      }),
      original: PATHS.original('{id}'),
      lightLayers: PATHS.lightLayers('{id}', 1001, 'float'),
    };
    for (const [name, address] of Object.entries(addresses)) {
      const [path, query = ''] = address.split('?');
      const operation =
        document.paths[path!]?.[['files', 'coatingFiles', 'layeredFile'].includes(name) ? 'post' : 'get'];
      expect(operation, name).toBeDefined();
      const asked = operation!.parameters
        .filter((parameter) => parameter.in === 'query')
        .map((parameter) => parameter.name);
      for (const key of new URLSearchParams(query).keys()) expect(asked, name).toContain(key);
    }
  });

  it('names every parameter that stands in a path, and no other', () => {
    for (const { path, operation } of operations) {
      const inPath = [...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => name);
      const named = operation.parameters.filter((parameter) => parameter.in === 'path').map(({ name }) => name);
      expect(named, path).toEqual(inPath);
    }
  });

  it('says of each call what it does, in words of its own', () => {
    const summaries = operations.map(({ operation }) => operation.summary);
    for (const summary of summaries) expect(summary).toMatch(/^[A-Z].*[^.]$/);
    expect(new Set(summaries).size).toBe(summaries.length);
  });

  it('says how each failure looks', () => {
    for (const { path, method, operation } of operations) {
      expect(operation.responses['default']?.content, `${method} ${path}`).toHaveProperty('application/json');
    }
  });
});

describe('the contract', () => {
  it('has one call for each method and path', () => {
    const keys = Object.values(ENDPOINTS).map(({ method, path }) => `${method} ${path.replace(/:\w+/g, ':')}`);
    expect(new Set(keys).size).toBe(keys.length);
  });

  it('takes no field that it does not know', () => {
    for (const [name, { body }] of Object.entries(ENDPOINTS)) {
      if (!((body as z.ZodType) instanceof z.ZodObject)) continue;
      const { error } = (body as z.ZodType).safeParse({ flavour: 'salt' });
      expect(
        error?.issues.some(({ code }) => code === 'unrecognized_keys'),
        name,
      ).toBe(true);
    }
  });

  it('makes names trimmed and short, and refuses empty ones in words', () => {
    const { body } = ENDPOINTS.createProject;
    expect(body.parse({ name: '  Quay ' })).toEqual({ name: 'Quay' });
    expect(body.safeParse({ name: ' \t' }).error?.issues[0]?.message).toBe('A name needs at least one character.');
    expect(body.safeParse({ name: 'q'.repeat(121) }).success).toBe(false);
  });

  it('takes a tile number once for each layout', () => {
    const { body } = ENDPOINTS.setTiles;
    const tile = { number: 1001, width: 64, height: 64 };
    expect(body.safeParse({ uvSet: 0, tiles: [tile] }).success).toBe(true);
    expect(body.safeParse({ uvSet: 0, tiles: [tile, tile] }).error?.issues[0]?.message).toBe('A tile is there once.');
    expect(body.safeParse({ uvSet: 0, tiles: [] }).success).toBe(false);
  });
});
