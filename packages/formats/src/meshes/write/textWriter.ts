/** Bytes of a piece. */
const PIECE = 1 << 22;
/** More than any number or name written here has. */
const ROOM = 64;

const POWERS = Array.from({ length: 23 }, (_, e) => 10 ** e);

/** Text in UTF-8 that grows piece by piece, without ever being one string. */
export class TextWriter {
  private readonly pieces: Uint8Array[] = [];
  private piece = new Uint8Array(PIECE);
  private at = 0;

  text(text: string): void {
    const bytes = new TextEncoder().encode(text);
    if (this.at + bytes.length > this.piece.length) this.begin(bytes.length);
    this.piece.set(bytes, this.at);
    this.at += bytes.length;
  }

  /** One character of ASCII. */
  char(code: number): void {
    if (this.at + ROOM > this.piece.length) this.begin(0);
    this.piece[this.at++] = code;
  }

  /** A whole number of 0 or more, below 2⁵³. */
  whole(value: number): void {
    if (this.at + ROOM > this.piece.length) this.begin(0);
    this.digits(value, 1);
  }

  /**
   * A number in nine digits, which bring every one of single precision back exactly; without an exponent where that is as
   * short.
   */
  float(value: number): void {
    if (this.at + ROOM > this.piece.length) this.begin(0);
    const size = Math.abs(value);
    // What is no number, and what needs an exponent or more digits than doubles hold, is rare.
    if (!(size < 1e9 && (size >= 1e-5 || size === 0))) {
      this.text(String(Number(value.toPrecision(9))));
      return;
    }
    if (value < 0) this.piece[this.at++] = 45;
    // Digits behind the point.
    let after = 9;
    if (size < 1) while (after < 14 && size * POWERS[after]! < 1e8) after++;
    else while (after > 0 && size >= POWERS[9 - after]!) after--;
    let scaled = Math.round(size * POWERS[after]!);
    while (after > 0 && scaled % 10 === 0) {
      scaled /= 10;
      after--;
    }
    this.digits(scaled, after + 1);
    if (after === 0) return;
    // The digits behind the point move on by one.
    const { piece, at } = this;
    piece.copyWithin(at - after + 1, at - after, at);
    piece[at - after] = 46;
    this.at = at + 1;
  }

  /** All that was written, as one. */
  finish(): Uint8Array<ArrayBuffer> {
    const length = this.pieces.reduce((sum, piece) => sum + piece.length, this.at);
    const all = new Uint8Array(length);
    let to = 0;
    for (const piece of [...this.pieces, this.piece.subarray(0, this.at)]) {
      all.set(piece, to);
      to += piece.length;
    }
    return all;
  }

  /** @param least digits, with zeros in front */
  private digits(value: number, least: number): void {
    let count = 1;
    for (let rest = value; rest >= 10; rest = Math.floor(rest / 10)) count++;
    count = Math.max(count, least);
    let rest = value;
    for (let at = this.at + count - 1; at >= this.at; at--) {
      const next = Math.floor(rest / 10);
      this.piece[at] = 48 + (rest - next * 10);
      rest = next;
    }
    this.at += count;
  }

  private begin(least: number): void {
    this.pieces.push(this.piece.subarray(0, this.at));
    this.piece = new Uint8Array(Math.max(PIECE, least + ROOM));
    this.at = 0;
  }
}
