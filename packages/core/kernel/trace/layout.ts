// Where things lie in the kernel's memory. Sizes are mirrored by src/trace/kernelMemory.ts.

/**
 * A node holds four children side by side: min and max of their boxes along x, y and z (six times four floats),
 * four references, and for each octant of ray directions the rank of each child from front to back and the child
 * of each rank (two bits each).
 */
export const NODE_BYTES: usize = 128;
export const NODE_CHILDREN: usize = 96;
export const NODE_RANKS: usize = 112;
export const NODE_LANES: usize = 120;

/** A packet holds four triangles: the corners' coordinates, each as four floats, and the triangles' numbers. */
export const PACKET_BYTES: usize = 160;
export const PACKET_NUMBERS: usize = 144;

/** Leaves have at most this many triangles: one packet. */
export const LEAF: u32 = 4;

/**
 * While building, a triangle is a record: its box as two vectors. The fourth lane of the first holds the
 * triangle's number on top of the bits of 2.0, so that it is never a denormal float.
 */
export const RECORD_BYTES: usize = 32;
export const NUMBER_BIAS: u32 = 0x40000000;

/** A ray as the traversal reads it. */
export const RAY_BYTES: usize = 64;
export const RAY_LIMIT: usize = 12;
export const RAY_INVERSE: usize = 16;
export const RAY_TRIANGLE: usize = 28;
export const RAY_SHEAR: usize = 32;
export const RAY_AXES: usize = 44;
/** How far its origin was moved towards the scene. */
export const RAY_SKIPPED: usize = 56;
/** Where the triangle lies it has met: a packet and, in the lowest bits, the lane. Before that its octant. */
export const RAY_PLACE: usize = 60;

export const NO_TRIANGLE: u32 = 0xffffffff;
