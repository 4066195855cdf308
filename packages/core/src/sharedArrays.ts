/**
 * Typed arrays that worker threads can share without copying. Where the platform withholds
 * SharedArrayBuffer (a page without cross-origin isolation) they fall back to ordinary memory.
 */
const canShare = typeof SharedArrayBuffer !== 'undefined';

function buffer(bytes: number): ArrayBufferLike {
  return canShare ? new SharedArrayBuffer(bytes) : new ArrayBuffer(bytes);
}

export const sharedFloat32 = (length: number): Float32Array => new Float32Array(buffer(length * 4));
export const sharedFloat64 = (length: number): Float64Array => new Float64Array(buffer(length * 8));
export const sharedUint32 = (length: number): Uint32Array => new Uint32Array(buffer(length * 4));
export const sharedInt32 = (length: number): Int32Array => new Int32Array(buffer(length * 4));
export const sharedUint16 = (length: number): Uint16Array => new Uint16Array(buffer(length * 2));
export const sharedUint8 = (length: number): Uint8Array => new Uint8Array(buffer(length));

/** The same values where threads share them. */
export function sharedCopyFloat32(values: ArrayLike<number>): Float32Array {
  const copy = sharedFloat32(values.length);
  copy.set(values);
  return copy;
}

export function sharedCopyUint32(values: ArrayLike<number>): Uint32Array {
  const copy = sharedUint32(values.length);
  copy.set(values);
  return copy;
}
