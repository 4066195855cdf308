import { proveTile } from '@zographos/core/measure';
import { tileSeam } from '@zographos/core/seamless';
import type { FlatMap } from './flatMap.ts';
import type { FlatReport } from './report.ts';

/** How good flat maps are: what their borders show, and how much they show that they repeat. Told of one after the other. */
export class FlatMeasures {
  private readonly seams: FlatReport['seams'] = {};
  private proved: FlatMap | null = null;

  add(map: FlatMap): void {
    const { kind, image } = map;
    this.seams[kind] = { across: finite(tileSeam(image, 'across')), up: finite(tileSeam(image, 'up')) };
    // It is seen most in the base colour, and is that of the first map where there is none.
    if (!this.proved || kind === 'basecolor') this.proved = map;
  }

  /** @param seconds it took to make them @throws for no map at all */
  report(seconds: number): FlatReport {
    if (!this.proved) throw new Error('A run of flat material has made no map.');
    const { kind, image, picture } = this.proved;
    const { seams, repetition, usual } = proveTile(image, picture?.() ?? null);
    return { seams: this.seams, joins: seams, repetition: { of: kind, ...repetition, usual }, cutouts: null, seconds };
  }
}

const finite = (value: number): number => (Number.isFinite(value) ? value : 1000);
