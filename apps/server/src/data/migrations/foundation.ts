import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The first tables. */
export class Foundation1700000000001 implements MigrationInterface {
  name = 'Foundation1700000000001';

  async up(queries: QueryRunner): Promise<void> {
    for (const statement of STATEMENTS) await queries.query(statement);
  }

  async down(queries: QueryRunner): Promise<void> {
    for (const table of [...TABLES].reverse()) await queries.query(`DROP TABLE "${table}" CASCADE`);
  }
}

const TABLES = [
  'project',
  'asset',
  'asset_revision',
  'image_set',
  'ticket',
  'map',
  'run',
  'map_revision',
  'blob',
  'blob_chunk',
];

const STATEMENTS = [
  `CREATE TABLE "project" ("id" uuid NOT NULL DEFAULT gen_random_uuid(), "name" text NOT NULL, "version" integer NOT NULL, "createdAt" TIMESTAMP WITH TIME ZONE NOT NULL DEFAULT now(), CONSTRAINT "PK_4d68b1358bb5b766d3e78f32f57" PRIMARY KEY ("id"))`,
  `CREATE TABLE "asset" ("id" uuid NOT NULL DEFAULT gen_random_uuid(), "projectId" uuid NOT NULL, "kind" text NOT NULL, "name" text NOT NULL, "unit" text, "imageKind" text, "colorSpace" text, "version" integer NOT NULL, "createdAt" TIMESTAMP WITH TIME ZONE NOT NULL DEFAULT now(), CONSTRAINT "PK_1209d107fe21482beaea51b745e" PRIMARY KEY ("id"))`,
  `CREATE INDEX "ix_asset_project" ON "asset"  ("projectId")`,
  `CREATE TABLE "asset_revision" ("id" uuid NOT NULL DEFAULT gen_random_uuid(), "assetId" uuid NOT NULL, "number" integer NOT NULL, "fileName" text NOT NULL, "objectName" text, "originalHash" text NOT NULL, "contentHash" text NOT NULL, "thumbnailHash" text, "inspection" jsonb NOT NULL, "createdAt" TIMESTAMP WITH TIME ZONE NOT NULL DEFAULT now(), CONSTRAINT "uq_asset_revision_number" UNIQUE ("assetId", "number"), CONSTRAINT "PK_09e6a8d86a6bd8603bdd9da64ad" PRIMARY KEY ("id"))`,
  `CREATE TABLE "image_set" ("id" uuid NOT NULL DEFAULT gen_random_uuid(), "projectId" uuid NOT NULL, "receiverId" uuid NOT NULL, "uvSet" integer NOT NULL, "name" text NOT NULL, "version" integer NOT NULL, "createdAt" TIMESTAMP WITH TIME ZONE NOT NULL DEFAULT now(), CONSTRAINT "uq_image_set_layout" UNIQUE ("receiverId", "uvSet"), CONSTRAINT "PK_fbf72f03939735708c93374bd9e" PRIMARY KEY ("id"))`,
  `CREATE TABLE "ticket" ("id" uuid NOT NULL DEFAULT gen_random_uuid(), "projectId" uuid NOT NULL, "imageSetId" uuid NOT NULL, "name" text NOT NULL, "operation" text NOT NULL, "settings" jsonb NOT NULL, "inputs" jsonb NOT NULL, "version" integer NOT NULL, "createdAt" TIMESTAMP WITH TIME ZONE NOT NULL DEFAULT now(), CONSTRAINT "PK_d9a0835407701eb86f874474b7c" PRIMARY KEY ("id"))`,
  `CREATE TABLE "map" ("id" uuid NOT NULL DEFAULT gen_random_uuid(), "imageSetId" uuid NOT NULL, "kind" text NOT NULL, "tile" integer NOT NULL, "ticketId" uuid NOT NULL, CONSTRAINT "uq_map_place" UNIQUE ("imageSetId", "kind", "tile"), CONSTRAINT "PK_3b08de72489b3d4471b74516819" PRIMARY KEY ("id"))`,
  `CREATE TABLE "run" ("id" uuid NOT NULL DEFAULT gen_random_uuid(), "projectId" uuid NOT NULL, "ticketId" uuid NOT NULL, "key" text NOT NULL, "operation" text NOT NULL, "settings" jsonb NOT NULL, "inputs" jsonb NOT NULL, "sentence" text NOT NULL, "state" text NOT NULL, "stage" text, "share" double precision NOT NULL DEFAULT '0', "secondsLeft" double precision, "preview" bytea, "previewVersion" integer NOT NULL DEFAULT '0', "attempts" integer NOT NULL DEFAULT '0', "cancelRequested" boolean NOT NULL DEFAULT false, "workerId" text, "leaseUntil" TIMESTAMP WITH TIME ZONE, "report" jsonb, "error" jsonb, "createdAt" TIMESTAMP WITH TIME ZONE NOT NULL DEFAULT now(), "startedAt" TIMESTAMP WITH TIME ZONE, "finishedAt" TIMESTAMP WITH TIME ZONE, CONSTRAINT "PK_804c38ffba92002c6d2c646dd46" PRIMARY KEY ("id"))`,
  `CREATE INDEX "ix_run_state" ON "run"  ("state", "createdAt")`,
  `CREATE TABLE "map_revision" ("id" uuid NOT NULL DEFAULT gen_random_uuid(), "mapId" uuid NOT NULL, "runId" uuid NOT NULL, "number" integer NOT NULL, "key" text NOT NULL, "directory" jsonb NOT NULL, "dataHash" text NOT NULL, "statesDirectory" jsonb NOT NULL, "statesHash" text NOT NULL, "thumbnailHash" text NOT NULL, "histograms" jsonb NOT NULL, "createdAt" TIMESTAMP WITH TIME ZONE NOT NULL DEFAULT now(), CONSTRAINT "uq_map_revision_number" UNIQUE ("mapId", "number"), CONSTRAINT "PK_a4974eb315b6352fe108fd447fb" PRIMARY KEY ("id"))`,
  `CREATE TABLE "blob" ("hash" text NOT NULL, "size" bigint NOT NULL, "createdAt" TIMESTAMP WITH TIME ZONE NOT NULL DEFAULT now(), CONSTRAINT "PK_8dd6ecf895768c50ed394c53277" PRIMARY KEY ("hash"))`,
  `CREATE TABLE "blob_chunk" ("owner" text NOT NULL, "index" integer NOT NULL, "bytes" bytea NOT NULL, CONSTRAINT "PK_3464e33d8a804892d77f233b297" PRIMARY KEY ("owner", "index"))`,
  `ALTER TABLE "asset" ADD CONSTRAINT "fk_asset_project" FOREIGN KEY ("projectId") REFERENCES "project"("id") ON DELETE CASCADE ON UPDATE NO ACTION`,
  `ALTER TABLE "asset_revision" ADD CONSTRAINT "fk_asset_revision_asset" FOREIGN KEY ("assetId") REFERENCES "asset"("id") ON DELETE CASCADE ON UPDATE NO ACTION`,
  `ALTER TABLE "image_set" ADD CONSTRAINT "fk_image_set_project" FOREIGN KEY ("projectId") REFERENCES "project"("id") ON DELETE CASCADE ON UPDATE NO ACTION`,
  `ALTER TABLE "image_set" ADD CONSTRAINT "fk_image_set_receiver" FOREIGN KEY ("receiverId") REFERENCES "asset"("id") ON DELETE CASCADE ON UPDATE NO ACTION`,
  `ALTER TABLE "ticket" ADD CONSTRAINT "fk_ticket_project" FOREIGN KEY ("projectId") REFERENCES "project"("id") ON DELETE CASCADE ON UPDATE NO ACTION`,
  `ALTER TABLE "ticket" ADD CONSTRAINT "fk_ticket_image_set" FOREIGN KEY ("imageSetId") REFERENCES "image_set"("id") ON DELETE CASCADE ON UPDATE NO ACTION`,
  `ALTER TABLE "map" ADD CONSTRAINT "fk_map_image_set" FOREIGN KEY ("imageSetId") REFERENCES "image_set"("id") ON DELETE CASCADE ON UPDATE NO ACTION`,
  `ALTER TABLE "map" ADD CONSTRAINT "fk_map_ticket" FOREIGN KEY ("ticketId") REFERENCES "ticket"("id") ON DELETE CASCADE ON UPDATE NO ACTION`,
  `ALTER TABLE "run" ADD CONSTRAINT "fk_run_project" FOREIGN KEY ("projectId") REFERENCES "project"("id") ON DELETE CASCADE ON UPDATE NO ACTION`,
  `ALTER TABLE "run" ADD CONSTRAINT "fk_run_ticket" FOREIGN KEY ("ticketId") REFERENCES "ticket"("id") ON DELETE CASCADE ON UPDATE NO ACTION`,
  `ALTER TABLE "map_revision" ADD CONSTRAINT "fk_map_revision_map" FOREIGN KEY ("mapId") REFERENCES "map"("id") ON DELETE CASCADE ON UPDATE NO ACTION`,
  `ALTER TABLE "map_revision" ADD CONSTRAINT "fk_map_revision_run" FOREIGN KEY ("runId") REFERENCES "run"("id") ON DELETE CASCADE ON UPDATE NO ACTION`,
  // Blobs are compressed already; trying again would only cost time.
  `ALTER TABLE "blob_chunk" ALTER COLUMN "bytes" SET STORAGE EXTERNAL`,
];
