import { createHash } from 'node:crypto';
import { ZographosError } from '@zographos/core/errors';
import { describeKind, exported, isLight, parseBackground, type Image, type MapKind } from '@zographos/core/image';
import { forScreen, type ScreenView } from '@zographos/core/light';
import { FIRST_TILE } from '@zographos/core/uv';
import { encodeImage, encodeOpenRaster, isFloatFormat, type WrittenLayer } from '@zographos/formats/images';
import type { DeliverSettings } from './settings.ts';
import type { Manifest } from './manifest.ts';
import { mapsOf, planDelivery, type SetFacts } from './planDelivery.ts';
import { secondsSince, throwIfCancelled, type Run, type RunSet } from '../runContext.ts';
import type { DeliveryReport } from './report.ts';
import { deliverFile } from './deliverFile.ts';

type Entry = Manifest['files'][number];

/**
 * Makes the files of a delivery one after the other, and last the manifest that names them all.
 * @throws input/bad-settings, input/other-convention, run/cancelled
 */
export const run: Run<DeliverSettings, DeliveryReport> = async (context) => {
  const { settings, sets = [], project = 'delivery', cancelFlag, onProgress, put: send } = context;
  const since = performance.now();
  const { profile } = settings;
  const background = profile.background ? parseBackground(profile.background) : null;
  const plan = planDelivery(profile, project, sets);
  const count = plan.files.length + plan.layered.length + plan.meshes.length;
  const entries: Entry[] = [];
  const next = (note: string): void => {
    throwIfCancelled(cancelFlag);
    onProgress({ stage: 'encode', share: entries.length / count, secondsLeft: null, note });
  };
  const put = async (entry: Omit<Entry, 'sha256' | 'bytes'>, bytes: Uint8Array): Promise<void> => {
    await send({ what: 'file', path: entry.path, bytes });
    entries.push({ ...entry, bytes: bytes.length, sha256: createHash('sha256').update(bytes).digest('hex') });
  };
  for (const planned of plan.files) {
    next(planned.path);
    const set = sets[planned.set]!;
    const kinds = mapsOf(planned.file).filter((kind) => isThere(set, kind, planned.tile));
    const maps = new Map<MapKind, Image>();
    for (const kind of kinds) {
      const { image, states } = await set.load(kind, planned.tile);
      const map = exported(image, states, { background });
      maps.set(kind, isFloatFormat(planned.file.format) ? map : onScreen(kind, map, profile.light));
    }
    const { bytes, entry } = await deliverFile(planned, maps, profile);
    await put({ ...entry, set: set.name, made: madeBy(set, kinds, planned.tile) }, bytes);
  }
  for (const { set: index, tile, path } of plan.layered) {
    next(path);
    await putLayers(sets[index]!, tile, path, profile.light, put);
  }
  const meshes: (string | null)[] = sets.map(() => null);
  if (profile.mesh !== 'none') {
    for (const { set: index, path } of plan.meshes) {
      next(path);
      meshes[index] = path;
      await put({ ...meshEntry(path), set: sets[index]!.name }, await sets[index]!.mesh());
    }
  }
  const manifest: Manifest = {
    zographos: 'delivery',
    version: 2,
    project,
    profile: profile.name,
    made: new Date().toISOString(),
    sets: sets.map(({ name, tileWidth }, i) => ({ name, tileWidth, mesh: meshes[i]! })),
    files: entries,
  };
  const told = Buffer.from(`${JSON.stringify(manifest, null, 2)}\n`);
  await send({ what: 'file', path: 'manifest.json', bytes: told });
  const bytes = entries.reduce((sum, entry) => sum + entry.bytes, told.length);
  return {
    report: { files: entries.length, bytes, archive: '', notes: plan.notes, seconds: secondsSince(since) },
  };
};

/** A map as whole numbers hold it: light through a view transform. */
const onScreen = (kind: MapKind, image: Image, { view, exposure }: ScreenView): Image =>
  isLight(kind) ? forScreen(image, view, exposure) : image;

const isThere = (set: SetFacts, kind: MapKind, tile: number): boolean =>
  set.maps.some((map) => map.kind === kind && map.tile === tile);

const madeBy = (set: RunSet, kinds: readonly MapKind[], tile: number): string[] => [
  ...new Set(kinds.map((kind) => set.madeBy(kind, tile)).filter((sentence) => sentence !== null)),
];

/** Kinds with colour first shown: what is on top is what the file looks like. */
async function putLayers(
  set: RunSet,
  tile: number,
  path: string,
  light: ScreenView,
  put: (entry: Omit<Entry, 'sha256' | 'bytes'>, bytes: Uint8Array) => Promise<void>,
): Promise<void> {
  const kinds = set.maps.filter((map) => map.tile === tile).map(({ kind }) => kind);
  const ordered = [...kinds.filter((kind) => kind !== 'basecolor'), ...kinds.filter((kind) => kind === 'basecolor')];
  const layers: { name: string; image: Image }[] = [];
  for (const kind of ordered)
    layers.push({ name: describeKind(kind).label, image: onScreen(kind, (await set.load(kind, tile)).image, light) });
  const { width, height } = layers[0]!.image;
  const other = layers.find(({ image }) => image.width !== width || image.height !== height);
  if (other) {
    throw new ZographosError(
      'input/bad-settings',
      `The maps of “${set.name}” have several sizes and cannot be layers of one file. Leave the layered file out, or run their tickets at one size.`,
    );
  }
  const top = layers.length - 1;
  const written: WrittenLayer[] = [];
  for (const [i, { name, image }] of layers.entries()) {
    written.push({ name, visible: i === top, png: await encodeImage(image, 'png16') });
  }
  const bytes = await encodeOpenRaster({ width, height }, written);
  const entry = {
    ...{ path, set: set.name, tile, kind: 'layers' as const, format: 'ora', width, height },
    colorSpace: 'srgb' as const,
    channels: [],
    range: [0, 1] as [number, number],
    conventions: {},
  };
  await put({ ...entry, made: madeBy(set, kinds, tile) }, bytes);
}

function meshEntry(path: string): Omit<Entry, 'sha256' | 'bytes' | 'set'> {
  return {
    ...{ path, tile: FIRST_TILE, kind: 'mesh', format: 'glb', width: 0, height: 0, colorSpace: 'linear' },
    ...{ channels: [], range: [0, 1], conventions: {}, made: [] },
  };
}
