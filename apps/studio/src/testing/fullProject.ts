import { project, type Project } from '@zographos/contracts';
import type { BakedKind, MapConvention, MapKind } from '@zographos/core/image';
import { DEFAULT_BAKE, parseSettings, READY_PROFILES, type BakeReport } from '@zographos/operations';

/** A project in which everything there can be is there once; checked by the contract, so that it is no fiction. */

export const idOf = (number: number): string => `00000000-0000-4000-8000-${String(number).padStart(12, '0')}`;
export const hashOf = (number: number): string => String(number).padStart(64, '0');
const TIME = '2026-05-04T10:20:30.000Z';

export const IDS = {
  project: idOf(1),
  ...{ light: idOf(11), dense: idOf(12), bare: idOf(13), photo: idOf(14) },
  ...{ floatSet: idOf(21), stoneSet: idOf(22), atlasSet: idOf(23) },
  ...{ bake: idOf(31), wear: idOf(32), tile: idOf(33), maps: idOf(34), field: idOf(35) },
  ...{ normalMap: idOf(41), aoMap: idOf(42), curvatureMap: idOf(43), colorMap: idOf(44), heightMap: idOf(45) },
  ...{ atlasMap: idOf(46) },
  ...{ bakeRun: idOf(51), tileRun: idOf(52), atlasRun: idOf(53), deliverRun: idOf(54), layoutRun: idOf(55) },
  ...{ mergeRun: idOf(56), failedRun: idOf(57), queuedRun: idOf(58) },
  profile: idOf(61),
};

const mesh = (id: string, name: string, triangles: number, uvSets: string[], findings: object[] = []) => ({
  ...{ kind: 'mesh', id, name, version: 1, revision: 1, fileName: `${name}.obj`, objectName: name, unit: 'mm' },
  ...{ originalHash: hashOf(triangles), contentHash: hashOf(triangles + 1), createdAt: TIME },
  inspection: {
    ...{ triangles, vertices: triangles / 2, uvSets, slots: ['brass'], hasColors: false, findings },
    ...{ uvTiles: uvSets.map(() => [1001]), bounds: { min: [-10, -5, 0], max: [10, 5, 40] } },
  },
});

const photo = {
  ...{ kind: 'image', id: IDS.photo, name: 'Harbour stone', version: 1, revision: 1, fileName: 'stone.png' },
  ...{ originalHash: hashOf(3), contentHash: hashOf(4), thumbnailHash: hashOf(5), createdAt: TIME },
  ...{ imageKind: 'basecolor', colorSpace: 'srgb', convention: null, packing: null },
  inspection: {
    ...{ format: 'png', width: 1500, height: 1100, channels: 3, bits: 8, findings: [] },
    guess: { kind: 'basecolor', colorSpace: 'srgb', reason: 'from its name' },
  },
};

function textureMap(
  id: string,
  kind: MapKind,
  ticketId: string | null,
  { key = 'k1', runId = IDS.bakeRun, side = 512, isOutdated = false, convention = null as MapConvention | null } = {},
) {
  const channels = ['normal', 'basecolor'].includes(kind) ? 3 : 1;
  return {
    ...{ id, kind, tile: 1001, ticketId, layered: false, isOutdated },
    revisions: [
      {
        ...{ id: idOf(Number(id.slice(-2)) + 100), number: 1, runId, key, width: side, height: side, channels },
        ...{ range: [0, 1], colorSpace: kind === 'basecolor' ? 'srgb' : 'linear', convention },
        ...{ levels: [{ width: side, height: side, columns: 2, rows: 2 }], thumbnailHash: hashOf(6), createdAt: TIME },
        histograms: Array.from({ length: channels }, (_, c) => ({
          ...{ min: 0.1 * c, max: 1, mean: 0.5, bins: Array.from({ length: 256 }, (_, i) => i % 7) },
        })),
      },
    ],
  };
}

const place = { tile: 1001, x: 12, y: 34, texels: 5, part: null, position: [1, 2, 3] };
export const BAKE_REPORT = {
  ...{ rays: 262_144, misses: 12, hitsFromBehind: 0, layout: 'abc', takenOver: 0 },
  texels: { covered: 200_000, missed: 40, overlapping: 0 },
  hitDistances: Array.from({ length: 64 }, (_, i) => i),
  ...{ reach: { out: 2, in: 1 }, peakMemoryBytes: 123_000_000, noise: 0.012 },
  seconds: { load: 0.1, build: 0.2, trace: 1.5, pad: 0.1, encode: 0.3, total: 2.2 },
  legend: [{ name: 'brass', color: [1, 0.5, 0] }],
  seams: {
    normal: { mean: 0.01, worst: 0.2, before: null },
    ao: { mean: 0.03, worst: 0.1, before: 0.05 },
  },
  likeness: [{ from: [0, 0, 1], ssim: 0.91 }],
  findings: [
    {
      ...{ kind: 'missed', severity: 'warning', sentence: 'No ray hit the source at 40 texels.', places: [place] },
      remedy: { label: 'Double the reach', change: { reach: { out: 4, in: 2 } } },
    },
    {
      ...{ kind: 'islands', severity: 'note', sentence: 'Islands are close.', places: [] },
      remedy: { label: 'Open the layout', change: {}, room: 'uv' },
    },
  ],
} as unknown as BakeReport;

const run = (id: string, operation: string, more: object) => ({
  ...{ id, operation, ticketId: null, title: null, meshes: [], key: 'k1', sentence: `A run of ${operation}.` },
  ...{ state: 'done', stage: null, share: 1, secondsLeft: null, note: null, previewVersion: 0, attempts: 1 },
  ...{ error: null, createdAt: TIME, startedAt: TIME, finishedAt: TIME, report: null },
  ...more,
});

const cost = (drawCalls: number) => ({
  drawCalls,
  objects: drawCalls,
  materials: drawCalls,
  images: 2,
  textureBytes: 4096,
});

const RUNS = [
  run(IDS.queuedRun, 'bake', { ticketId: IDS.wear, state: 'queued', share: 0, key: 'k2' }),
  run(IDS.bakeRun, 'bake', { ticketId: IDS.bake, report: BAKE_REPORT }),
  run(IDS.tileRun, 'seamless', {
    ticketId: IDS.tile,
    report: {
      seams: { basecolor: { across: 1.02, up: 0.98 } },
      repetition: { of: 'basecolor', likeness: 0.2, shift: [3, 4], telltales: [] },
      seconds: 1.5,
    },
  }),
  run(IDS.atlasRun, 'atlas', {
    title: 'Quay atlas',
    report: { places: [{ x: 0, y: 0, width: 512, height: 512 }], maps: ['normal', 'ao'], neutral: [], seconds: 0.5 },
  }),
  run(IDS.deliverRun, 'deliver', {
    title: 'glTF 2.0',
    report: { files: 3, bytes: 2_000_000, archive: hashOf(9), notes: [], seconds: 0.7 },
  }),
  run(IDS.layoutRun, 'layout', {
    meshes: [IDS.light],
    report: { coverage: 0.61, scale: 12, islands: 9, seconds: 3 },
  }),
  run(IDS.mergeRun, 'merge', { title: 'Merged', report: { before: cost(3), after: cost(1), seconds: 0.2 } }),
  run(IDS.failedRun, 'bake', {
    ...{ ticketId: IDS.wear, state: 'failed', key: 'k0', report: null },
    error: { code: 'input/no-uvs', message: '“Float light” has no UVs.' },
  }),
];

const bakeTicket = (id: string, name: string, maps: readonly BakedKind[], key: string) => ({
  ...{ id, name, version: 1, operation: 'bake', imageSetId: IDS.floatSet, key, createdAt: TIME },
  settings: { ...DEFAULT_BAKE, maps: [...maps], size: { width: 512, height: 512 } },
  inputs: { receivers: [IDS.light], sources: [IDS.dense] },
});
const flatTicket = (id: string, operation: 'seamless' | 'derive' | 'field', settings: object, pictures: string[]) => ({
  ...{ id, name: `Stone ${operation}`, version: 1, operation, imageSetId: IDS.stoneSet, key: 'k1', createdAt: TIME },
  ...{ settings: parseSettings(operation, settings), inputs: { receivers: [], sources: [], pictures } },
});

/** @param change what is other than usual, by its place in a project */
export function fullProject(change: Partial<Record<keyof Project, unknown>> = {}): Project {
  const set = {
    version: 1,
    uvSet: 0,
    lit: false,
    tiles: [],
    namePattern: '{set}_{map}.{tile}',
    tileWidth: null,
    references: [],
  };
  const picture = { kind: 'basecolor', colorSpace: 'srgb' };
  return project.parse({
    ...{ id: IDS.project, name: 'Slip', version: 1 },
    assets: [
      mesh(
        IDS.light,
        'Float light',
        1200,
        ['UV 1', 'UV 2'],
        [{ kind: 'overlapping-uvs', severity: 'warning', count: 2, sentence: 'Two islands overlap.' }],
      ),
      mesh(IDS.dense, 'Float dense', 90_000, ['UV 1']),
      mesh(
        IDS.bare,
        'Rope',
        640,
        [],
        [{ kind: 'no-uvs', severity: 'error', count: 1, sentence: 'No UVs: it can be a source only.' }],
      ),
      photo,
    ],
    imageSets: [
      {
        ...{ ...set, id: IDS.floatSet, name: 'Float light', receiverId: IDS.light },
        maps: [
          textureMap(IDS.curvatureMap, 'curvature', IDS.wear, { key: 'k1' }),
          textureMap(IDS.normalMap, 'normal', IDS.bake, {
            convention: { of: 'direction', space: 'tangent', y: 'up', axes: 'xyz' },
          }),
          textureMap(IDS.aoMap, 'ao', IDS.bake),
        ],
      },
      {
        ...{ ...set, id: IDS.stoneSet, name: 'Harbour stone', receiverId: null, tileWidth: 1200 },
        maps: [
          textureMap(IDS.colorMap, 'basecolor', IDS.tile, { runId: IDS.tileRun }),
          {
            ...{ id: IDS.heightMap, kind: 'height', tile: 1001, ticketId: IDS.maps, layered: false, isOutdated: false },
            revisions: [],
          },
        ],
      },
      {
        ...{ ...set, id: IDS.atlasSet, name: 'Quay atlas', receiverId: null },
        maps: [textureMap(IDS.atlasMap, 'normal', null, { runId: IDS.atlasRun, isOutdated: true })],
      },
    ],
    tickets: [
      bakeTicket(IDS.bake, 'Float normal', ['normal', 'ao'], 'k1'),
      bakeTicket(IDS.wear, 'Float wear', ['curvature'], 'k2'),
      flatTicket(IDS.tile, 'seamless', { pictures: [picture], size: { width: 512, height: 512 } }, [IDS.photo]),
      flatTicket(IDS.maps, 'derive', { maps: ['height', 'normal'], from: 'color', picture }, [IDS.colorMap]),
      flatTicket(
        IDS.field,
        'field',
        { maps: [{ kind: 'mask' }], layers: [{ kind: 'bricks' }], size: { width: 64, height: 64 } },
        [],
      ),
    ],
    profiles: [{ id: IDS.profile, version: 1, settings: { ...READY_PROFILES[0]!, name: 'Quay profile' } }],
    runs: RUNS,
    ...change,
  });
}
