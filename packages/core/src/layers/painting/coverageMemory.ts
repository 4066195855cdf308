import type { Dabs } from './dabs.ts';

/**
 * What a growing stroke covers so far, block by block, so that each dab is laid down once. It holds no longer than the dabs
 * so far are the same; what it gives is the same to the bit as laying all of them down anew.
 */
export class CoverageMemory {
  private dabs: Dabs | null = null;
  /** By the first texel of a block: how many dabs are in it, and the shares they cover. */
  private readonly blocks = new Map<number, { done: number; share: Float32Array }>();

  /** Goes on with more dabs; what is remembered of others is forgotten. */
  follow(dabs: Dabs): void {
    if (!this.dabs || !beginsWith(dabs, this.dabs)) this.blocks.clear();
    this.dabs = dabs;
  }

  /** @param block its first texel @param out told the shares @returns how many dabs are in them */
  recall(block: number, out: Float32Array): number {
    const known = this.blocks.get(block);
    if (!known) return 0;
    out.set(known.share);
    return known.done;
  }

  keep(block: number, done: number, shares: Float32Array, count: number): void {
    const known = this.blocks.get(block);
    if (known) {
      known.share.set(shares.subarray(0, count));
      known.done = done;
    } else this.blocks.set(block, { done, share: shares.slice(0, count) });
  }
}

function beginsWith(dabs: Dabs, before: Dabs): boolean {
  if (before.count > dabs.count) return false;
  const same = (a: Float32Array, b: Float32Array, width: number): boolean => {
    for (let i = 0; i < before.count * width; i++) if (a[i] !== b[i]) return false;
    return true;
  };
  return (
    same(dabs.centers, before.centers, 3) &&
    same(dabs.normals, before.normals, 3) &&
    same(dabs.radii, before.radii, 1) &&
    same(dabs.strengths, before.strengths, 1) &&
    same(dabs.flows, before.flows, 1)
  );
}
