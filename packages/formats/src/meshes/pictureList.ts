import type { MaterialPicture } from '@zographos/core/mesh';
import type { Companion } from './meshFile.ts';

/** The pictures that a mesh file names, each once. */
export class PictureList {
  readonly pictures: MaterialPicture[] = [];
  /** Names of those that are not there. */
  readonly missing: string[] = [];
  private readonly companion: Companion;
  private readonly known = new Map<string, number | null>();

  constructor(companion: Companion) {
    this.companion = companion;
  }

  /** The number of a picture that lies beside the file, or null if it is not there. */
  async find(name: string): Promise<number | null> {
    const known = this.known.get(name);
    if (known !== undefined) return known;
    const bytes = await this.companion(name);
    if (!bytes) this.missing.push(name);
    const number = bytes ? this.add(name, bytes) : null;
    this.known.set(name, number);
    return number;
  }

  add(name: string, bytes: Uint8Array): number {
    return this.pictures.push({ name, bytes }) - 1;
  }
}
