/** Bytes that a running Node process with its libraries takes before it computes anything. */
export const BASE_BYTES = 220e6;
