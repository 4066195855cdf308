/** A view for numbers of any byte order, right over the bytes. */
export const viewOf = (bytes: Uint8Array): DataView => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);

/** The first bytes as Latin text, for telling formats apart. */
export function headText(bytes: Uint8Array, length: number): string {
  return String.fromCharCode(...bytes.subarray(0, length));
}

const POWERS = Array.from({ length: 23 }, (_, e) => 10 ** e);

/** Walks over words and numbers in ASCII bytes without making strings of them. */
export class TextCursor {
  at = 0;
  /** The line the cursor is on, counted from 1. */
  line = 1;
  readonly bytes: Uint8Array;

  constructor(bytes: Uint8Array) {
    this.bytes = bytes;
  }

  get ended(): boolean {
    return this.at >= this.bytes.length;
  }

  /** Skips blanks on this line, control characters among them, and line ends that a backslash continues. */
  skipBlanks(): void {
    const { bytes } = this;
    for (;;) {
      const byte = bytes[this.at];
      // All that ends a word, or whoever reads words would stand before it for ever.
      if (byte !== undefined && byte <= 32 && byte !== 10) this.at++;
      else if (byte === 92 && (bytes[this.at + 1] === 10 || (bytes[this.at + 1] === 13 && bytes[this.at + 2] === 10))) {
        this.at += bytes[this.at + 1] === 10 ? 2 : 3;
        this.line++;
      } else return;
    }
  }

  /** Skips blanks, line ends and everything between words. */
  skipSpace(): void {
    for (;;) {
      this.skipBlanks();
      if (this.bytes[this.at] !== 10) return;
      this.at++;
      this.line++;
    }
  }

  atLineEnd(): boolean {
    this.skipBlanks();
    return this.ended || this.bytes[this.at] === 10;
  }

  nextLine(): void {
    if (this.bytes[this.at] === 10) {
      this.at++;
      this.line++;
      return;
    }
    const end = this.bytes.indexOf(10, this.at);
    this.at = end < 0 ? this.bytes.length : end + 1;
    this.line++;
  }

  /** The next word on this line, empty at its end. */
  word(): string {
    this.skipBlanks();
    const start = this.at;
    while (!this.ended && this.bytes[this.at]! > 32) this.at++;
    return latin(this.bytes, start, this.at);
  }

  /** The rest of this line without blanks around it. */
  rest(): string {
    this.skipBlanks();
    const end = this.bytes.indexOf(10, this.at);
    const text = new TextDecoder().decode(this.bytes.subarray(this.at, end < 0 ? this.bytes.length : end));
    this.at = end < 0 ? this.bytes.length : end;
    return text.trim();
  }

  /** The next word as a number; NaN if it is none. Exact where mantissa and power are (Clinger 1990). */
  number(): number {
    this.skipBlanks();
    const { bytes } = this;
    const start = this.at;
    let at = start;
    let negative = false;
    if (bytes[at] === 45 || bytes[at] === 43) negative = bytes[at++] === 45;
    let mantissa = 0;
    let digits = 0;
    let scale = 0;
    let byte = bytes[at]!;
    while (byte >= 48 && byte <= 57) {
      mantissa = mantissa * 10 + byte - 48;
      digits++;
      byte = bytes[++at]!;
    }
    if (byte === 46) {
      byte = bytes[++at]!;
      while (byte >= 48 && byte <= 57) {
        mantissa = mantissa * 10 + byte - 48;
        digits++;
        scale++;
        byte = bytes[++at]!;
      }
    }
    if (digits > 0 && mantissa <= Number.MAX_SAFE_INTEGER && scale <= 22 && !(byte > 32)) {
      this.at = at;
      const value = mantissa / POWERS[scale]!;
      return negative ? -value : value;
    }
    const text = this.word();
    return text === '' ? NaN : Number(text);
  }

  /** A whole number up to any byte that is not a digit; NaN if there is none. */
  integer(): number {
    const { bytes } = this;
    let at = this.at;
    const negative = bytes[at] === 45;
    if (negative) at++;
    const start = at;
    let value = 0;
    while (bytes[at]! >= 48 && bytes[at]! <= 57) value = value * 10 + bytes[at++]! - 48;
    if (at === start) return NaN;
    this.at = at;
    return negative ? -value : value;
  }
}

function latin(bytes: Uint8Array, start: number, end: number): string {
  let text = '';
  for (let i = start; i < end; i++) text += String.fromCharCode(bytes[i]!);
  return text;
}
