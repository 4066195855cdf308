/** What a picture may take while settings move, so that ten come in a second. */
export const LIVE_MS = 70;
const MOST = 8;

/**
 * By how much smaller than asked for a picture is made first, so that it follows a slider: found from how long pictures of
 * the same kind of work took, 1 where they come in time as they are.
 */
export class LivePace {
  private readonly divisors = new Map<string, number>();

  /** @param work what takes about the same time each time @returns 1, 2, 4 or 8 */
  divisor(work: string): number {
    return this.divisors.get(work) ?? 1;
  }

  tookInFull(work: string, milliseconds: number): void {
    if (milliseconds <= LIVE_MS || this.divisor(work) > 1) return;
    // Time goes with texels.
    const halvings = Math.ceil(Math.log2(milliseconds / LIVE_MS) / 2);
    this.divisors.set(work, Math.min(MOST, 2 ** halvings));
  }

  tookAsDraft(work: string, milliseconds: number): void {
    const divisor = this.divisor(work);
    if (milliseconds > LIVE_MS) this.divisors.set(work, Math.min(MOST, divisor * 2));
    else if (milliseconds * 4 < LIVE_MS / 1.5) this.divisors.set(work, Math.max(1, divisor / 2));
  }
}
