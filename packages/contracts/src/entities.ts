import { z } from 'zod';
import { MAP_KIND_IDS } from '@zographos/core/image';
import { colorSpace, imagePacking, mapConvention } from '@zographos/formats/meaning';
import {
  deliveryProfile,
  mapSize,
  OPERATION_KINDS,
  isFlat,
  isLit,
  layer,
  OPERATIONS,
  STAGES,
  TICKET_KINDS,
  tileNumber,
  type FlatKind,
  type LitKind,
  type OperationKind,
  type OperationReports,
  type OperationSettings,
  type SetKind,
  type TicketKind,
} from '@zographos/operations';

/** What travels between server and studio. Identifiers are UUIDs, times ISO 8601, hashes SHA-256 in hex. */

const id = z.uuid();
const hash = z.string().regex(/^[0-9a-f]{64}$/);
const time = z.iso.datetime();
/** Grows with each change; a change must name the version it was made on. */
const version = z.int().positive();
const name = z.string().trim().min(1, 'A name needs at least one character.').max(120);

export const mapKind = z.enum(MAP_KIND_IDS);
export { colorSpace, imagePacking, mapConvention };
export const UNITS = ['mm', 'cm', 'm', 'in', 'units'] as const;
export const unit = z.enum(UNITS);

export const finding = z.object({
  kind: z.string(),
  severity: z.enum(['note', 'warning', 'error']),
  count: z.number(),
  sentence: z.string(),
});

const vector = z.tuple([z.number(), z.number(), z.number()]);

export const meshInspection = z.object({
  triangles: z.number(),
  vertices: z.number(),
  uvSets: z.array(z.string()),
  /** The UDIM tiles that each UV set has islands in. */
  uvTiles: z.array(z.array(z.int())).default([]),
  slots: z.array(z.string()),
  hasColors: z.boolean(),
  bounds: z.object({ min: vector, max: vector }),
  findings: z.array(finding),
});

export const imageInspection = z.object({
  format: z.string(),
  width: z.number(),
  height: z.number(),
  channels: z.number(),
  bits: z.number(),
  guess: z.object({
    kind: mapKind,
    colorSpace,
    convention: mapConvention.optional(),
    packing: imagePacking.optional(),
    reason: z.string(),
  }),
  findings: z.array(z.string()),
});

const assetBase = {
  id,
  name,
  version,
  /** The revision in use; bringing in the same file again makes the next one. */
  revision: z.int().positive(),
  fileName: z.string(),
  originalHash: hash,
  contentHash: hash,
  createdAt: time,
};

export const meshAsset = z.object({
  ...assetBase,
  kind: z.literal('mesh'),
  objectName: z.string(),
  unit,
  inspection: meshInspection,
});

export const imageAsset = z.object({
  ...assetBase,
  kind: z.literal('image'),
  imageKind: mapKind,
  colorSpace,
  /** How its directions or heights are meant; null where that says nothing, or nobody has said. */
  convention: mapConvention.nullable(),
  /** What each of its channels holds, where several maps share it. */
  packing: imagePacking.nullable(),
  thumbnailHash: hash,
  inspection: imageInspection,
});

export const asset = z.discriminatedUnion('kind', [meshAsset, imageAsset]);

export const ticketInputs = z.object({
  /** None for flat material. */
  receivers: z.array(id),
  sources: z.array(id),
  cage: id.optional(),
  /** An image. */
  mask: id.optional(),
  /** Images that lie on the sources; of flat material and layers, images or maps of image sets. */
  pictures: z.array(id).max(2000).optional(),
});

const ticketBase = {
  id,
  name,
  version,
  inputs: ticketInputs,
  imageSetId: id,
  /** The key a run would have now, or null while an input is missing. */
  key: z.string().nullable(),
  createdAt: time,
};

/** A ticket of one operation. */
export type TicketOf<Kind extends TicketKind> = z.infer<z.ZodObject<typeof ticketBase>> & {
  operation: Kind;
  settings: OperationSettings[Kind];
};
export type Ticket = { [Kind in TicketKind]: TicketOf<Kind> }[TicketKind];
export type BakeTicket = TicketOf<'bake'>;
/** A ticket that lies on an image set which is there: layers. */
export type LayersTicket = TicketOf<SetKind>;
/** A ticket that shows meshes in light. */
export type LightTicket = TicketOf<LitKind>;
export type FlatTicket = { [Kind in FlatKind]: TicketOf<Kind> }[FlatKind];

const ticketOf = (kind: TicketKind) =>
  z.object({ ...ticketBase, operation: z.literal(kind), settings: OPERATIONS[kind].settings });

// A union over the registry, whose members the compiler cannot see.
export const ticket = z.discriminatedUnion('operation', [
  ticketOf(TICKET_KINDS[0]),
  ...TICKET_KINDS.slice(1).map(ticketOf),
]) as unknown as z.ZodType<Ticket>;

export const histogram = z.object({
  min: z.number(),
  max: z.number(),
  mean: z.number(),
  bins: z.array(z.number()),
});

const tileLevel = z.object({
  width: z.number(),
  height: z.number(),
  columns: z.number(),
  rows: z.number(),
});

export const mapRevision = z.object({
  id,
  number: z.int().positive(),
  runId: id,
  key: z.string(),
  width: z.number(),
  height: z.number(),
  channels: z.number(),
  /** The values shown as black and white. */
  range: z.tuple([z.number(), z.number()]),
  colorSpace,
  /** How its directions or heights are meant. */
  convention: mapConvention.nullable(),
  levels: z.array(tileLevel),
  histograms: z.array(histogram),
  thumbnailHash: hash,
  createdAt: time,
});

export const textureMap = z.object({
  id,
  kind: mapKind,
  tile: z.int(),
  /** What makes it; null for a map of an atlas. */
  ticketId: id.nullable(),
  /** Whether layers have made it, over the map of the same kind that was baked or brought in. */
  layered: z.boolean(),
  /** Whether an atlas was made of maps that are others now. */
  isOutdated: z.boolean(),
  /** Newest first; older ones stay. */
  revisions: z.array(mapRevision),
});

/** A tile that an image set was given. */
export const tileOfSet = z.strictObject({ number: tileNumber, ...mapSize.shape });

export const DEFAULT_NAME_PATTERN = '{set}_{map}.{tile}';

/** How files of a set's maps are named; what stands in braces is filled in. */
export const namePattern = z
  .string()
  .trim()
  .min(1, 'A name pattern needs at least one character.')
  .max(120)
  .refine((pattern) => /\{map\}/.test(pattern), 'A name pattern needs {map}, or all maps would get one name.')
  .refine(
    (pattern) => /\{tile\}|\{u\}.*\{v\}/.test(pattern),
    'A name pattern needs {tile}, or {u} and {v}, to tell tiles apart.',
  )
  .refine(
    (pattern) => !/[\\/:*?"<>|]|\.\./.test(pattern.replace(/\{(set|map|tile|u|v)\}/g, '')),
    'A name pattern holds no slashes, colons, quotes, wildcards or double dots.',
  );

/** An image pinned beside the view, on a board whose height is 1. */
export const reference = z.strictObject({
  image: id,
  /** Of its upper left corner, to the right and downwards. */
  x: z.number().min(-1000).max(1000),
  y: z.number().min(-1000).max(1000),
  width: z.number().positive().max(1000),
});

export const imageSet = z.object({
  id,
  name,
  version,
  /** The mesh that carries the maps; null for flat material. */
  receiverId: id.nullable(),
  uvSet: z.int(),
  /** Whether its maps show the mesh in light. */
  lit: z.boolean(),
  tiles: z.array(tileOfSet),
  namePattern: z.string(),
  /** Of a flat set: how wide its tile is in the world, in millimetres. */
  tileWidth: z.number().positive().nullable(),
  references: z.array(reference),
  maps: z.array(textureMap),
});

export const RUN_STATES = ['queued', 'running', 'done', 'failed', 'cancelled'] as const;

const runBase = {
  id,
  /** What it is a run of; null for what is done once. */
  ticketId: id.nullable(),
  /** What a merge or an atlas is called. */
  title: z.string().nullable(),
  /** The meshes that what is done once is done with. */
  meshes: z.array(id),
  key: z.string(),
  sentence: z.string(),
  state: z.enum(RUN_STATES),
  stage: z.enum(STAGES).nullable(),
  share: z.number(),
  secondsLeft: z.number().nullable(),
  note: z.string().nullable(),
  /** Grows as the picture fills; 0 while there is none. */
  previewVersion: z.int(),
  attempts: z.int(),
  error: z.object({ code: z.string(), message: z.string() }).nullable(),
  createdAt: time,
  startedAt: time.nullable(),
  finishedAt: time.nullable(),
};

/** A run of one operation, with its report once it is done. */
export type RunOf<Kind extends OperationKind> = z.infer<z.ZodObject<typeof runBase>> & {
  operation: Kind;
  report: OperationReports[Kind] | null;
};
export type Run = { [Kind in OperationKind]: RunOf<Kind> }[OperationKind];

const runOf = (kind: OperationKind) =>
  z.object({ ...runBase, operation: z.literal(kind), report: OPERATIONS[kind].report.nullable() });

// A union over the registry, whose members the compiler cannot see.
export const run = z.discriminatedUnion('operation', [
  runOf(OPERATION_KINDS[0]),
  ...OPERATION_KINDS.slice(1).map(runOf),
]) as unknown as z.ZodType<Run>;

export const projectSummary = z.object({
  id,
  name,
  version,
  assets: z.number(),
  maps: z.number(),
  createdAt: time,
});

/** How somebody wants materials, kept for a project. */
export const profile = z.object({ id, version, settings: deliveryProfile });

/** A flat set kept for re-use, whatever becomes of the project it was made in. */
export const finish = z.object({
  id,
  name,
  tags: z.array(z.string()),
  tileWidth: z.number().nullable(),
  /** The kinds of maps it has, with a picture of each. */
  maps: z.array(z.object({ kind: mapKind, width: z.int(), height: z.int(), thumbnailHash: hash })),
  createdAt: time,
});

/** A layered file of a paint program, whose layers have become images of a project. */
export const layeredFile = z.object({
  /** Without its ending. */
  name: z.string(),
  /** The lowest first; guides and empty layers are left out. */
  layers: z.array(
    z.object({ image: id, name: z.string(), visible: z.boolean(), opacity: z.number(), blend: z.string() }),
  ),
  /** What of it was not taken over, one sentence each. */
  notes: z.array(z.string()),
});

/** Layers kept with all that they are made of, to be laid on other receivers. */
export const coating = z.object({ id, name, layers: z.int(), createdAt: time });

/**
 * What a coating has become in a project: its layers name materials by their places in the list, and images by those
 * places and the number that was asked to begin with.
 */
export const usedCoating = z.object({
  name,
  layers: z.array(layer),
  /** Images, and flat sets. */
  pictures: z.array(id),
  materials: z.array(id),
});

export const project = z.object({
  id,
  name,
  version,
  assets: z.array(asset),
  imageSets: z.array(imageSet),
  tickets: z.array(ticket),
  profiles: z.array(profile),
  /** Newest first. */
  runs: z.array(run),
});

/** One state of a mesh, newest first in lists. */
export const meshRevision = z.object({
  number: z.int().positive(),
  contentHash: hash,
  /** What made it, in words. */
  made: z.string(),
  uvSets: z.array(z.string()),
  createdAt: time,
});

/** How every failure travels. */
export const apiError = z.object({ code: z.string(), message: z.string() });

export const intakeResult = z.object({
  assets: z.array(asset),
  /** Files that could not be taken in, each with its reason. */
  failures: z.array(z.object({ file: z.string(), code: z.string(), message: z.string() })),
  /** Files that were left out since their objects, by name, are there with other content: to be asked what they are to be. */
  revisions: z.array(z.object({ file: z.string(), names: z.array(z.string()) })),
});

/** How far rays must reach, in mesh units, and whether one reach for all or one fitted to each vertex serves better. */
export const suggestedReach = z.object({
  out: z.number(),
  in: z.number(),
  /** Share of the places measured, 0 to 1, where the source was found at all. */
  found: z.number(),
  better: z.enum(['auto', 'fitted']),
});

export const estimate = z.object({
  rays: z.number(),
  memoryBytes: z.number(),
  memoryLimitBytes: z.number(),
});

/** A rectangle of one tile of a map, in texels from its upper left corner. */
export const region = z.strictObject({
  tile: tileNumber,
  x: z.int().min(0),
  y: z.int().min(0),
  width: z.int().min(1),
  height: z.int().min(1),
});

const place = z.tuple([z.number(), z.number(), z.number()]);

/** What shows how good a run's result is, beside the figures of its report. */
export const proof = z.object({
  /** Where both sides of seams differ, by map. */
  seams: z.record(
    z.string(),
    z.object({
      mean: z.number(),
      worst: z.number(),
      points: z.number(),
      places: z.array(z.object({ difference: z.number(), position: place, tile: z.number(), texel: z.number() })),
      /** x, y, z and difference, again and again. */
      heat: z.array(z.number()),
    }),
  ),
  /** Whether there is a picture of the likeness. */
  hasLikeness: z.boolean(),
});

/** How far rays reach from each vertex of a ticket's receivers, for showing it in space. */
export const shell = z.object({
  receivers: z.array(z.object({ id, out: z.array(z.number()), in: z.array(z.number()) })),
});

/** What the database holds, and how much room its disk has. */
export const storage = z.object({
  totalBytes: z.number(),
  /** What nothing refers to any more; given back within an hour or so. */
  unusedBytes: z.number(),
  uses: z.array(
    z.object({
      projectId: id.nullable(),
      what: z.enum(['meshes', 'pictures', 'maps', 'deliveries', 'finishes', 'coatings', 'strokes']),
      bytes: z.number(),
    }),
  ),
  /** Null where the database is on another machine. */
  disk: z.object({ freeBytes: z.number(), isScarce: z.boolean() }).nullable(),
});

/** What the server tells as it happens. */
export const serverEvent = z.discriminatedUnion('type', [
  /** A run moved on. */
  z.object({
    type: z.literal('progress'),
    projectId: id,
    runId: id,
    stage: z.enum(STAGES).nullable(),
    share: z.number(),
    secondsLeft: z.number().nullable(),
    note: z.string().nullable(),
    previewVersion: z.int(),
  }),
  /** Something of the project changed; read it again. */
  z.object({ type: z.literal('changed'), projectId: id }),
  /** How far the reading of an upload is. */
  z.object({
    type: z.literal('reading'),
    projectId: id,
    upload: id,
    done: z.int(),
    files: z.int(),
    /** Names of those that are read now. */
    now: z.array(z.string()),
  }),
  z.object({ type: z.literal('database'), up: z.boolean() }),
  /** Whether any worker is there that takes runs. */
  z.object({ type: z.literal('worker'), up: z.boolean() }),
  /** Whether the disk of the database is nearly full. */
  z.object({ type: z.literal('disk'), isScarce: z.boolean(), freeBytes: z.number() }),
]);

export type Asset = z.infer<typeof asset>;
export type MeshAsset = z.infer<typeof meshAsset>;
export type ImageAsset = z.infer<typeof imageAsset>;
export type Profile = z.infer<typeof profile>;
export type Finish = z.infer<typeof finish>;
export type Coating = z.infer<typeof coating>;
export type LayeredFileTaken = z.infer<typeof layeredFile>;
export type UsedCoating = z.infer<typeof usedCoating>;
export type TicketInputs = z.infer<typeof ticketInputs>;
export type Reference = z.infer<typeof reference>;
export type ImageSet = z.infer<typeof imageSet>;
export type TileOfSet = z.infer<typeof tileOfSet>;
export type MeshRevision = z.infer<typeof meshRevision>;
export type TextureMap = z.infer<typeof textureMap>;
export type MapRevision = z.infer<typeof mapRevision>;
export type Project = z.infer<typeof project>;
export type ProjectSummary = z.infer<typeof projectSummary>;
export type Proof = z.infer<typeof proof>;
export type Storage = z.infer<typeof storage>;
export type Shell = z.infer<typeof shell>;
export type Region = z.infer<typeof region>;
export type ApiError = z.infer<typeof apiError>;
export type IntakeResult = z.infer<typeof intakeResult>;
export type ServerEvent = z.infer<typeof serverEvent>;
export type Unit = z.infer<typeof unit>;
export type Histogram = z.infer<typeof histogram>;

export const isBakeTicket = (ticket: Ticket): ticket is BakeTicket => ticket.operation === 'bake';
export const isFlatTicket = (ticket: Ticket): ticket is FlatTicket => isFlat(ticket.operation);
export const isLightTicket = (ticket: Ticket): ticket is LightTicket => isLit(ticket.operation);
export const isLayersTicket = (ticket: Ticket): ticket is LayersTicket =>
  !isBakeTicket(ticket) && !isFlatTicket(ticket) && !isLightTicket(ticket);

/** The report of a run, where it is one of an operation and done. @example reportOf(run, 'bake')?.findings */
export const reportOf = <Kind extends OperationKind>(
  run: Run | null | undefined,
  kind: Kind,
): OperationReports[Kind] | null =>
  // Operation and report belong together by the union.
  run?.operation === kind ? (run.report as OperationReports[Kind] | null) : null;

/** The report of a run that has made flat material. */
export const flatReportOf = (run: Run | null | undefined): OperationReports[FlatKind] | null =>
  run && isFlat(run.operation) ? (run.report as OperationReports[FlatKind] | null) : null;
