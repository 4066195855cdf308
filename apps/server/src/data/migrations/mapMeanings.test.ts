import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { gunzipSync } from 'node:zlib';
import pg from 'pg';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ENDPOINTS, PATHS, type Project } from '@zographos/contracts';
import type { MapConvention } from '@zographos/core/image';
import { READY_PROFILES } from '@zographos/operations';
import { emptyDatabase, TestServer } from '../../testing/testServer.ts';
import { WorkerProcess } from '../../testing/workerProcess.ts';

/**
 * `formerDatabase.sql.gz` is a dump of a database as the version before maps said what they mean had left it
 * (`pg_dump --inserts`, comments and SET lines left out): a project of two bakes, Y down and in object space, a picture
 * that was made to tile, maps derived of it, a field, a kept finish, an atlas, a merge with its bake, a layout and a
 * delivery.
 */
const DUMP = path.join(import.meta.dirname, 'formerDatabase.sql.gz');

/** SHA-256 of each map as 16-bit texels, as that version handed them out. */
const TEXELS = [
  ['plane', 'normal', '613795940343'],
  ['plane', 'ao', '56f1f2e72ea0'],
  ['plane', 'height', '018f83bb696e'],
  ['plane', 'coverage', '2befe5590b41'],
  ['board', 'normal', 'b74ceeeef074'],
  ['board', 'bent', '427f1f25f015'],
  ['board', 'facing', '06551ed43de0'],
  ['Stone', 'basecolor', 'b8e849128283'],
  ['Stone', 'height', '1cf4b4a44042'],
  ['Stone', 'normal', '70feebf314f2'],
  ['Stone', 'ao', 'dbf5f635f170'],
  ['Stone', 'displacement', '1cf4b4a44042'],
  ['Net', 'height', 'e4e64db3631a'],
  ['Quay sheet', 'normal', 'd6f4eeb2c4e9'],
  ['Quay sheet', 'height', '863c73a23dec'],
  ['Quay sheet', 'ao', '6a221c450a91'],
  ['Quay sheet', 'coverage', '9e9832a4aeb7'],
  ['pair', 'basecolor', 'f36df4476f6c'],
] as const;

let server: TestServer;
let worker: WorkerProcess;
let project: Project;

beforeAll(async () => {
  const url = await emptyDatabase();
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  await client.query(gunzipSync(readFileSync(DUMP)).toString());
  await client.end();
  server = await TestServer.start({ DATABASE_URL: url });
  worker = await WorkerProcess.start(server.config);
  const [only] = await server.call(ENDPOINTS.listProjects);
  project = await server.call(ENDPOINTS.readProject, { id: only!.id });
});
afterAll(async () => {
  await worker.stop();
  await server.stop();
});

const mapOf = (set: string, kind: string) =>
  project.imageSets.find(({ name }) => name === set)!.maps.find((map) => map.kind === kind)!;
const conventionOf = (set: string, kind: string): MapConvention | null => mapOf(set, kind).revisions[0]!.convention;

describe('a database of the version before', () => {
  it('opens with all that was in it', () => {
    expect(project.imageSets.map(({ name, maps }) => [name, maps.map(({ kind }) => kind).sort()])).toEqual([
      ['plane', ['ao', 'coverage', 'height', 'normal']],
      ['board', ['bent', 'facing', 'normal']],
      ['Stone', ['ao', 'basecolor', 'displacement', 'height', 'normal']],
      ['Net', ['height']],
      ['Quay sheet', ['ao', 'coverage', 'height', 'normal']],
      ['pair', ['basecolor']],
    ]);
    expect(project.runs.every(({ state }) => state === 'done')).toBe(true);
  });

  it('gets what its maps mean from the settings of the runs that made them', () => {
    const tangentDown = { of: 'direction', space: 'tangent', y: 'down', axes: 'xyz' };
    expect(conventionOf('plane', 'normal')).toEqual(tangentDown);
    expect(conventionOf('Stone', 'normal')).toEqual(tangentDown);
    const object = { of: 'direction', space: 'object', y: 'up', axes: 'xzy' };
    expect(conventionOf('board', 'normal')).toEqual(object);
    expect(conventionOf('board', 'bent')).toEqual(object);
    expect(conventionOf('board', 'facing')).toEqual({ ...object, axes: 'xyz' });
    // Atlases are made of the texels of their sets, and mean the same.
    expect(conventionOf('Quay sheet', 'normal')).toEqual(tangentDown);
    for (const [set, unit] of [
      ['plane', 'mesh'],
      ['Quay sheet', 'mesh'],
      ['Stone', 'mm'],
    ] as const) {
      const { revisions } = mapOf(set, unit === 'mm' ? 'displacement' : 'height');
      const { convention, range } = revisions[0]!;
      if (convention?.of !== 'height') throw new Error(`The height of ${set} says nothing.`);
      expect(convention.unit).toBe(unit);
      expect(convention.span).toBeCloseTo(range[1] - range[0], 9);
      expect(convention.mid * convention.span).toBeCloseTo(-range[0], 9);
    }
    expect(conventionOf('plane', 'ao')).toBeNull();
  });

  it('calls atlases so, and has ids in place of prose', () => {
    expect(project.runs.find(({ operation }) => operation === 'atlas')!.sentence).toBe(
      'Place plane into one atlas Quay sheet of 32 px, by hand, with no gutter, each texel as it is.',
    );
    const settingsOf = (name: string) => project.tickets.find((ticket) => ticket.name === name)!.settings;
    expect(settingsOf('Stone maps')).toMatchObject({ height: { way: 'by-detail-size' } });
    expect(settingsOf('Stone tile')).toMatchObject({ adjust: { basecolor: [{ do: 'high-pass' }] } });
    expect(settingsOf('Net')).toMatchObject({ layers: [{ kind: 'simplex-noise' }, { kind: 'gradient-noise' }] });
  });

  it('keeps what is up to date so: keys follow the settings that they are made of', () => {
    for (const { name, maps } of project.imageSets) {
      expect(
        maps.filter(({ isOutdated }) => isOutdated).map(({ kind }) => kind),
        name,
      ).toEqual([]);
    }
    // Of some, what the same settings make has changed since: they are out of date rightly.
    const changedSince = ['bake', 'seamless', 'derive', 'field'];
    for (const { name, key } of project.tickets.filter(({ operation }) => !changedSince.includes(operation))) {
      expect(
        project.runs.some((run) => run.key === key),
        name,
      ).toBe(true);
    }
  });

  it('keeps every texel', async () => {
    for (const [set, kind, hash] of TEXELS) {
      const { id } = mapOf(set, kind).revisions[0]!;
      const png = await (await server.fetch(PATHS.download(id, 'png16'))).arrayBuffer();
      const texels = await sharp(png).raw({ depth: 'ushort' }).toBuffer();
      expect(createHash('sha256').update(texels).digest('hex').slice(0, 12), `${set}, ${kind}`).toBe(hash);
    }
  });

  it('can be worked on: tickets run, sets are delivered, finishes are used', async () => {
    for (const name of ['Tide board normal', 'Stone maps']) {
      const { id } = project.tickets.find((ticket) => ticket.name === name)!;
      const run = await server.call(ENDPOINTS.runTicket, { id });
      expect(await server.ended(project.id, run.id), name).toMatchObject({ state: 'done', error: null });
    }
    const set = project.imageSets.find(({ name }) => name === 'plane')!;
    const delivery = await server.call(
      ENDPOINTS.createDelivery,
      { id: project.id },
      { sets: [set.id], profile: { ...READY_PROFILES[0]!, normalY: 'up' } },
    );
    const done = await server.ended(project.id, delivery.id);
    expect(done).toMatchObject({ state: 'done', error: null });
    const [finish] = await server.call(ENDPOINTS.listFinishes);
    const { id: other } = await server.call(ENDPOINTS.createProject, {}, { name: 'Other' });
    const ticket = await server.call(ENDPOINTS.useFinish, { id: other, finishId: finish!.id });
    const { runs } = await server.call(ENDPOINTS.readProject, { id: other });
    expect(await server.ended(other, runs[0]!.id)).toMatchObject({ state: 'done', key: ticket.key });
  });
});
