/**
 * The tracing kernel (packages/core/kernel): a tree of width four whose child boxes lie side by side, triangles in
 * packets of four, and groups of rays that visit each node together. It is compiled to WebAssembly; whoever has a
 * platform instantiates it, and all threads that trace one scene share one memory.
 */
export interface Kernel {
  memory: KernelMemory;
  exports: KernelExports;
}

export interface KernelMemory {
  readonly buffer: ArrayBufferLike;
  grow(pages: number): number;
}

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
}
