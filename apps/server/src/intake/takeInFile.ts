import type { EntityManager } from 'typeorm';
import { ZographosError, type ErrorCode } from '@zographos/core/errors';
import { KNOWN_FORMATS } from '@zographos/formats/archive';
import { imageFormatOf } from '@zographos/formats/images';
import { meshFormatOf } from '@zographos/formats/meshes';
import type { Existing } from '@zographos/contracts';
import type { StoredBlob } from '../blobs/blobStore.ts';
import { assets, type AssetRow } from '../data/entities.ts';
import { insertRevision, type NewRevision } from '../meshes/meshRevisions.ts';
import type { Services } from '../services.ts';
import { readOnThread } from './intakeDesk.ts';

export interface IncomingFile {
  name: string;
  blob: StoredBlob;
}

/** What a file became: assets; or those that it would make revisions of, by name, if that is to be asked first. */
export type TakenFile = { assetIds: string[] } | { wouldRevise: string[] };

type NewAsset = Pick<AssetRow, 'kind' | 'name' | 'unit' | 'imageKind' | 'colorSpace' | 'convention' | 'packing'>;

/** One mesh or picture that a file holds. */
interface Part {
  asset: NewAsset;
  revision: NewRevision;
}

const NOT_AN_IMAGE = { imageKind: null, colorSpace: null, convention: null, packing: null };

/**
 * Reads a file and puts what it holds into a project, all of it or nothing.
 * @param companions what it may refer to
 * @param options.at when its meshes and pictures count as made: they are listed in this order
 * @throws ZographosError as the reader says
 */
export async function takeInFile(
  services: Services,
  projectId: string,
  file: IncomingFile,
  companions: readonly IncomingFile[],
  { existing, signal, at }: { existing: Existing; signal?: AbortSignal; at: Date },
): Promise<TakenFile> {
  const parts = await readParts(services, file, companions, signal);
  return services.database.transaction(async (manager) => {
    // One file at a time for each project, so that two that hold the same name do not both find it free.
    await manager.query(`SELECT FROM project WHERE id = $1 FOR UPDATE`, [projectId]);
    const known: (KnownRevision | null)[] = [];
    for (const part of parts) known.push(await knownRevision(manager, projectId, part));
    const changed = parts.filter((part, i) => known[i] && known[i].contentHash !== part.revision.contentHash);
    if (existing === 'ask' && changed.length > 0) return { wouldRevise: changed.map(({ asset }) => asset.name) };
    const assetIds: string[] = [];
    for (const [i, part] of parts.entries()) {
      assetIds.push(await put(manager, projectId, part, known[i]!, { isSeparate: existing === 'separate', at }));
    }
    return { assetIds };
  });
}

async function readParts(
  { blobs, config }: Services,
  file: IncomingFile,
  companions: readonly IncomingFile[],
  signal?: AbortSignal,
): Promise<Part[]> {
  const { limits } = config;
  const { name: fileName } = file;
  requirePlainNames(fileName, [fileName]);
  const revision = { fileName, originalHash: file.blob.hash, made: `Imported from ${fileName}` };
  if (meshFormatOf(fileName)) {
    const beside: Record<string, Uint8Array> = {};
    for (const companion of companions) beside[companion.name] = await blobs.readBytes(companion.blob.hash);
    const bytes = await blobs.readBytes(file.blob.hash);
    const request = { kind: 'mesh', name: fileName, bytes, companions: beside, limits } as const;
    const { objects } = await readOnThread(request, { signal });
    for (const { name, inspection } of objects) {
      requirePlainNames(fileName, [name, ...inspection.slots, ...inspection.uvSets]);
    }
    const parts: Part[] = [];
    const used = new Map<string, number>();
    for (const { name, unit, packed, inspection } of objects) {
      // Two objects of one name stay two: the second and later are told apart by a number.
      const count = (used.get(name) ?? 0) + 1;
      used.set(name, count);
      const objectName = count === 1 ? name : `${name} (${count})`;
      const contentHash = (await blobs.writeBytes(packed)).hash;
      parts.push({
        asset: { ...NOT_AN_IMAGE, kind: 'mesh', name: objectName, unit: unit ?? 'units' },
        revision: { ...revision, objectName, contentHash, thumbnailHash: null, inspection },
      });
    }
    return parts;
  }
  if (imageFormatOf(fileName)) {
    const bytes = await blobs.readBytes(file.blob.hash);
    const { inspection, thumbnail } = await readOnThread({ kind: 'image', name: fileName, bytes, limits }, { signal });
    const { kind: imageKind, colorSpace, convention = null, packing = null } = inspection.guess;
    const thumbnailHash = (await blobs.writeBytes(thumbnail)).hash;
    const meaning = { imageKind, colorSpace, convention, packing };
    return [
      {
        asset: { kind: 'image', name: fileName.replace(/\.[^.]*$/, ''), unit: null, ...meaning },
        revision: { ...revision, objectName: null, contentHash: file.blob.hash, thumbnailHash, inspection },
      },
    ];
  }
  throw new ZographosError(
    'input/wrong-file-type' satisfies ErrorCode,
    `“${fileName}” is neither a mesh nor an image known here. Use ${KNOWN_FORMATS}, or a ZIP of these.`,
  );
}

/**
 * Names are shown, searched and written into files; characters that control something have no place in them, and the
 * database takes no zero.
 * @throws input/unreadable-file
 */
function requirePlainNames(file: string, names: readonly string[]): void {
  // eslint-disable-next-line no-control-regex -- it is these that are looked for
  const control = /[\u0000-\u001f\u007f]/g;
  const odd = names.find((name) => name.search(control) >= 0);
  if (odd === undefined) return;
  throw new ZographosError(
    'input/unreadable-file',
    `“${file.replace(control, '?')}” holds the name “${odd.slice(0, 80).replace(control, '?')}”, which has characters that no text has. It is damaged, or was named so by mistake; rename that and export it again.`,
  );
}

interface KnownRevision {
  assetId: string;
  number: number;
  contentHash: string;
}

/** The newest revision of what came from the same file and object; of several that lie beside each other, one of the same content. */
async function knownRevision(
  manager: EntityManager,
  projectId: string,
  { asset, revision }: Part,
): Promise<KnownRevision | null> {
  const [known] = await manager.query<KnownRevision[]>(
    `SELECT "assetId", number, "contentHash" FROM (
       SELECT DISTINCT ON (r."assetId") r.* FROM asset_revision r JOIN asset a ON a.id = r."assetId"
         WHERE a."projectId" = $1 AND a.kind = $2 ORDER BY r."assetId", r.number DESC
     ) AS newest
       WHERE "fileName" = $3 AND "objectName" IS NOT DISTINCT FROM $4
       ORDER BY ("contentHash" = $5) DESC, "createdAt" DESC LIMIT 1`,
    [projectId, asset.kind, revision.fileName, revision.objectName, revision.contentHash],
  );
  return known ?? null;
}

/** Makes a part the next revision of what is known, or an asset of its own; the same content again changes nothing. */
async function put(
  manager: EntityManager,
  projectId: string,
  { asset, revision }: Part,
  known: KnownRevision | null,
  { isSeparate, at }: { isSeparate: boolean; at: Date },
): Promise<string> {
  if (known?.contentHash === revision.contentHash) return known.assetId;
  if (known && !isSeparate) {
    await insertRevision(manager, known.assetId, known.number, revision);
    return known.assetId;
  }
  const name = known ? await freeName(manager, projectId, asset) : asset.name;
  const { id } = await manager.getRepository(assets).save({ projectId, ...asset, name, createdAt: at });
  await insertRevision(manager, id, 0, revision);
  return id;
}

/** A name that no other mesh or picture of the project has. @example 'hull (2)' */
async function freeName(manager: EntityManager, projectId: string, { kind, name }: NewAsset): Promise<string> {
  const rows = await manager.getRepository(assets).find({ where: { projectId, kind }, select: { name: true } });
  const taken = new Set(rows.map((row) => row.name));
  for (let i = 2; ; i++) if (!taken.has(`${name} (${i})`)) return `${name} (${i})`;
}
