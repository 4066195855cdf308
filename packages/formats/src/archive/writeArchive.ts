import { Readable } from 'node:stream';
import { ZipFile } from 'yazl';

/** Endings of files that are compressed by themselves. */
const PACKED = /\.(png|jpe?g|webp|exr|glb|ora)$/i;

/**
 * Writes a ZIP as it grows, so that no more than one file is held at a time; beyond 4 GiB or 65 535 files it becomes
 * ZIP64 (PKWARE APPNOTE 6.3.10, section 4.3.14).
 * @example
 * const archive = new ArchiveWriter((bytes) => file.write(bytes));
 * await archive.add('bell_normal.png', bytes);
 * await archive.finish();
 */
export class ArchiveWriter {
  private readonly zip = new ZipFile();
  /** Settles once all has been written, or writing has failed. */
  private readonly written: Promise<void>;
  private readonly failures: Error[] = [];

  /** @param write is given the archive, piece by piece, the next when it has taken the one before */
  constructor(write: (bytes: Uint8Array) => Promise<void>) {
    this.written = this.pump(write);
    // Told to whoever adds the next file or finishes.
    this.written.catch((error: unknown) => this.failures.push(error as Error));
    this.zip.on('error', (error) => this.failures.push(error as Error));
  }

  /** @throws what `write` threw, for this file or one before */
  async add(path: string, bytes: Uint8Array): Promise<void> {
    this.throwFailure();
    const stream = Readable.from([bytes], { objectMode: false });
    const taken = new Promise<void>((resolve) => stream.once('close', resolve));
    this.zip.addReadStream(stream, path, { compress: !PACKED.test(path), size: bytes.length });
    await Promise.race([taken, this.written]);
    this.throwFailure();
  }

  async finish(): Promise<void> {
    this.zip.end();
    await this.written;
  }

  private throwFailure(): void {
    const [failure] = this.failures;
    if (failure) throw failure;
  }

  private async pump(write: (bytes: Uint8Array) => Promise<void>): Promise<void> {
    for await (const piece of this.zip.outputStream) await write(piece as Uint8Array);
  }
}
