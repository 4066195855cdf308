import type { GrowingFloats } from './growing.ts';

/** Places of a table that are taken, at the most: beyond that it is made twice as large. */
const FULL = 0.6;

/**
 * Numbers points in single precision by where they are, to the bit: a table with open addressing, which ends at what
 * memory there is and not at what a `Map` holds (2²⁴ entries).
 */
export class PointTable {
  private readonly positions: GrowingFloats;
  /** Number of the point at each place, counted from 1; 0 for none. */
  private places = new Int32Array(1 << 12);
  private readonly values = new Float32Array(3);
  private readonly bits = new Uint32Array(this.values.buffer);

  /** @param positions told each point that was not there before */
  constructor(positions: GrowingFloats) {
    this.positions = positions;
  }

  numberOf(x: number, y: number, z: number): number {
    const { values, positions } = this;
    // Of the two zeros there is but one here.
    values[0] = x + 0;
    values[1] = y + 0;
    values[2] = z + 0;
    const place = this.placeOf();
    const known = this.places[place]!;
    if (known > 0) return known - 1;
    const number = positions.length / 3;
    positions.push3(values[0], values[1], values[2]);
    this.places[place] = number + 1;
    if (number + 1 > this.places.length * FULL) this.grow();
    return number;
  }

  /** Where the point at hand lies in the table, or would. */
  private placeOf(): number {
    const { places, positions, values, bits } = this;
    const mask = places.length - 1;
    let hash = Math.imul(bits[0]!, 0x9e3779b1) ^ Math.imul(bits[1]!, 0x85ebca6b) ^ Math.imul(bits[2]!, 0xc2b2ae35);
    hash = Math.imul(hash ^ (hash >>> 15), 0x27d4eb2d);
    for (let place = (hash ^ (hash >>> 13)) & mask; ; place = (place + 1) & mask) {
      const at = (places[place]! - 1) * 3;
      if (at < 0) return place;
      // What is no number is the same as itself here.
      if (
        Object.is(positions.at(at), values[0]) &&
        Object.is(positions.at(at + 1), values[1]) &&
        Object.is(positions.at(at + 2), values[2])
      ) {
        return place;
      }
    }
  }

  private grow(): void {
    const { positions, values } = this;
    this.places = new Int32Array(this.places.length * 2);
    for (let number = 0; number < positions.length / 3; number++) {
      for (let k = 0; k < 3; k++) values[k] = positions.at(number * 3 + k);
      this.places[this.placeOf()] = number + 1;
    }
  }
}
