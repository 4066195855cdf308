/** What the header of an OpenEXR file says of its first part. */
export interface ExrHeader {
  width: number;
  height: number;
  /** Name and sample type of each channel, in the order of the file. */
  channels: { name: string; type: 'uint' | 'half' | 'float' }[];
  /** Where the bytes of the list of channels lie, and where the header ends and the table of chunks begins. */
  list: { from: number; to: number };
  end: number;
}

const MAGIC = 0x01312f76;
const TYPES = ['uint', 'half', 'float'] as const;
const TILED = 0x200;
const MULTI_PART = 0x1000;
/** Rows of a chunk by compression: none, RLE, ZIPS, ZIP, PIZ, PXR24, B44, B44A, DWAA, DWAB. */
const ROWS = [1, 1, 1, 16, 32, 16, 32, 32, 32, 256];
/** Bytes of the attributes whose types have one size (OpenEXR file layout, “Predefined attribute types”). */
const SIZES: Record<string, number> = {
  ...{ box2i: 16, chromaticities: 32, compression: 1, envmap: 1, float: 4, int: 4, lineOrder: 1 },
  ...{ rational: 8, tiledesc: 9, timecode: 8, v2f: 8, v3f: 12 },
};
/** Names of attributes and of their types are no longer than this. */
const LONGEST_NAME = 255;

/**
 * Reads the header (OpenEXR file layout, version 2) attribute by attribute, wherever they stand and however long they
 * are, and checks that the table of chunks behind it lies within the file.
 * @throws RangeError where the file is cut off or says what cannot be
 */
export function readExrHeader(bytes: Uint8Array): ExrHeader {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (view.getUint32(0, true) !== MAGIC) throw new RangeError('This is no OpenEXR file.');
  const flags = view.getUint32(4, true);
  let at = 8;
  const name = (): string => {
    const end = bytes.indexOf(0, at);
    if (end < 0 || end - at > LONGEST_NAME) throw new RangeError('A name does not end.');
    const text = String.fromCharCode(...bytes.subarray(at, end));
    at = end + 1;
    return text;
  };
  let window: number[] | null = null;
  let compression = 0;
  let channels: ExrHeader['channels'] = [];
  let list = { from: 0, to: 0 };
  for (let attribute = name(); attribute !== ''; attribute = name()) {
    const type = name();
    const size = view.getUint32(at, true);
    at += 4;
    if (at + size > bytes.length) throw new RangeError('An attribute is longer than the file.');
    // Loaders read these by their types, whatever size is said, and would go astray after one.
    if (Object.hasOwn(SIZES, type) && SIZES[type] !== size)
      throw new RangeError('An attribute has not the size of its type.');
    if (attribute === 'dataWindow' && type === 'box2i') window = [0, 4, 8, 12].map((o) => view.getInt32(at + o, true));
    if (attribute === 'compression') compression = view.getUint8(at);
    if (attribute === 'channels') {
      list = { from: at, to: at + size };
      channels = readChannels(bytes.subarray(list.from, list.to));
    }
    at += size;
  }
  if (!window || channels.length === 0) throw new RangeError('The header says no size or no channels.');
  const [left, top, right, bottom] = window as [number, number, number, number];
  const [width, height] = [right - left + 1, bottom - top + 1];
  if (width < 1 || height < 1) throw new RangeError('The size is below one.');
  const rows = ROWS[compression];
  if (rows === undefined) throw new RangeError('The compression is none that is known.');
  if ((flags & (TILED | MULTI_PART)) === 0) {
    const chunks = Math.ceil(height / rows);
    if (at + chunks * 8 > bytes.length) throw new RangeError('The table of chunks is cut off.');
    for (let i = 0; i < chunks; i++) {
      const offset = view.getBigUint64(at + i * 8, true);
      if (offset + 8n > bytes.length) throw new RangeError('A chunk lies beyond the end.');
      const length = view.getInt32(Number(offset) + 4, true);
      if (length < 0 || Number(offset) + 8 + length > bytes.length) throw new RangeError('A chunk is cut off.');
    }
  }
  return { width, height, channels, list, end: at };
}

/** Each entry is a name up to its zero, then sixteen bytes, of which the first four are the type. */
function readChannels(list: Uint8Array): ExrHeader['channels'] {
  const view = new DataView(list.buffer, list.byteOffset, list.byteLength);
  const channels: ExrHeader['channels'] = [];
  let at = 0;
  while (at < list.length && list[at] !== 0) {
    const end = list.indexOf(0, at);
    if (end < 0 || end + 17 > list.length) throw new RangeError('The list of channels is cut off.');
    const type = TYPES[view.getUint32(end + 1, true)];
    if (!type) throw new RangeError('A channel has a type that is none.');
    channels.push({ name: String.fromCharCode(...list.subarray(at, end)), type });
    at = end + 17;
  }
  if (at !== list.length - 1) throw new RangeError('The list of channels does not end where it says.');
  return channels;
}
