import { createHash } from 'node:crypto';
import type { MigrationInterface, QueryRunner } from 'typeorm';
import { canonicalJson } from '../../tickets/canonicalJson.ts';

/**
 * Maps and images carry how they are meant; atlases are called so; ids of settings are no prose any more.
 *
 * What maps mean is written down from the settings of the run that made them, as runs do by themselves from now on.
 */
export class MapMeanings1700000000005 implements MigrationInterface {
  name = 'MapMeanings1700000000005';

  async up(queries: QueryRunner): Promise<void> {
    await queries.query(`ALTER TABLE "asset" ADD "convention" jsonb`);
    await queries.query(`UPDATE "run" SET "operation" = 'atlas' WHERE "operation" = 'sheet'`);
    await queries.query(
      `UPDATE "run" SET "sentence" = replace("sentence", ' into one sheet ', ' into one atlas ') WHERE "operation" = 'atlas'`,
    );
    for (const statement of [...MEANINGS, ...MEANINGS_OF_ATLASES]) await queries.query(statement);
    await renameIds(queries, FORMER_IDS);
  }

  async down(queries: QueryRunner): Promise<void> {
    await renameIds(
      queries,
      FORMER_IDS.map(([former, now]) => [now, former] as const),
    );
    await queries.query(`UPDATE "map_revision" SET "directory" = "directory" - 'convention'`);
    await queries.query(`UPDATE "run" SET "operation" = 'sheet' WHERE "operation" = 'atlas'`);
    await queries.query(`ALTER TABLE "asset" DROP COLUMN "convention"`);
  }
}

/** Bakes wrote directions as their ticket says; face normals and heights have but one way. */
const BAKED_DIRECTIONS = `jsonb_build_object('of', 'direction', 'space', t."settings"->'normal'->'space', 'y', t."settings"->'normal'->'y',
  'axes', coalesce(t."settings"->'normal'->'axes', '"xyz"'))`;

/** The width of black to white, in the unit of a height whose range is known. */
const SPAN = `((r."directory"->'range'->>1)::float8 - (r."directory"->'range'->>0)::float8)`;

const MEANINGS = [
  `UPDATE "map_revision" r SET "directory" = r."directory" || jsonb_build_object('convention', ${BAKED_DIRECTIONS})
     FROM "map" m, "run" t WHERE m."id" = r."mapId" AND t."id" = r."runId" AND t."operation" = 'bake' AND m."kind" IN ('normal', 'bent')`,
  `UPDATE "map_revision" r SET "directory" = r."directory" ||
       '{"convention": {"of": "direction", "space": "object", "y": "up", "axes": "xyz"}}'
     FROM "map" m WHERE m."id" = r."mapId" AND m."kind" = 'facing'`,
  `UPDATE "map_revision" r SET "directory" = r."directory" || jsonb_build_object('convention', jsonb_build_object(
       'of', 'height', 'unit', 'mesh', 'mid', -(r."directory"->'range'->>0)::float8 / ${SPAN}, 'span', ${SPAN}))
     FROM "map" m, "run" t WHERE m."id" = r."mapId" AND t."id" = r."runId" AND t."operation" = 'bake'
       AND m."kind" = 'height' AND r."directory" ? 'range' AND ${SPAN} > 0`,
  `UPDATE "map_revision" r SET "directory" = r."directory" || jsonb_build_object('convention', jsonb_build_object(
       'of', 'direction', 'space', 'tangent', 'y', coalesce(t."settings"->'normal'->'y', '"up"'), 'axes', 'xyz'))
     FROM "map" m, "run" t WHERE m."id" = r."mapId" AND t."id" = r."runId" AND t."operation" = 'derive' AND m."kind" = 'normal'`,
  `UPDATE "map_revision" r SET "directory" = r."directory" || jsonb_build_object('convention', jsonb_build_object(
       'of', 'height', 'unit', 'mm', 'mid', -(r."directory"->'range'->>0)::float8 / ${SPAN}, 'span', ${SPAN}))
     FROM "map" m, "run" t WHERE m."id" = r."mapId" AND t."id" = r."runId" AND t."operation" = 'derive'
       AND m."kind" = 'displacement' AND r."directory" ? 'range' AND ${SPAN} > 0`,
];

/** What the texels of an atlas are: those of the maps that its first set had when it was made. */
const OF_FIRST_SET = `(SELECT o."directory"->'convention' FROM "map" n JOIN "map_revision" o ON o."mapId" = n."id"
  WHERE n."imageSetId" = (t."settings"->'sets'->0->>'imageSet')::uuid AND n."kind" = m."kind" AND o."createdAt" <= r."createdAt"
    AND o."directory" ? 'convention'
  ORDER BY o."number" DESC LIMIT 1)`;

const OF_AN_ATLAS = `FROM "map" m, "run" t WHERE m."id" = r."mapId" AND t."id" = r."runId" AND t."operation" = 'atlas'
  AND ${OF_FIRST_SET} IS NOT NULL`;

/** Directions are those of the sets; heights have the range of all sets together. */
const MEANINGS_OF_ATLASES = [
  `UPDATE "map_revision" r SET "directory" = r."directory" || jsonb_build_object('convention', ${OF_FIRST_SET})
     ${OF_AN_ATLAS} AND m."kind" IN ('normal', 'bent', 'facing')`,
  `UPDATE "map_revision" r SET "directory" = r."directory" || jsonb_build_object('convention', ${OF_FIRST_SET} || jsonb_build_object(
       'mid', -(r."directory"->'range'->>0)::float8 / ${SPAN}, 'span', ${SPAN}))
     ${OF_AN_ATLAS} AND m."kind" IN ('height', 'displacement') AND r."directory" ? 'range' AND ${SPAN} > 0`,
];

/** Ids that were prose, and what they are now. */
const FORMER_IDS = [
  ['light is high', 'light-high'],
  ['light is low', 'dark-high'],
  ['band by band', 'by-detail-size'],
  ['gradient noise', 'gradient-noise'],
  ['simplex noise', 'simplex-noise'],
  ['high pass', 'high-pass'],
] as const;

interface Row {
  id: string;
  settings: unknown;
}

/** A run as far as its key is made of it. */
interface RunRow extends Row {
  key: string;
  operation: string;
  inputs: { pictures?: { contentHash: string }[] };
}

/** Flat material is of the first version of its operations, and has neither receivers nor sources nor a cage. */
const keyOf = ({ operation, inputs: { pictures = [] } }: RunRow, settings: unknown): string => {
  const inputs = pictures.map(({ contentHash }) => contentHash);
  const text = canonicalJson({ operation, version: 1, settings, inputs, shape: [0, 0, false] });
  return createHash('sha256').update(text).digest('hex');
};

/** Renames ids in settings; keys that were made of them follow, so that what is fresh stays fresh. */
async function renameIds(queries: QueryRunner, ids: readonly (readonly [from: string, to: string])[]): Promise<void> {
  const flat = `"operation" IN ('seamless', 'derive', 'field')`;
  const renamed = (value: unknown): unknown => {
    if (typeof value === 'string') return ids.find(([from]) => from === value)?.[1] ?? value;
    if (Array.isArray(value)) return value.map(renamed);
    if (value === null || typeof value !== 'object') return value;
    return Object.fromEntries(Object.entries(value).map(([key, inner]) => [key, renamed(inner)]));
  };
  for (const { id, settings } of (await queries.query(`SELECT id, settings FROM ticket WHERE ${flat}`)) as Row[]) {
    await queries.query(`UPDATE ticket SET settings = $2 WHERE id = $1`, [id, JSON.stringify(renamed(settings))]);
  }
  const runs = (await queries.query(`SELECT id, settings, key, operation, inputs FROM run WHERE ${flat}`)) as RunRow[];
  for (const run of runs) {
    const settings = renamed(run.settings);
    const key = keyOf(run, run.settings) === run.key ? keyOf(run, settings) : run.key;
    await queries.query(`UPDATE run SET settings = $2, key = $3 WHERE id = $1`, [
      run.id,
      JSON.stringify(settings),
      key,
    ]);
    if (key !== run.key) await queries.query(`UPDATE map_revision SET key = $2 WHERE key = $1`, [run.key, key]);
  }
}
