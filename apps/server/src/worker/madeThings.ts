import { ArchiveWriter } from '@zographos/formats/archive';
import type { MapKind } from '@zographos/core/image';
import type { BlobStore } from '../blobs/blobStore.ts';
import type { MadeMesh } from '../meshes/meshRevisions.ts';
import { storeMesh } from '../meshes/readyMesh.ts';
import type { PackedMade } from './operationThread.ts';
import { storeMap, type StoredMap } from './storeMap.ts';

/** What a run has made so far: its bytes are stored as they come, and shown once the run has ended. */
export class MadeThings {
  readonly maps: (StoredMap & { kind: MapKind; tile: number })[] = [];
  readonly meshes: (MadeMesh & { name: string })[] = [];
  /** Seconds spent on storing. */
  storingSeconds = 0;
  private archive: { writer: ReturnType<BlobStore['writer']>; zip: ArchiveWriter } | null = null;
  private readonly blobs: BlobStore;

  constructor(blobs: BlobStore) {
    this.blobs = blobs;
  }

  async put(made: PackedMade): Promise<void> {
    const since = performance.now();
    if (made.what === 'map') {
      const { kind, tile } = made;
      this.maps.push({ kind, tile, ...(await storeMap(this.blobs, made)) });
    } else if (made.what === 'mesh') this.meshes.push(await storeMesh(this.blobs, made.mesh));
    else await this.opened().add(made.path, made.bytes);
    this.storingSeconds += (performance.now() - since) / 1000;
  }

  /** Files go into an archive, which goes into the database as it grows. */
  private opened(): ArchiveWriter {
    if (!this.archive) {
      const writer = this.blobs.writer();
      this.archive = { writer, zip: new ArchiveWriter((bytes) => writer.write(bytes)) };
    }
    return this.archive.zip;
  }

  /** Closes the archive, if there is one. @returns its hash and size */
  async finish(): Promise<{ hash: string; size: number } | null> {
    if (!this.archive) return null;
    const { writer, zip } = this.archive;
    await zip.finish();
    return writer.finish();
  }

  /** Half an archive is taken away; other bytes are swept, for nothing refers to them. */
  async discard(): Promise<void> {
    await this.archive?.writer.discard();
  }
}
