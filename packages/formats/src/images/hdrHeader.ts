/** What the header of a Radiance file says. */
export interface HdrHeader {
  width: number;
  height: number;
}

/** Comments before the size may be long, but not without end. */
const LONGEST = 1024 * 1024;

/**
 * Reads the header of a Radiance file (Ward 1991): lines up to an empty one, then the resolution.
 * @throws RangeError where there is none, or it says what cannot be
 */
export function readHdrHeader(bytes: Uint8Array): HdrHeader {
  let at = 0;
  const line = (): string => {
    const end = bytes.indexOf(10, at);
    if (end < 0 || end > LONGEST) throw new RangeError('The header does not end.');
    const text = new TextDecoder('latin1').decode(bytes.subarray(at, end));
    at = end + 1;
    return text;
  };
  while (line().trim() !== '');
  const size = /^\s*[-+]Y (\d+) [-+]X (\d+)\s*$/.exec(line());
  if (!size) throw new RangeError('The resolution is none that is known.');
  const [height, width] = [Number(size[1]), Number(size[2])];
  if (width < 1 || height < 1) throw new RangeError('The size is below one.');
  // Run-length coded rows take four bytes of head, and four times a packet of two bytes for each 127 texels.
  const least = width < 8 || width > 32767 ? width * 4 : 4 + 4 * 2 * Math.ceil(width / 127);
  if (at + least > bytes.length) throw new RangeError('The first row is cut off.');
  return { width, height };
}
