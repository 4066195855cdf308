import { z } from 'zod';
import type { ScreenView } from '@zographos/core/light';
import {
  asset,
  colorSpace,
  estimate,
  coating,
  finish,
  usedCoating,
  imagePacking,
  imageSet,
  reference,
  mapConvention,
  mapKind,
  meshRevision,
  namePattern,
  profile,
  project,
  projectSummary,
  proof,
  region,
  run,
  shell,
  suggestedReach,
  ticket,
  ticketInputs,
  storage,
  tileOfSet,
  unit,
} from './entities.ts';
import {
  atlasSettings,
  deliverSettings,
  deliveryProfile,
  isFlat,
  isLit,
  lattice,
  layoutSettings,
  meshChange,
  mergeSettings,
  OPERATIONS,
  splitBy,
  strokeRecord,
  TICKET_KINDS,
  tileNumber,
  type FlatKind,
  type LitKind,
  type OperationSettings,
  type SetKind,
  type TicketKind,
} from '@zographos/operations';

/** One call of the HTTP API: the server answers it, the studio makes it, and OpenAPI describes it. */
export interface Endpoint<Body extends z.ZodType = z.ZodType, Response extends z.ZodType = z.ZodType> {
  method: 'get' | 'post' | 'patch' | 'delete';
  /** Path with :parameters. */
  path: string;
  summary: string;
  body: Body;
  response: Response;
}

/**
 * The path of a call with its parameters.
 * @example pathTo(ENDPOINTS.readProject, { id: '…' }) // '/api/projects/…'
 */
export const pathTo = ({ path }: Endpoint, params: Record<string, string>): string =>
  path.replace(/:(\w+)/g, (_, name: string) => encodeURIComponent(params[name]!));

const none = z.undefined();

function endpoint<Body extends z.ZodType, Response extends z.ZodType>(
  method: Endpoint['method'],
  path: string,
  summary: string,
  body: Body,
  response: Response,
): Endpoint<Body, Response> {
  return { method, path, summary, body, response };
}

const name = z.string().trim().min(1, 'A name needs at least one character.').max(120);
const version = z.int().positive();
const uvSet = z.int().min(0).max(63);
/** The content that a change was made on; it is refused on any other. */
const contentHash = z.string().regex(/^[0-9a-f]{64}$/);

/** The set that a ticket fills: one that is there, or a new one of a name. */
const knownSet = z.strictObject({ id: z.uuid() });
const newOrKnownSet = z.union([knownSet, z.strictObject({ name })]);

type NewTicketOf<Kind extends TicketKind> = {
  name: string;
  operation: Kind;
  settings: OperationSettings[Kind];
  inputs: z.infer<typeof ticketInputs>;
} & (Kind extends FlatKind | LitKind
  ? { set: z.infer<typeof newOrKnownSet> }
  : Kind extends SetKind
    ? { set: z.infer<typeof knownSet> }
    : unknown);

export type NewTicket = { [Kind in TicketKind]: NewTicketOf<Kind> }[TicketKind];

const newTicketOf = (kind: TicketKind) => {
  const { settings, ticket } = OPERATIONS[kind];
  const set = isFlat(kind) || isLit(kind) ? { set: newOrKnownSet } : ticket === 'set' ? { set: knownSet } : {};
  return z.strictObject({ name, operation: z.literal(kind), settings, inputs: ticketInputs, ...set });
};

// A union over the registry, whose members the compiler cannot see.
export const newTicket = z.discriminatedUnion('operation', [
  newTicketOf(TICKET_KINDS[0]),
  ...TICKET_KINDS.slice(1).map(newTicketOf),
]) as unknown as z.ZodType<NewTicket>;

const tags = z.array(z.string().trim().min(1).max(40)).max(20);

export const ENDPOINTS = {
  health: endpoint(
    'get',
    '/api/health',
    'Whether the database answers, and whether a worker is there',
    none,
    z.object({ database: z.boolean(), worker: z.boolean() }),
  ),
  readSession: endpoint(
    'get',
    '/api/session',
    'Whether this server asks for a passphrase, and whether it was given',
    none,
    z.object({ isNeeded: z.boolean(), isIn: z.boolean() }),
  ),
  signIn: endpoint(
    'post',
    '/api/session',
    'Begins a session; its token is set as a cookie. It ends 12 hours after its last use, and after 7 days',
    z.strictObject({ passphrase: z.string().min(1, 'Type the passphrase.').max(1000) }),
    none,
  ),
  signOut: endpoint('delete', '/api/session', 'Ends the session', none, none),
  readStorage: endpoint('get', '/api/storage', 'How many bytes are stored, by what and for whom', none, storage),
  listProjects: endpoint('get', '/api/projects', 'All projects, newest first', none, z.array(projectSummary)),
  createProject: endpoint('post', '/api/projects', 'Makes an empty project', z.strictObject({ name }), projectSummary),
  createDemo: endpoint('post', '/api/projects/demo', 'Makes a project with the demo data', none, projectSummary),
  readProject: endpoint('get', '/api/projects/:id', 'A project with all it holds', none, project),
  changeProject: endpoint(
    'patch',
    '/api/projects/:id',
    'Renames a project',
    z.strictObject({ version, name }),
    projectSummary,
  ),
  deleteProject: endpoint('delete', '/api/projects/:id', 'Deletes a project with all it holds', none, none),
  changeAsset: endpoint(
    'patch',
    '/api/assets/:id',
    'Renames a mesh or image, or corrects its unit, kind, colour space, convention, or what its channels hold',
    z.strictObject({
      version,
      name: name.optional(),
      unit: unit.optional(),
      imageKind: mapKind.optional(),
      colorSpace: colorSpace.optional(),
      convention: mapConvention.nullable().optional(),
      packing: imagePacking.nullable().optional(),
    }),
    asset,
  ),
  deleteAsset: endpoint('delete', '/api/assets/:id', 'Removes a mesh or image that no ticket uses', none, none),
  createTicket: endpoint('post', '/api/projects/:id/tickets', 'Makes a ticket', newTicket, ticket),
  changeTicket: endpoint(
    'patch',
    '/api/tickets/:id',
    'Changes a ticket',
    z.strictObject({
      version,
      name: name.optional(),
      /** Checked against those of its operation. */
      settings: z.record(z.string(), z.unknown()).optional(),
      inputs: ticketInputs.optional(),
    }),
    ticket,
  ),
  deleteTicket: endpoint('delete', '/api/tickets/:id', 'Removes a ticket that has made no map', none, none),
  estimateTicket: endpoint('get', '/api/tickets/:id/estimate', 'What a run would cost', none, estimate),
  suggestReach: endpoint('post', '/api/tickets/:id/reach', 'Measures how far rays must reach', none, suggestedReach),
  measureRepeat: endpoint(
    'get',
    '/api/tickets/:id/repeat',
    'Columns and rows of a repeated source on the tile, and how much farther apart rows lie than in the regular grid',
    none,
    lattice.nullable(),
  ),
  runTicket: endpoint('post', '/api/tickets/:id/runs', 'Queues a run; nothing is computed twice', none, run),
  runRegion: endpoint(
    'post',
    '/api/tickets/:id/runs/region',
    'Queues a run of one rectangle; the rest of its tile stays as it is',
    region,
    run,
  ),
  readShell: endpoint('post', '/api/tickets/:id/shell', 'Measures how far rays reach from each vertex', none, shell),
  readProof: endpoint('get', '/api/runs/:id/proof', 'Where a result is good and where it is not', none, proof),
  createLayout: endpoint(
    'post',
    '/api/projects/:id/layouts',
    'Queues a new layout of meshes; it becomes one more UV set of each',
    z.strictObject({
      meshes: z.array(z.uuid()).min(1, 'Choose at least one mesh.').max(1000),
      settings: layoutSettings,
    }),
    run,
  ),
  createMerge: endpoint(
    'post',
    '/api/projects/:id/merges',
    'Queues a merge of materials; it makes a mesh and the ticket of its maps',
    z.strictObject({
      meshes: z.array(z.uuid()).min(1, 'Choose at least one mesh.').max(1000),
      settings: mergeSettings,
    }),
    run,
  ),
  createAtlas: endpoint(
    'post',
    '/api/projects/:id/atlases',
    'Queues an atlas of image sets; made again, it is the next revision of the atlas of its name',
    atlasSettings,
    run,
  ),
  changeMesh: endpoint(
    'post',
    '/api/assets/:id/mesh',
    'Changes a mesh; the result is its next revision',
    z.strictObject({ from: contentHash, change: meshChange }),
    asset,
  ),
  readRevisions: endpoint(
    'get',
    '/api/assets/:id/revisions',
    'All revisions, newest first',
    none,
    z.array(meshRevision),
  ),
  restoreRevision: endpoint(
    'post',
    '/api/assets/:id/restore',
    'Makes the next revision the same as an earlier one',
    z.strictObject({ from: contentHash, to: contentHash }),
    asset,
  ),
  splitMesh: endpoint(
    'post',
    '/api/assets/:id/split',
    'Makes a mesh of each piece; the whole stays',
    z.strictObject({ from: contentHash, how: splitBy }),
    z.array(asset),
  ),
  setTiles: endpoint(
    'post',
    '/api/assets/:id/tiles',
    'Says which UDIM tiles a layout has, and how large each is',
    z.strictObject({
      uvSet,
      tiles: z
        .array(tileOfSet)
        .min(1, 'A layout has at least one tile.')
        .max(1000)
        .refine((tiles) => new Set(tiles.map(({ number }) => number)).size === tiles.length, 'A tile is there once.'),
      namePattern: namePattern.optional(),
      confirmed: z.boolean().default(false),
    }),
    imageSet,
  ),
  renumberTile: endpoint(
    'post',
    '/api/assets/:id/renumber',
    'Gives a UDIM tile another number; its islands and maps go with it',
    z.strictObject({
      from: contentHash,
      uvSet,
      tile: tileNumber,
      to: tileNumber,
      islands: z.array(z.int().min(0)).max(1_000_000),
    }),
    asset,
  ),
  joinMeshes: endpoint(
    'post',
    '/api/projects/:id/join',
    'Makes one mesh of several; they stay',
    z.strictObject({ name, meshes: z.array(z.uuid()).min(2, 'Choose at least two meshes.').max(1000) }),
    asset,
  ),
  renewAtlas: endpoint('post', '/api/runs/:id/again', 'Queues an atlas again, of its sets as they are now', none, run),
  finishRun: endpoint('post', '/api/runs/:id/finish', 'Ends a run with the best it has so far', none, run),
  cancelRun: endpoint('post', '/api/runs/:id/cancel', 'Stops a run', none, run),
  changeImageSet: endpoint(
    'patch',
    '/api/image-sets/:id',
    'Renames an image set, or its files, says how wide its tile is, or pins references to it',
    z.strictObject({
      version,
      name: name.optional(),
      namePattern: namePattern.optional(),
      tileWidth: z.number().positive().max(1e6).nullable().optional(),
      references: z.array(reference).max(64).optional(),
    }),
    imageSet,
  ),
  deleteImageSet: endpoint('delete', '/api/image-sets/:id', 'Removes a flat set with its tickets and maps', none, none),
  createProfile: endpoint('post', '/api/projects/:id/profiles', 'Keeps a delivery profile', deliveryProfile, profile),
  changeProfile: endpoint(
    'patch',
    '/api/profiles/:id',
    'Changes a delivery profile',
    z.strictObject({ version, settings: deliveryProfile }),
    profile,
  ),
  deleteProfile: endpoint('delete', '/api/profiles/:id', 'Removes a delivery profile', none, none),
  createDelivery: endpoint(
    'post',
    '/api/projects/:id/deliveries',
    'Queues a delivery: files packed and named, in a ZIP with a manifest',
    deliverSettings,
    run,
  ),
  listFinishes: endpoint('get', '/api/finishes', 'All finishes, newest first', none, z.array(finish)),
  keepStroke: endpoint(
    'post',
    '/api/projects/:id/strokes',
    'Keeps a stroke that was painted; layers name it by its hash',
    strokeRecord,
    z.object({ hash: contentHash }),
  ),
  keepFinish: endpoint(
    'post',
    '/api/image-sets/:id/finish',
    'Keeps a flat set as it is for re-use',
    z.strictObject({ name, tags, tileWidth: z.number().positive().max(1e6).nullable() }),
    finish,
  ),
  changeFinish: endpoint(
    'patch',
    '/api/finishes/:id',
    'Renames a finish, or tags it',
    z.strictObject({ name: name.optional(), tags: tags.optional() }),
    finish,
  ),
  listCoatings: endpoint('get', '/api/coatings', 'All coatings, newest first', none, z.array(coating)),
  keepCoating: endpoint(
    'post',
    '/api/tickets/:id/coating',
    'Keeps a layer, or a group, with all that it is made of',
    z.strictObject({ layerId: z.string().min(1).max(64), name }),
    coating,
  ),
  deleteCoating: endpoint('delete', '/api/coatings/:id', 'Removes a coating', none, none),
  useCoating: endpoint(
    'post',
    '/api/projects/:id/coatings/:coatingId',
    'Brings what a coating is made of into a project, and tells its layers',
    /** How many images the stack has that it is to be laid into: the coating’s own are numbered on from there. */
    z.strictObject({
      firstPicture: z.int().min(0).max(10_000).default(0),
      firstMaterial: z.int().min(0).max(64).default(0),
    }),
    usedCoating,
  ),
  deleteFinish: endpoint('delete', '/api/finishes/:id', 'Removes a finish', none, none),
  useFinish: endpoint(
    'post',
    '/api/projects/:id/finishes/:finishId',
    'Brings a finish into a project as a flat set, whose first run begins',
    none,
    ticket,
  ),
} as const;

export interface GuideRequest {
  meshes: readonly string[];
  /** The UV set of each. */
  uvSets: readonly number[];
  size: { width: number; height: number };
  tile: number;
  fill: boolean;
  inner: boolean;
  legend: boolean;
  format: 'png' | 'tif' | 'svg' | 'ora' | 'psd';
  /** The image set whose maps lie beneath a layered guide. */
  set?: string | undefined;
}

/**
 * What becomes of files whose name is known, with other content: their objects become the next revisions of what is there
 * (`revise`), or meshes and pictures of their own beside it (`separate`); or they are left out, and told (`ask`).
 */
export const filesQuery = z.object({
  existing: z.enum(['ask', 'revise', 'separate']).default('ask'),
  /** What events of its reading are to be known by. */
  upload: z.uuid().optional(),
});
export type Existing = z.infer<typeof filesQuery>['existing'];

/** Calls whose bodies are not JSON; described here for completeness and made by plain requests. */
export const PATHS = {
  /** POST multipart: mesh and image files, with what they refer to; see `filesQuery`. */
  files: (projectId: string, existing: Existing = 'ask', upload?: string) =>
    `/api/projects/${projectId}/files?existing=${existing}${upload ? `&upload=${upload}` : ''}`,
  /** GET server-sent events. */
  events: (projectId: string) => `/api/projects/${projectId}/events`,
  blob: (hash: string) => `/api/blobs/${hash}`,
  preview: (runId: string, previewVersion: number) => `/api/runs/${runId}/preview?v=${previewVersion}`,
  /** GET the inflated samples of one tile. */
  tile: (revisionId: string, plane: 'map' | 'states', level: number, column: number, row: number) =>
    `/api/map-revisions/${revisionId}/${plane}/${level}/${column}/${row}`,
  /**
   * GET the float samples of a picture or of a map, at most `side` texels wide and high, as light; see `samplesHeader`.
   * @param from what its content is named by, so that another content has another address
   */
  samples: (pictureId: string, from: string, side: number | 'sketch') =>
    `/api/pictures/${pictureId}/samples?side=${side}&from=${from}`,
  /** GET a coating as a file; POST multipart takes one in. */
  coatingFile: (coatingId: string) => `/api/coatings/${coatingId}/file`,
  coatingFiles: '/api/coatings/files',
  /** POST multipart: one OpenRaster or PSD file, whose layers become images; see `layeredFile`. */
  layeredFile: (projectId: string) => `/api/projects/${projectId}/layered-file`,
  /** GET the layers of a ticket with all that they are made of, as a ZIP. */
  stackFile: (ticketId: string) => `/api/tickets/${ticketId}/stack`,
  /** GET what a delivery made, as a ZIP. */
  archive: (runId: string) => `/api/runs/${runId}/archive`,
  /** GET an 8-bit PNG at most `side` texels wide and high. */
  picture: (revisionId: string, side: number) => `/api/map-revisions/${revisionId}/picture?side=${side}`,
  download: (
    revisionId: string,
    format: string,
    dress: { alpha?: boolean; dither?: boolean; background?: string; screen?: ScreenView | null } = {},
  ) =>
    `/api/map-revisions/${revisionId}/download?${new URLSearchParams({
      format,
      ...(dress.alpha ? { alpha: '1' } : {}),
      ...(dress.dither ? { dither: '1' } : {}),
      ...(dress.background ? { background: dress.background } : {}),
      ...(dress.screen ? { view: dress.screen.view, exposure: String(dress.screen.exposure) } : {}),
    }).toString()}`,
  /** GET all light of one tile of an image set, as one OpenEXR with a layer for each map. */
  lightLayers: (imageSetId: string, tile: number, samples: 'float' | 'half') =>
    `/api/image-sets/${imageSetId}/light?tile=${tile}&samples=${samples}`,
  /** GET the source beside the receiver with its maps, as a PNG. */
  likeness: (runId: string) => `/api/runs/${runId}/likeness`,
  ticketFile: (ticketId: string) => `/api/tickets/${ticketId}/file`,
  /** GET meshes as a file; an OBJ comes as a ZIP with its materials and pictures. */
  meshFile: (meshes: readonly string[], format: string) =>
    `/api/mesh-file?${new URLSearchParams({ meshes: meshes.join(), format }).toString()}`,
  /** GET the meshes of an image set as GLB, with its maps as their material. */
  wornMesh: (imageSetId: string, pictures: 'inside' | 'beside') =>
    `/api/mesh-file/worn?${new URLSearchParams({ set: imageSetId, pictures }).toString()}`,
  /** GET a layout as a picture to paint over. */
  guide: ({ meshes, uvSets, size, tile, fill, inner, legend, format, set }: GuideRequest) =>
    `/api/guide?${new URLSearchParams({
      meshes: meshes.join(),
      uvSets: uvSets.join(),
      width: String(size.width),
      height: String(size.height),
      tile: String(tile),
      ...(fill ? { fill: '1' } : {}),
      ...(inner ? { inner: '1' } : {}),
      ...(legend ? { legend: '1' } : {}),
      ...(set ? { set } : {}),
      format,
    }).toString()}`,
  original: (assetId: string) => `/api/assets/${assetId}/original`,
} as const;
