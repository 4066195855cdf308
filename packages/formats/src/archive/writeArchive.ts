import { Zip, ZipDeflate, ZipPassThrough } from 'fflate';
import { ZographosError } from '@zographos/core/errors';

/** The plain ZIP format counts bytes in 32 bits. */
const MOST_BYTES = 0xffffffff;

/** Endings of files that are compressed by themselves. */
const PACKED = /\.(png|jpe?g|webp|exr|glb|ora)$/i;

/** Writes a ZIP as it grows, so that no more than one file is held at a time. */
export class ArchiveWriter {
  private readonly zip: Zip;
  private readonly pending: Uint8Array[] = [];
  private readonly write: (bytes: Uint8Array) => Promise<void>;
  private failure: Error | null = null;
  private size = 0;

  /** @param write is given the archive, piece by piece */
  constructor(write: (bytes: Uint8Array) => Promise<void>) {
    this.write = write;
    this.zip = new Zip((error, bytes) => {
      if (error) this.failure = error;
      else this.pending.push(bytes);
    });
  }

  /** @throws limit/archive when it would grow beyond what the format can hold */
  async add(path: string, bytes: Uint8Array): Promise<void> {
    this.size += bytes.length + 2 * path.length + 256;
    if (this.size > MOST_BYTES) {
      throw new ZographosError(
        'limit/archive',
        'The delivery would be larger than the 4 GiB that a ZIP can hold. Deliver fewer sets at a time, or smaller sizes.',
      );
    }
    const file = PACKED.test(path) ? new ZipPassThrough(path) : new ZipDeflate(path, { level: 6 });
    this.zip.add(file);
    file.push(bytes, true);
    await this.flush();
  }

  async finish(): Promise<void> {
    this.zip.end();
    await this.flush();
  }

  private async flush(): Promise<void> {
    if (this.failure) throw this.failure;
    for (const piece of this.pending.splice(0)) await this.write(piece);
  }
}
