import { createHash } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DataSource } from 'typeorm';
import { mapConvention } from '@zographos/formats/meaning';
import { canonicalJson } from '../../tickets/canonicalJson.ts';
import { emptyDatabase } from '../../testing/testServer.ts';
import { openDatabase } from '../database.ts';
import { MIGRATIONS } from './index.ts';

/** A database as it was before maps said what they mean: its tables made by the migrations of then, rows as they were. */
let database: DataSource;
const ids = new Map<string, string>();

interface Column {
  column_name: string;
  data_type: string;
}

const EMPTY: Record<string, unknown> = {
  text: '',
  jsonb: '{}',
  integer: 1,
  bigint: 1,
  boolean: false,
  bytea: Buffer.alloc(0),
};

/** Puts a row; what must be there and is not told gets an empty value of its type. */
async function put(old: DataSource, name: string, table: string, values: Record<string, unknown>): Promise<void> {
  const needed = await old.query<Column[]>(
    `SELECT column_name, data_type FROM information_schema.columns
     WHERE table_name = $1 AND table_schema = 'public' AND is_nullable = 'NO' AND column_default IS NULL`,
    [table],
  );
  const row: Record<string, unknown> = {};
  for (const { column_name: column, data_type: type } of needed) row[column] = EMPTY[type] ?? null;
  for (const [column, value] of Object.entries(values)) {
    row[column] = typeof value === 'object' && value !== null ? JSON.stringify(value) : value;
  }
  const columns = Object.keys(row);
  const [{ id }] = await old.query<[{ id: string }]>(
    `INSERT INTO "${table}" (${columns.map((column) => `"${column}"`).join(', ')})
     VALUES (${columns.map((_, i) => `$${i + 1}`).join(', ')}) RETURNING id`,
    Object.values(row),
  );
  ids.set(name, id);
}

const FORMER = { maps: ['height'], from: 'color', height: { way: 'light is high', weights: [1] } };
const formerKey = (settings: unknown): string =>
  createHash('sha256')
    .update(canonicalJson({ operation: 'derive', version: 1, settings, inputs: ['aa'], shape: [0, 0, false] }))
    .digest('hex');

beforeAll(async () => {
  const url = await emptyDatabase();
  const old = new DataSource({
    type: 'postgres',
    url,
    migrations: MIGRATIONS.slice(0, 4),
    migrationsTransactionMode: 'all',
  });
  await old.initialize();
  await old.runMigrations();
  const of = (name: string): string => ids.get(name)!;
  await put(old, 'project', 'project', { name: 'Slip' });
  const projectId = of('project');
  await put(old, 'set', 'image_set', { projectId, name: 'Bell', uvSet: 0 });
  const imageSetId = of('set');
  const bake = { maps: ['normal', 'height'], normal: { space: 'tangent', y: 'down', axes: 'xzy' } };
  await put(old, 'bake ticket', 'ticket', { projectId, imageSetId, name: 'Bell', operation: 'bake', settings: bake });
  await put(old, 'derive ticket', 'ticket', {
    projectId,
    imageSetId,
    name: 'Stone',
    operation: 'derive',
    settings: FORMER,
  });
  await put(old, 'bake', 'run', {
    projectId,
    ticketId: of('bake ticket'),
    key: 'b',
    operation: 'bake',
    settings: bake,
    state: 'done',
  });
  await put(old, 'sheet', 'run', {
    projectId,
    key: 's',
    operation: 'sheet',
    sentence: 'Place 2 sets into one sheet of 64 px',
    state: 'done',
  });
  const inputs = { pictures: [{ contentHash: 'aa' }] };
  await put(old, 'derive', 'run', {
    projectId,
    ticketId: of('derive ticket'),
    key: formerKey(FORMER),
    operation: 'derive',
    settings: FORMER,
    inputs,
    state: 'done',
  });
  for (const [kind, runOf, directory] of [
    ['normal', 'bake', {}],
    ['height', 'bake', { range: [-0.1, 0.3] }],
    ['facing', 'bake', {}],
    ['ao', 'derive', {}],
  ] as const) {
    await put(old, kind, 'map', { imageSetId, kind, tile: 1001, ticketId: of(`${runOf} ticket`) });
    await put(old, `${kind} revision`, 'map_revision', {
      mapId: of(kind),
      runId: of(runOf),
      number: 1,
      key: runOf === 'derive' ? formerKey(FORMER) : 'b',
      directory,
    });
  }
  await old.destroy();
  database = await openDatabase(url);
});
afterAll(() => database.destroy());

const one = async (table: string, name: string): Promise<Record<string, unknown>> => {
  const [row] = await database.query<[Record<string, unknown>]>(`SELECT * FROM "${table}" WHERE id = $1`, [
    ids.get(name),
  ]);
  return row;
};
const conventionOf = async (kind: string): Promise<unknown> =>
  ((await one('map_revision', `${kind} revision`))['directory'] as { convention?: unknown }).convention;

describe('a database of before', () => {
  it('gets what its maps mean from the settings of the runs that made them', async () => {
    expect(await conventionOf('normal')).toEqual({ of: 'direction', space: 'tangent', y: 'down', axes: 'xzy' });
    expect(await conventionOf('facing')).toEqual({ of: 'direction', space: 'object', y: 'up', axes: 'xyz' });
    // Of −0.1 to 0.3, the surface itself lies a quarter of the way from black to white.
    const height = mapConvention.parse(await conventionOf('height'));
    expect(height).toMatchObject({ of: 'height', unit: 'mesh' });
    if (height.of === 'height')
      expect([height.mid, height.span].map((value) => value.toFixed(9))).toEqual(['0.250000000', '0.400000000']);
    expect(await conventionOf('ao')).toBeUndefined();
  });

  it('calls atlases so, and has ids in place of prose', async () => {
    expect(await one('run', 'sheet')).toMatchObject({
      operation: 'atlas',
      sentence: 'Place 2 sets into one atlas of 64 px',
    });
    expect(await one('ticket', 'derive ticket')).toMatchObject({ settings: { height: { way: 'light-high' } } });
  });

  it('keeps what is up to date so: keys follow the settings that they are made of', async () => {
    const { key, settings } = await one('run', 'derive');
    expect(settings).toMatchObject({ height: { way: 'light-high' } });
    expect(key).toBe(formerKey(settings));
    expect(await one('map_revision', 'ao revision')).toMatchObject({ key });
    expect(await one('map_revision', 'normal revision')).toMatchObject({ key: 'b' });
  });
});
