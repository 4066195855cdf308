/**
 * The kernel (packages/core/kernel): computation that must be fast, compiled to WebAssembly. It traces rays with a tree
 * of width four, and filters, resamples and draws pictures with a team of threads. Whoever has a platform instantiates
 * it; all threads that work on the same thing share one memory.
 */
export interface Kernel {
  memory: KernelMemory;
  exports: KernelExports;
}

export interface KernelMemory {
  readonly buffer: ArrayBufferLike;
  grow(pages: number): number;
}

/** What a kernel is instantiated with. @param onPlaced told how many triangles have found their place in a tree */
export const kernelImports = <Memory extends KernelMemory>(
  memory: Memory,
  onPlaced: (triangles: number) => void = () => {},
) => ({ env: { memory }, host: { placed: onPlaced } });

/** What the kernel can do; the files of kernel/ say what the numbers mean. Addresses are in bytes. */
export interface KernelExports {
  begin(
    positions: number,
    indices: number,
    count: number,
    records: number,
    nodes: number,
    packets: number,
    room: number,
    box: number,
  ): number;
  subtree(
    positions: number,
    indices: number,
    records: number,
    nodes: number,
    packets: number,
    room: number,
    range: number,
    firstNode: number,
    firstPacket: number,
    grownBy: number,
  ): number;
  grownBy(): number;
  hang(nodes: number, child: number, reference: number): void;
  trace(
    nodes: number,
    packets: number,
    root: number,
    box: number,
    origins: number,
    directions: number,
    lengths: number,
    count: number,
    room: number,
    capacity: number,
    cull: boolean,
    any: boolean,
    triangles: number,
    distances: number,
    weights: number,
  ): void;
  aim(
    count: number,
    triangles: number,
    weights: number,
    vertices: number,
    indices: number,
    origins: number,
    directions: number,
    lengths: number,
    starts: number,
  ): void;
  shade(
    count: number,
    triangles: number,
    weights: number,
    indices: number,
    normals: number,
    out: number,
    distances: number,
    starts: number,
    low: number,
    scale: number,
    bins: number,
    binCount: number,
  ): number;
  encode(
    count: number,
    texels: number,
    triangles: number,
    weights: number,
    met: number,
    normals: number,
    indices: number,
    vertices: number,
    tangents: number,
    out: number,
  ): void;
  measureAlbedos(table: number): void;
  beginPaths(scene: number, room: number, count: number, counted: number): number;
  aimAtSky(scene: number, room: number, count: number): void;
  countOpenSky(scene: number, room: number, count: number, counted: number): void;
  scatterPaths(scene: number, room: number, alive: number, depth: number): number;
  queuedShadows(): number;
  passRays(scene: number, room: number, count: number, depth: number, layer: number): number;
  passShadows(scene: number, room: number, count: number, layer: number): number;
  countUnoccluded(scene: number, room: number, count: number, depth: number, counted: number): void;
  extendPaths(scene: number, room: number, count: number, depth: number, counted: number): number;
  beginWork(job: number): void;
  callHelpers(job: number): void;
  doOneTask(job: number): void;
  finishWork(job: number): void;
  helpTeam(job: number, thread: number): void;
}
