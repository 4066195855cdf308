import { EntitySchema } from 'typeorm';
import type { ColorSpace, ImageMeaning, ImagePacking, MapConvention, MapKind } from '@zographos/core/image';
import type { MeshInspection } from '@zographos/core/inspection';
import type { SeamError } from '@zographos/core/measure';
import type { ImageInspection } from '@zographos/formats/images';
import type { TileDirectory } from '@zographos/formats/tiles';
import {
  DEFAULT_NAME_PATTERN,
  type Histogram,
  type Reference,
  type Region,
  type TicketInputs,
  type TileOfSet,
  type Unit,
} from '@zographos/contracts';
import type {
  DeliveryProfile,
  FlatKind,
  OperationInputs,
  OperationKind,
  OperationReports,
  OperationSettings,
  Stage,
  TicketKind,
} from '@zographos/operations';

/**
 * The tables. Schemas rather than decorated classes: they work the same compiled and from source, and the
 * rows stay plain objects.
 */

export interface ProjectRow {
  id: string;
  name: string;
  version: number;
  createdAt: Date;
}

export interface AssetRow {
  id: string;
  projectId: string;
  kind: 'mesh' | 'image';
  name: string;
  unit: Unit | null;
  imageKind: MapKind | null;
  colorSpace: ColorSpace | null;
  /** How directions or heights of an image are meant, where that says something. */
  convention: MapConvention | null;
  /** What each channel of an image holds, where several maps share it. */
  packing: ImagePacking | null;
  version: number;
  createdAt: Date;
}

export interface AssetRevisionRow {
  id: string;
  assetId: string;
  number: number;
  fileName: string;
  objectName: string | null;
  /** The file as it came. */
  originalHash: string;
  /** What runs work on: the packed mesh, or the image file itself. */
  contentHash: string;
  thumbnailHash: string | null;
  inspection: MeshInspection | ImageInspection;
  /** What made it, in words. */
  made: string;
  createdAt: Date;
}

export interface ImageSetRow {
  id: string;
  projectId: string;
  /** The mesh that carries the maps; null for flat material. */
  receiverId: string | null;
  uvSet: number;
  /** Whether its maps show the mesh in light: any number of such sets may lie on one layout. */
  lit: boolean;
  name: string;
  /** The tiles it was given, each with its size; beside those that islands or maps are in. */
  tiles: TileOfSet[];
  /** How files of its maps are named. */
  namePattern: string;
  /** Of a flat set: how wide its tile is in the world, in millimetres. */
  tileWidth: number | null;
  /** Images pinned beside the view of its layers. */
  references: Reference[];
  version: number;
  createdAt: Date;
}

export interface MapRow {
  id: string;
  imageSetId: string;
  kind: MapKind;
  tile: number;
  /** The ticket that makes this map; null for one of an atlas. */
  ticketId: string | null;
  /** Whether layers have made it, over the map that was baked or brought in. */
  layered: boolean;
}

export interface MapRevisionRow {
  id: string;
  mapId: string;
  runId: string;
  number: number;
  key: string;
  directory: TileDirectory;
  dataHash: string;
  statesDirectory: TileDirectory;
  statesHash: string;
  thumbnailHash: string;
  histograms: Histogram[];
  createdAt: Date;
}

interface TicketBase<Kind extends TicketKind> {
  id: string;
  projectId: string;
  imageSetId: string;
  name: string;
  operation: Kind;
  settings: OperationSettings[Kind];
  inputs: TicketInputs;
  version: number;
  createdAt: Date;
}

export type BakeTicketRow = TicketBase<'bake'>;
export type FlatTicketRow = { [Kind in FlatKind]: TicketBase<Kind> }[FlatKind];
export type LayersTicketRow = TicketBase<'layers'>;
export type LightTicketRow = TicketBase<'light'>;
export type TicketRow = BakeTicketRow | FlatTicketRow | LayersTicketRow | LightTicketRow;

export interface ProfileRow {
  id: string;
  projectId: string;
  settings: DeliveryProfile;
  version: number;
  createdAt: Date;
}

/** A map of a finish: what a revision of a map holds, by itself. */
export type FinishMap = Pick<
  MapRevisionRow,
  'directory' | 'dataHash' | 'statesDirectory' | 'statesHash' | 'thumbnailHash' | 'histograms'
> & { kind: MapKind };

export interface FinishRow {
  id: string;
  name: string;
  tags: string[];
  tileWidth: number | null;
  maps: FinishMap[];
  createdAt: Date;
}

export interface CoatingRow {
  id: string;
  name: string;
  /** How many layers it has at the top. */
  layers: number;
  /** Of its file. */
  hash: string;
  createdAt: Date;
}

export type RunState = 'queued' | 'running' | 'done' | 'failed' | 'cancelled';

/** An input as a run uses it: fixed by content, whatever happens to the asset later. */
export interface RunInput {
  assetId: string;
  name: string;
  /** The file it came in; left out in runs from before that was kept. */
  file?: string;
  contentHash: string;
  /** Of a map of an image set: the revision that is used. */
  revisionId?: string;
  /** Of an image: how it is meant. */
  meaning?: Pick<ImageMeaning, 'colorSpace' | 'convention'>;
}

interface RunBase<Kind extends OperationKind, TicketId> {
  id: string;
  projectId: string;
  ticketId: TicketId;
  key: string;
  operation: Kind;
  settings: OperationSettings[Kind];
  inputs: OperationInputs<RunInput>;
  /** The ticket's sentence as it was when the run was asked for. */
  sentence: string;
  /** The one rectangle that is baked, if it is not the whole. */
  region: Region | null;
  state: RunState;
  stage: Stage | null;
  share: number;
  secondsLeft: number | null;
  /** What there is to tell beside the share that is done. */
  note: string | null;
  preview: Buffer | null;
  previewVersion: number;
  attempts: number;
  cancelRequested: boolean;
  /** Whether the best so far is enough. */
  finishRequested: boolean;
  /** The worker that holds the run, and until when if it says nothing more. */
  workerId: string | null;
  leaseUntil: Date | null;
  report: OperationReports[Kind] | null;
  /** Where seams differ; too much to be sent along with every run. */
  proof: { seams: Record<string, SeamError> } | null;
  /** The source beside the receiver with its maps, as a PNG. */
  likeness: Buffer | null;
  /** What the next bake of the ticket can take over: compressed JSON. */
  records: Buffer | null;
  error: { code: string; message: string } | null;
  /** Tickets that are run once this run is done, one after the other, for each waits for the maps before it. */
  followedBy: string[];
  createdAt: Date;
  startedAt: Date | null;
  finishedAt: Date | null;
}

/** A run of a ticket makes maps; the others are done once, and make meshes, tickets or image sets. */
export type BakeRunRow = RunBase<'bake', string>;
export type LayoutRunRow = RunBase<'layout', null>;
export type MergeRunRow = RunBase<'merge', null>;
export type AtlasRunRow = RunBase<'atlas', null>;
export type FlatRunRow = { [Kind in FlatKind]: RunBase<Kind, string> }[FlatKind];
export type LayersRunRow = RunBase<'layers', string>;
export type LightRunRow = RunBase<'light', string>;
export type DeliverRunRow = RunBase<'deliver', null>;
/** Runs of tickets. */
export type TicketRunRow = BakeRunRow | FlatRunRow | LayersRunRow | LightRunRow;
export type RunRow = TicketRunRow | LayoutRunRow | MergeRunRow | AtlasRunRow | DeliverRunRow;

export interface SessionRow {
  hash: string;
  createdAt: Date;
  usedAt: Date;
}

/** A stroke that was painted in a project, by the bytes it is kept as. */
export interface StrokeRow {
  projectId: string;
  hash: string;
  createdAt: Date;
}

export interface BlobRow {
  hash: string;
  size: string;
  createdAt: Date;
}

export interface BlobChunkRow {
  owner: string;
  index: number;
  bytes: Buffer;
}

const id = { type: 'uuid', primary: true, generated: 'uuid' } as const;
const uuid = { type: 'uuid' } as const;
const text = { type: 'text' } as const;
const int = { type: 'int' } as const;
const json = { type: 'jsonb' } as const;
const version = { type: 'int', version: true } as const;
const createdAt = { type: 'timestamptz', createDate: true } as const;
const time = { type: 'timestamptz', nullable: true } as const;
const optional = <T extends object>(column: T): T & { nullable: true } => ({ ...column, nullable: true });

/** A column that names a row of another table; rows go when what they belong to goes. */
function belongsTo(table: string, column: string, target: string, onDelete: 'CASCADE' | 'NO ACTION' = 'CASCADE') {
  return {
    columnNames: [column],
    target,
    referencedColumnNames: ['id'],
    name: `fk_${table}_${target}`,
    onDelete,
  };
}

export const projects = new EntitySchema<ProjectRow>({
  name: 'project',
  columns: { id, name: text, version, createdAt },
});

export const assets = new EntitySchema<AssetRow>({
  name: 'asset',
  columns: {
    id,
    projectId: uuid,
    kind: text,
    name: text,
    unit: optional(text),
    imageKind: optional(text),
    colorSpace: optional(text),
    convention: optional(json),
    packing: optional(json),
    version,
    createdAt,
  },
  foreignKeys: [belongsTo('asset', 'projectId', 'project')],
  indices: [{ name: 'ix_asset_project', columns: ['projectId'] }],
});

export const assetRevisions = new EntitySchema<AssetRevisionRow>({
  name: 'asset_revision',
  columns: {
    id,
    assetId: uuid,
    number: int,
    fileName: text,
    objectName: optional(text),
    originalHash: text,
    contentHash: text,
    thumbnailHash: optional(text),
    inspection: json,
    made: text,
    createdAt,
  },
  foreignKeys: [belongsTo('asset_revision', 'assetId', 'asset')],
  uniques: [{ name: 'uq_asset_revision_number', columns: ['assetId', 'number'] }],
});

export const imageSets = new EntitySchema<ImageSetRow>({
  name: 'image_set',
  columns: {
    id,
    projectId: uuid,
    receiverId: optional(uuid),
    uvSet: int,
    lit: { type: 'boolean', default: false },
    name: text,
    tiles: { ...json, default: [] },
    namePattern: { ...text, default: DEFAULT_NAME_PATTERN },
    tileWidth: { type: 'float8', nullable: true },
    references: { ...json, default: [] },
    version,
    createdAt,
  },
  foreignKeys: [
    belongsTo('image_set', 'projectId', 'project'),
    { ...belongsTo('image_set', 'receiverId', 'asset'), name: 'fk_image_set_receiver' },
  ],
  indices: [{ name: 'uq_image_set_layout', columns: ['receiverId', 'uvSet'], unique: true, where: 'NOT lit' }],
});

export const tickets = new EntitySchema<TicketRow>({
  name: 'ticket',
  columns: {
    id,
    projectId: uuid,
    imageSetId: uuid,
    name: text,
    operation: text,
    settings: json,
    inputs: json,
    version,
    createdAt,
  },
  foreignKeys: [belongsTo('ticket', 'projectId', 'project'), belongsTo('ticket', 'imageSetId', 'image_set')],
});

export const maps = new EntitySchema<MapRow>({
  name: 'map',
  columns: {
    id,
    imageSetId: uuid,
    kind: text,
    tile: int,
    ticketId: optional(uuid),
    layered: { type: 'boolean', default: false },
  },
  foreignKeys: [belongsTo('map', 'imageSetId', 'image_set'), belongsTo('map', 'ticketId', 'ticket')],
  uniques: [{ name: 'uq_map_place', columns: ['imageSetId', 'kind', 'tile', 'layered'] }],
});

export const runs = new EntitySchema<RunRow>({
  name: 'run',
  columns: {
    id,
    projectId: uuid,
    ticketId: optional(uuid),
    key: text,
    operation: text,
    settings: json,
    inputs: json,
    sentence: text,
    region: optional(json),
    state: text,
    stage: optional(text),
    share: { type: 'float8', default: 0 },
    secondsLeft: { type: 'float8', nullable: true },
    note: optional(text),
    preview: { type: 'bytea', select: false, nullable: true },
    previewVersion: { type: 'int', default: 0 },
    attempts: { type: 'int', default: 0 },
    cancelRequested: { type: 'boolean', default: false },
    finishRequested: { type: 'boolean', default: false },
    workerId: optional(text),
    leaseUntil: time,
    report: optional(json),
    proof: { type: 'jsonb', select: false, nullable: true },
    likeness: { type: 'bytea', select: false, nullable: true },
    records: { type: 'bytea', select: false, nullable: true },
    error: optional(json),
    followedBy: { ...uuid, array: true, default: [] },
    createdAt,
    startedAt: time,
    finishedAt: time,
  },
  foreignKeys: [belongsTo('run', 'projectId', 'project'), belongsTo('run', 'ticketId', 'ticket')],
  indices: [{ name: 'ix_run_state', columns: ['state', 'createdAt'] }],
});

export const mapRevisions = new EntitySchema<MapRevisionRow>({
  name: 'map_revision',
  columns: {
    id,
    mapId: uuid,
    runId: uuid,
    number: int,
    key: text,
    directory: json,
    dataHash: text,
    statesDirectory: json,
    statesHash: text,
    thumbnailHash: text,
    histograms: json,
    createdAt,
  },
  foreignKeys: [belongsTo('map_revision', 'mapId', 'map'), belongsTo('map_revision', 'runId', 'run')],
  uniques: [{ name: 'uq_map_revision_number', columns: ['mapId', 'number'] }],
});

export const profiles = new EntitySchema<ProfileRow>({
  name: 'delivery_profile',
  columns: { id, projectId: uuid, settings: json, version, createdAt },
  foreignKeys: [belongsTo('delivery_profile', 'projectId', 'project')],
});

export const finishes = new EntitySchema<FinishRow>({
  name: 'finish',
  columns: { id, name: text, tags: json, tileWidth: { type: 'float8', nullable: true }, maps: json, createdAt },
});

export const coatings = new EntitySchema<CoatingRow>({
  name: 'coating',
  columns: { id, name: text, layers: int, hash: text, createdAt },
});

/** Who has given the passphrase; see `access/sessions.ts`. */
export const sessions = new EntitySchema<SessionRow>({
  name: 'session',
  columns: {
    hash: { type: 'text', primary: true, primaryKeyConstraintName: 'pk_session' },
    createdAt,
    usedAt: { ...createdAt, name: 'usedAt' },
  },
});

export const strokes = new EntitySchema<StrokeRow>({
  name: 'stroke',
  columns: {
    projectId: { ...uuid, primary: true, primaryKeyConstraintName: 'pk_stroke' },
    hash: { type: 'text', primary: true, primaryKeyConstraintName: 'pk_stroke' },
    createdAt,
  },
  foreignKeys: [belongsTo('stroke', 'projectId', 'project')],
});

export const blobs = new EntitySchema<BlobRow>({
  name: 'blob',
  columns: { hash: { type: 'text', primary: true }, size: { type: 'bigint' }, createdAt },
});

export const blobChunks = new EntitySchema<BlobChunkRow>({
  name: 'blob_chunk',
  columns: {
    owner: { type: 'text', primary: true },
    index: { type: 'int', primary: true },
    bytes: { type: 'bytea' },
  },
});

export const ENTITIES = [
  projects,
  assets,
  assetRevisions,
  imageSets,
  tickets,
  maps,
  runs,
  mapRevisions,
  profiles,
  finishes,
  coatings,
  sessions,
  strokes,
  blobs,
  blobChunks,
];
