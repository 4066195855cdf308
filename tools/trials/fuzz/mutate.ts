/** Bytes that have undone readers before: ends of ranges, signs, separators. */
const TELLING = [0, 1, 0x7f, 0x80, 0xff, 0x20, 0x0a, 0x2d, 0x2f, 0x22, 0x7b, 0x5b];
const TELLING_WORDS = [0, 1, 0x7fffffff, 0x80000000, 0xffffffff, 0xfffffffe, 0x10000, 0x01000000];
const TELLING_TEXTS = [
  '-1',
  '0',
  '1e38',
  '-1e39',
  'NaN',
  '4000000000',
  '9007199254740993',
  '',
  '/',
  '""',
  'null',
  '[]',
];

/**
 * A good file with one to three faults in it, which depend on the random numbers alone.
 * @param other a good file of another kind, a piece of which may come into it
 * @param random numbers 0 to below 1
 */
export function mutate(good: Uint8Array, other: Uint8Array, random: () => number): Uint8Array {
  let bytes = Uint8Array.from(good);
  const upTo = (limit: number): number => Math.floor(random() * limit);
  const from = <T>(list: readonly T[]): T => list[upTo(list.length)]!;
  for (let faults = 1 + upTo(3); faults > 0 && bytes.length > 0; faults--) {
    // Headers decide most, and are small: every other fault is in the first bytes.
    const at = upTo(random() < 0.5 ? Math.min(bytes.length, 256) : bytes.length);
    const length = 1 + upTo(Math.min(64, bytes.length - at));
    switch (upTo(9)) {
      case 0:
        bytes[at]! ^= 1 << upTo(8);
        break;
      case 1:
        bytes[at] = from(TELLING);
        break;
      case 2:
        if (at + 4 <= bytes.length) new DataView(bytes.buffer).setUint32(at, from(TELLING_WORDS), random() < 0.5);
        break;
      case 3:
        bytes = bytes.slice(0, at);
        break;
      case 4:
        bytes = spliced(bytes, at, length, new Uint8Array(0));
        break;
      case 5:
        bytes = spliced(bytes, at, 0, bytes.slice(at, at + length));
        break;
      case 6:
        bytes = spliced(
          bytes,
          at,
          length,
          Uint8Array.from({ length: upTo(64) }, () => upTo(256)),
        );
        break;
      case 7: {
        const begin = upTo(other.length);
        bytes = spliced(bytes, at, 0, other.slice(begin, begin + length));
        break;
      }
      default:
        bytes = otherNumber(bytes, at, from(TELLING_TEXTS));
    }
  }
  return bytes;
}

/** Where a number is written as text at a place or soon after, another one. */
function otherNumber(bytes: Uint8Array<ArrayBuffer>, at: number, text: string): Uint8Array<ArrayBuffer> {
  const isDigit = (i: number): boolean => (bytes[i]! >= 48 && bytes[i]! <= 57) || bytes[i] === 46 || bytes[i] === 45;
  let begin = at;
  while (begin < bytes.length && begin < at + 64 && !isDigit(begin)) begin++;
  let end = begin;
  while (end < bytes.length && isDigit(end)) end++;
  return spliced(bytes, begin, end - begin, new TextEncoder().encode(text));
}

function spliced(bytes: Uint8Array, at: number, removed: number, added: Uint8Array): Uint8Array<ArrayBuffer> {
  const result = new Uint8Array(bytes.length - Math.min(removed, bytes.length - at) + added.length);
  result.set(bytes.subarray(0, at));
  result.set(added, at);
  result.set(bytes.subarray(at + removed), at + added.length);
  return result;
}
