import { proveTile, type TileProof } from '@zographos/core/measure';
import { tileSeam } from '@zographos/core/seamless';
import type { FlatMap } from './flatMap.ts';
import type { FlatReport } from './report.ts';

/** How good flat maps are: what their borders show, and how much they show that they repeat. Told of one after the other. */
export class FlatMeasures {
  private readonly seams: FlatReport['seams'] = {};
  private proof: { of: FlatMap['kind']; own: TileProof } | null = null;

  add({ kind, image, picture }: FlatMap): void {
    this.seams[kind] = { across: finite(tileSeam(image, 'across')), up: finite(tileSeam(image, 'up')) };
    // It is seen most in the base colour, and is that of the first map where there is none.
    if (!this.proof || kind === 'basecolor') this.proof = { of: kind, own: proveTile(image, picture?.() ?? null) };
  }

  /** @param seconds it took to make them @throws for no map at all */
  report(seconds: number): FlatReport {
    if (!this.proof) throw new Error('A run of flat material has made no map.');
    const { of, own } = this.proof;
    const { seams, repetition, usual } = own;
    return { seams: this.seams, joins: seams, repetition: { of, ...repetition, usual }, seconds };
  }
}

const finite = (value: number): number => (Number.isFinite(value) ? value : 1000);
