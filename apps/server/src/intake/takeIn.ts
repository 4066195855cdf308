import type { EntityManager, DataSource } from 'typeorm';
import { ZographosError, type ErrorCode } from '@zographos/core/errors';
import { imageFormatOf } from '@zographos/formats/images';
import { meshFormatOf } from '@zographos/formats/meshes';
import type { IntakeResult } from '@zographos/contracts';
import type { BlobStore, StoredBlob } from '../blobs/blobStore.ts';
import type { Config } from '../config.ts';
import { assets, type AssetRow } from '../data/entities.ts';
import { insertRevision, type NewRevision } from '../meshes/meshRevisions.ts';
import { readAssets } from '../data/readProject.ts';
import { readOnThread } from './intakeDesk.ts';
import type { ReadObject } from './intakeThread.ts';

export interface IncomingFile {
  name: string;
  blob: StoredBlob;
}

interface Services {
  database: DataSource;
  blobs: BlobStore;
  config: Config;
}

/** Files that others refer to and that are nothing by themselves. */
const COMPANIONS = /\.(mtl|bin)$/i;

/**
 * Turns stored files into meshes and images of a project. A file brought in again under the same name makes
 * new revisions of what it held before. One bad file does not keep out the others.
 */
export async function takeIn(services: Services, projectId: string, incoming: IncomingFile[]): Promise<IntakeResult> {
  const { files, failures } = await unfoldArchives(services, incoming);
  const companions = files.filter((file) => COMPANIONS.test(file.name));
  // Pictures are brought in for themselves, and as what materials name.
  const besides = files.filter((file) => COMPANIONS.test(file.name) || imageFormatOf(file.name));
  const taken: string[] = [];
  for (const file of files) {
    if (companions.includes(file)) continue;
    try {
      taken.push(...(await takeInFile(services, projectId, file, besides)));
    } catch (error) {
      failures.push(failureOf(file.name, error));
    }
  }
  const all = await readAssets(services.database, projectId);
  return { assets: all.filter((asset) => taken.includes(asset.id)), failures };
}

function failureOf(file: string, error: unknown): IntakeResult['failures'][number] {
  if (error instanceof ZographosError) return { file, code: error.code, message: error.message };
  throw error;
}

async function unfoldArchives(
  { blobs, config }: Services,
  incoming: IncomingFile[],
): Promise<{ files: IncomingFile[]; failures: IntakeResult['failures'] }> {
  const files: IncomingFile[] = [];
  const failures: IntakeResult['failures'] = [];
  for (const file of incoming) {
    if (!/\.zip$/i.test(file.name)) {
      files.push(file);
      continue;
    }
    try {
      const bytes = await blobs.readBytes(file.blob.hash);
      const { maxExpandedBytes } = config;
      const archive = await readOnThread({ kind: 'archive', name: file.name, bytes, maxExpandedBytes });
      for (const entry of archive.files) files.push({ name: entry.name, blob: await blobs.writeBytes(entry.bytes) });
    } catch (error) {
      failures.push(failureOf(file.name, error));
    }
  }
  return { files, failures };
}

async function takeInFile(
  services: Services,
  projectId: string,
  file: IncomingFile,
  companions: IncomingFile[],
): Promise<string[]> {
  const { database, blobs, config } = services;
  const { limits } = config;
  requirePlainNames(file.name, [file.name]);
  const revision = { fileName: file.name, originalHash: file.blob.hash, made: `Imported from ${file.name}` };
  if (meshFormatOf(file.name)) {
    const beside: Record<string, Uint8Array> = {};
    for (const companion of companions) beside[companion.name] = await blobs.readBytes(companion.blob.hash);
    const bytes = await blobs.readBytes(file.blob.hash);
    const { objects } = await readOnThread({ kind: 'mesh', name: file.name, bytes, companions: beside, limits });
    for (const { name, inspection } of objects) {
      requirePlainNames(file.name, [name, ...inspection.slots, ...inspection.uvSets]);
    }
    const stored: { object: ReadObject; content: StoredBlob }[] = [];
    for (const object of objects) stored.push({ object, content: await blobs.writeBytes(object.packed) });
    return database.transaction(async (manager) => {
      const ids: string[] = [];
      const used = new Map<string, number>();
      for (const { object, content } of stored) {
        // Two objects of one name stay two: the second and later are told apart by a number.
        const count = (used.get(object.name) ?? 0) + 1;
        used.set(object.name, count);
        const objectName = count === 1 ? object.name : `${object.name} (${count})`;
        ids.push(
          await addRevision(
            manager,
            projectId,
            { ...NOT_AN_IMAGE, kind: 'mesh', name: objectName, unit: object.unit ?? 'units' },
            { ...revision, objectName, contentHash: content.hash, thumbnailHash: null, inspection: object.inspection },
          ),
        );
      }
      return ids;
    });
  }
  if (imageFormatOf(file.name)) {
    const bytes = await blobs.readBytes(file.blob.hash);
    const { inspection, thumbnail } = await readOnThread({ kind: 'image', name: file.name, bytes, limits });
    const { kind: imageKind, colorSpace, convention = null } = inspection.guess;
    const thumbnailHash = (await blobs.writeBytes(thumbnail)).hash;
    return database.transaction(async (manager) => [
      await addRevision(
        manager,
        projectId,
        { kind: 'image', name: file.name.replace(/\.[^.]*$/, ''), unit: null, imageKind, colorSpace, convention },
        { ...revision, objectName: null, contentHash: file.blob.hash, thumbnailHash, inspection },
      ),
    ]);
  }
  throw new ZographosError(
    'input/wrong-file-type' satisfies ErrorCode,
    `“${file.name}” is neither a mesh nor an image known here. Use OBJ, glTF, GLB, PLY, STL, PNG, JPEG, TIFF, EXR, HDR, TGA, WebP, or a ZIP of these.`,
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

type NewAsset = Pick<AssetRow, 'kind' | 'name' | 'unit' | 'imageKind' | 'colorSpace' | 'convention'>;

const NOT_AN_IMAGE = { imageKind: null, colorSpace: null, convention: null };

/** Adds a revision to the asset that came from the same file and object, or makes a new asset. */
async function addRevision(
  manager: EntityManager,
  projectId: string,
  asset: NewAsset,
  revision: NewRevision,
): Promise<string> {
  const [known] = await manager.query<{ assetId: string; number: number; contentHash: string }[]>(
    `SELECT r."assetId", r.number, r."contentHash" FROM asset_revision r JOIN asset a ON a.id = r."assetId"
       WHERE a."projectId" = $1 AND a.kind = $2 AND r."fileName" = $3 AND r."objectName" IS NOT DISTINCT FROM $4
       ORDER BY r.number DESC LIMIT 1`,
    [projectId, asset.kind, revision.fileName, revision.objectName],
  );
  if (known?.contentHash === revision.contentHash) return known.assetId;
  const assetId = known?.assetId ?? (await manager.getRepository(assets).save({ projectId, ...asset })).id;
  await insertRevision(manager, assetId, known?.number ?? 0, revision);
  return assetId;
}
