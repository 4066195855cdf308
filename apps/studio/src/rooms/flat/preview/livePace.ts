/** What a picture should take while settings move, and what is too late: ten come in a second. */
const LIVE_MS = 70;
export const LATE_MS = 100;
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
    if (milliseconds <= LATE_MS || this.divisor(work) > 1) return;
    // Time goes with texels.
    const halvings = Math.ceil(Math.log2(milliseconds / LIVE_MS) / 2);
    this.divisors.set(work, Math.min(MOST, 2 ** halvings));
  }

  tookAsDraft(work: string, milliseconds: number): void {
    const divisor = this.divisor(work);
    if (milliseconds > LATE_MS) this.divisors.set(work, Math.min(MOST, divisor * 2));
    else if (milliseconds * 4 < LIVE_MS) this.divisors.set(work, Math.max(1, divisor / 2));
  }
}
