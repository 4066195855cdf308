import {
  NODE_BYTES,
  NODE_CHILDREN,
  NODE_LANES,
  NODE_RANKS,
  NO_TRIANGLE,
  PACKET_BYTES,
  PACKET_NUMBERS,
  RAY_AXES,
  RAY_BYTES,
  RAY_INVERSE,
  RAY_LIMIT,
  RAY_PLACE,
  RAY_SHEAR,
  RAY_SKIPPED,
  RAY_TRIANGLE,
} from './layout';

/** Rays that walk the tree together: enough to share each node's visit, few enough to stay in the cache. */
const GROUP: usize = 1024;

/** Slightly beyond one, so that rounding in the slab test never loses a box that holds a hit. */
const SLAB_GUARD: f32 = 1.0 + 4.8e-7;

/** The box around a group's rays is widened by this share of the scene: more than the rounding of their ends. */
const GROUP_GUARD: f32 = 9.5367431640625e-7; // 2⁻²⁰

/** A finite stand-in for 1/0, so that 0 · ∞ never turns a slab distance into NaN. */
const NO_INVERSE: f32 = 1e30;

/** Where the parts of a thread's own room begin. */
let rays: usize = 0;
let order: usize = 0;
let starts: usize = 0;
let ends: usize = 0;
let stack: usize = 0;
let lists: usize = 0;

/** Three waiting visits for each level of the deepest tree, and more. The lists behind it take 8 KiB a level. */
const STACK_BYTES: usize = 256 * 12;

function useRoom(room: usize, capacity: u32): void {
  rays = room;
  order = rays + <usize>capacity * RAY_BYTES;
  starts = (order + <usize>capacity * 2 + 15) & ~15;
  ends = starts + 64;
  stack = ends + 64;
  lists = stack + STACK_BYTES;
}

/**
 * Casts a batch of rays at a tree.
 * @param nodes, packets, root the tree, as built
 * @param box min x, y, z and max x, y, z of the scene, each followed by four bytes of nothing
 * @param origins, directions x, y, z for each ray; directions are unit vectors
 * @param lengths how far each ray reaches
 * @param count rays, at most `capacity`, which is at most 65 536
 * @param room 66 bytes for each ray of the capacity and 1 MiB, which no other thread touches
 * @param cull whether triangles seen from behind are passed through
 * @param any whether any hit will do
 * @param triangles told what each ray met: a triangle's number, or −1
 * @param distances, weights told where (not with `any`): the distance in the unit of `lengths`, and the weights of
 *   the second and third corner
 */
export function trace(
  nodes: usize,
  packets: usize,
  root: i32,
  box: usize,
  origins: usize,
  directions: usize,
  lengths: usize,
  count: u32,
  room: usize,
  capacity: u32,
  cull: bool,
  any: bool,
  triangles: usize,
  distances: usize,
  weights: usize,
): void {
  useRoom(room, capacity);
  memory.fill(starts, 0, 64);
  memory.fill(triangles, 0xff, <usize>count * 4);
  for (let r: u32 = 0; r < count; r++) prepare(r, box, origins, directions, lengths);
  groupByOctant(count);
  for (let octant: usize = 0; octant < 8; octant++) {
    const end = load<u32>(starts + octant * 4 + 4);
    for (let from = load<u32>(starts + octant * 4); from < end; from += <u32>GROUP) {
      const some = min<u32>(<u32>GROUP, end - from);
      const group = order + <usize>from * 2;
      memory.copy(lists, group, <usize>some * 2);
      walk(nodes, packets, commonRoot(nodes, root, box, directions, some), octant, some, cull, any);
      for (let i: usize = 0; i < <usize>some; i++) {
        const r = <usize>load<u16>(group + i * 2);
        const ray = rays + r * RAY_BYTES;
        const triangle = load<u32>(ray + RAY_TRIANGLE);
        if (triangle == NO_TRIANGLE) continue;
        store<u32>(triangles + r * 4, triangle);
        if (!any) measureHit(ray, origins + r * 12, directions + r * 12, distances + r * 4, weights + r * 8);
      }
    }
  }
}

/**
 * Sets up one ray. Origins outside the scene's box are moved up to it first: what is left is then of the scene's
 * own size, and so is the rounding of single precision. Rays that miss the box get a limit below zero.
 */
function prepare(r: u32, box: usize, origins: usize, directions: usize, lengths: usize): void {
  const from = origins + <usize>r * 12;
  const to = directions + <usize>r * 12;
  const ray = rays + <usize>r * RAY_BYTES;
  const origin = v128.load(from);
  const direction = v128.load(to);
  const length = load<f32>(lengths + <usize>r * 4);
  v128.store(ray, origin);
  const outside = v128.or(f32x4.lt(origin, v128.load(box)), f32x4.gt(origin, v128.load(box, 16)));
  if (i32x4.bitmask(outside) & 7) enterBox(ray, box, from, to, length);
  else {
    store<f32>(ray + RAY_SKIPPED, 0);
    store<f32>(ray + RAY_LIMIT, length);
  }
  const inverse = v128.bitselect(
    f32x4.splat(NO_INVERSE),
    f32x4.div(f32x4.splat(1), direction),
    f32x4.eq(direction, f32x4.splat(0)),
  );
  v128.store(ray + RAY_INVERSE, inverse);
  store<u32>(ray + RAY_TRIANGLE, NO_TRIANGLE);
  // Shear that carries the ray to the z axis; z is its longest component, x and y swap to keep the winding. Without
  // branches, which random directions would make the processor guess wrong.
  const ax = abs(load<f32>(to));
  const ay = abs(load<f32>(to, 4));
  const az = abs(load<f32>(to, 8));
  const kz = select<usize>(select<usize>(0, 8, ax > az), select<usize>(4, 8, ay > az), ax > ay);
  const next = select<usize>(0, kz + 4, kz == 8);
  const last: usize = <usize>12 - kz - next;
  const backwards = load<f32>(to + kz) < 0;
  const kx = select<usize>(last, next, backwards);
  const ky = select<usize>(next, last, backwards);
  const scale = load<f32>(ray + RAY_INVERSE + kz);
  store<f32>(ray + RAY_SHEAR, load<f32>(to + kx) * scale);
  store<f32>(ray + RAY_SHEAR, load<f32>(to + ky) * scale, 4);
  store<f32>(ray + RAY_SHEAR, scale, 8);
  store<u32>(ray + RAY_AXES, <u32>kx);
  store<u32>(ray + RAY_AXES, <u32>ky, 4);
  store<u32>(ray + RAY_AXES, <u32>kz, 8);
  const octant = (<u32>i32x4.bitmask(f32x4.lt(direction, f32x4.splat(0)))) & 7;
  store<u32>(ray + RAY_PLACE, octant);
  if (load<f32>(ray + RAY_LIMIT) >= 0) {
    const counter = starts + <usize>(octant + 1) * 4;
    store<u32>(counter, load<u32>(counter) + 1);
  }
}

/** Moves a ray's origin up to the scene's box. */
function enterBox(ray: usize, box: usize, from: usize, to: usize, length: f32): void {
  let enter: f64 = 0;
  let leave: f64 = length;
  let extent: f64 = 0;
  for (let k: usize = 0; k < 3; k++) {
    const o = <f64>load<f32>(from + k * 4);
    const d = <f64>load<f32>(to + k * 4);
    const low = <f64>load<f32>(box + k * 4);
    const high = <f64>load<f32>(box + 16 + k * 4);
    extent += high - low;
    if (d == 0) {
      if (o < low || o > high) leave = -1;
      continue;
    }
    const a = (low - o) / d;
    const b = (high - o) / d;
    enter = max(enter, min(a, b));
    leave = min(leave, max(a, b));
  }
  // A little before the box, so that rounding does not put what lies on its side behind the ray.
  const skipped = max<f64>(0, enter - extent * 0.001);
  for (let k: usize = 0; k < 3; k++) {
    store<f32>(ray + k * 4, <f32>(<f64>load<f32>(from + k * 4) + <f64>load<f32>(to + k * 4) * skipped));
  }
  store<f32>(ray + RAY_SKIPPED, <f32>skipped);
  store<f32>(ray + RAY_LIMIT, enter <= leave ? <f32>(length - skipped) : -1);
}

/** Sorts the rays that meet the scene's box by the octant they go to, otherwise keeping their order. */
function groupByOctant(count: u32): void {
  for (let octant: usize = 1; octant <= 8; octant++) {
    const at = starts + octant * 4;
    store<u32>(at, load<u32>(at) + load<u32>(at - 4));
    store<u32>(ends + octant * 4 - 4, load<u32>(at - 4));
  }
  for (let r: u32 = 0; r < count; r++) {
    const ray = rays + <usize>r * RAY_BYTES;
    if (load<f32>(ray + RAY_LIMIT) < 0) continue;
    const at = ends + <usize>load<u32>(ray + RAY_PLACE) * 4;
    const place = load<u32>(at);
    store<u16>(order + <usize>place * 2, <u16>r);
    store<u32>(at, place + 1);
  }
}

/**
 * The lowest place in the tree from which a group can start: rays of a block of texels are short and lie close together,
 * so that for the first few levels all of them are within one child. Asks once for the group instead of for each ray.
 */
function commonRoot(nodes: usize, root: i32, box: usize, directions: usize, count: u32): i32 {
  let low = f32x4.splat(f32.MAX_VALUE);
  let high = f32x4.splat(-f32.MAX_VALUE);
  for (let i: usize = 0; i < <usize>count; i++) {
    const r = <usize>load<u16>(lists + i * 2);
    const ray = rays + r * RAY_BYTES;
    const start = v128.load(ray);
    const end = f32x4.add(start, f32x4.mul(v128.load(directions + r * 12), v128.load32_splat(ray, RAY_LIMIT)));
    // An endless ray that stands still along an axis ends at no number there, which is neither lower nor higher.
    low = f32x4.pmin(f32x4.pmin(low, start), end);
    high = f32x4.pmax(f32x4.pmax(high, start), end);
  }
  const spare = f32x4.mul(f32x4.sub(v128.load(box, 16), v128.load(box)), f32x4.splat(GROUP_GUARD));
  low = f32x4.sub(low, spare);
  high = f32x4.add(high, spare);
  const lowX = v128.shuffle<f32>(low, low, 0, 0, 0, 0);
  const lowY = v128.shuffle<f32>(low, low, 1, 1, 1, 1);
  const lowZ = v128.shuffle<f32>(low, low, 2, 2, 2, 2);
  const highX = v128.shuffle<f32>(high, high, 0, 0, 0, 0);
  const highY = v128.shuffle<f32>(high, high, 1, 1, 1, 1);
  const highZ = v128.shuffle<f32>(high, high, 2, 2, 2, 2);
  let reference = root;
  while (reference >= 0) {
    const node = nodes + <usize>reference * NODE_BYTES;
    const x = v128.and(f32x4.le(v128.load(node), highX), f32x4.ge(v128.load(node, 16), lowX));
    const y = v128.and(f32x4.le(v128.load(node, 32), highY), f32x4.ge(v128.load(node, 48), lowY));
    const z = v128.and(f32x4.le(v128.load(node, 64), highZ), f32x4.ge(v128.load(node, 80), lowZ));
    const met = <usize>i32x4.bitmask(v128.and(v128.and(x, y), z));
    if (met == 0 || (met & (met - 1)) != 0) break;
    reference = load<i32>(node + NODE_CHILDREN + (ctz(met) << 2));
  }
  return reference;
}

/**
 * Takes a group of rays of one octant through the tree, front to back. At each node every ray still listed is
 * tested against the four children at once, and joins the lists of those it meets; each list is then a visit of
 * its own. Lists of later children lie below those of earlier ones, so that the room of a list that is done with
 * can be used again.
 */
function walk(nodes: usize, packets: usize, root: i32, octant: usize, count: u32, cull: bool, any: bool): void {
  const nearX: usize = octant & 1 ? 16 : 0;
  const nearY: usize = octant & 2 ? 48 : 32;
  const nearZ: usize = octant & 4 ? 80 : 64;
  let top = stack;
  store<i32>(top, root);
  store<usize>(top, lists, 4);
  store<usize>(top, lists + <usize>count * 2, 8);
  top += 12;
  while (top > stack) {
    top -= 12;
    const reference = load<i32>(top);
    const from = load<usize>(top, 4);
    const end = load<usize>(top, 8);
    if (reference < 0) {
      testPacket(packets + <usize>(-1 - reference) * PACKET_BYTES, from, end, cull, any);
      continue;
    }
    const node = nodes + <usize>reference * NODE_BYTES;
    const lowX = v128.load(node + nearX);
    const highX = v128.load(node + 16 - nearX);
    const lowY = v128.load(node + nearY);
    const highY = v128.load(node + 80 - nearY);
    const lowZ = v128.load(node + nearZ);
    const highZ = v128.load(node + 144 - nearZ);
    const room = end - from;
    const ranks = <usize>load<u8>(node + NODE_RANKS + octant);
    let end0 = end + room * (3 - (ranks & 3));
    let end1 = end + room * (3 - ((ranks >> 2) & 3));
    let end2 = end + room * (3 - ((ranks >> 4) & 3));
    let end3 = end + room * (3 - (ranks >> 6));
    for (let at = from; at < end; at += 2) {
      const number = load<u16>(at);
      const ray = rays + ((<usize>number) << 6);
      const ox = v128.load32_splat(ray);
      const oy = v128.load32_splat(ray, 4);
      const oz = v128.load32_splat(ray, 8);
      const ix = v128.load32_splat(ray, 16);
      const iy = v128.load32_splat(ray, 20);
      const iz = v128.load32_splat(ray, 24);
      let near = f32x4.mul(f32x4.sub(lowX, ox), ix);
      let far = f32x4.mul(f32x4.sub(highX, ox), ix);
      near = f32x4.pmax(near, f32x4.mul(f32x4.sub(lowY, oy), iy));
      far = f32x4.pmin(far, f32x4.mul(f32x4.sub(highY, oy), iy));
      near = f32x4.pmax(near, f32x4.mul(f32x4.sub(lowZ, oz), iz));
      far = f32x4.pmin(far, f32x4.mul(f32x4.sub(highZ, oz), iz));
      near = f32x4.pmax(near, f32x4.splat(0));
      far = f32x4.pmin(f32x4.mul(far, f32x4.splat(SLAB_GUARD)), v128.load32_splat(ray, 12));
      const met = <usize>i32x4.bitmask(f32x4.le(near, far));
      store<u16>(end0, number);
      end0 += (met & 1) << 1;
      store<u16>(end1, number);
      end1 += met & 2;
      store<u16>(end2, number);
      end2 += (met >> 1) & 2;
      store<u16>(end3, number);
      end3 += (met >> 2) & 2;
    }
    store<usize>(ends, end0);
    store<usize>(ends, end1, 4);
    store<usize>(ends, end2, 8);
    store<usize>(ends, end3, 12);
    const lanes = <usize>load<u8>(node + NODE_LANES + octant);
    let list = end;
    for (let rank = 6; rank >= 0; rank -= 2) {
      const lane = ((lanes >> rank) & 3) << 2;
      const listEnd = load<usize>(ends + lane);
      // Written in any case, and kept if there are rays: whether there are is not to be guessed.
      store<i32>(top, load<i32>(node + NODE_CHILDREN + lane));
      store<usize>(top, list, 4);
      store<usize>(top, listEnd, 8);
      top += select<usize>(12, 0, listEnd > list);
      list += room;
    }
  }
}

/**
 * Tests each ray of a list against the four triangles of a packet: the watertight test of Woop, Benthin and Wald
 * ("Watertight Ray/Triangle Intersection", JCGT 2013). Neighbouring triangles shear their common vertices alike,
 * so a ray cannot slip through a shared edge or vertex.
 */
function testPacket(packet: usize, from: usize, end: usize, cull: bool, any: bool): void {
  const zero = f32x4.splat(0);
  for (let at = from; at < end; at += 2) {
    const ray = rays + ((<usize>load<u16>(at)) << 6);
    const kx = <usize>load<u32>(ray, 44);
    const ky = <usize>load<u32>(ray, 48);
    const kz = <usize>load<u32>(ray, 52);
    const ox = v128.load32_splat(ray + kx);
    const oy = v128.load32_splat(ray + ky);
    const oz = v128.load32_splat(ray + kz);
    const shearX = v128.load32_splat(ray, 32);
    const shearY = v128.load32_splat(ray, 36);
    const atX = packet + (kx << 2);
    const atY = packet + (ky << 2);
    const atZ = packet + (kz << 2);
    const az = f32x4.sub(v128.load(atZ), oz);
    const bz = f32x4.sub(v128.load(atZ, 48), oz);
    const cz = f32x4.sub(v128.load(atZ, 96), oz);
    const ax = f32x4.sub(f32x4.sub(v128.load(atX), ox), f32x4.mul(shearX, az));
    const ay = f32x4.sub(f32x4.sub(v128.load(atY), oy), f32x4.mul(shearY, az));
    const bx = f32x4.sub(f32x4.sub(v128.load(atX, 48), ox), f32x4.mul(shearX, bz));
    const by = f32x4.sub(f32x4.sub(v128.load(atY, 48), oy), f32x4.mul(shearY, bz));
    const cx = f32x4.sub(f32x4.sub(v128.load(atX, 96), ox), f32x4.mul(shearX, cz));
    const cy = f32x4.sub(f32x4.sub(v128.load(atY, 96), oy), f32x4.mul(shearY, cz));
    const u = f32x4.sub(f32x4.mul(cx, by), f32x4.mul(cy, bx));
    const v = f32x4.sub(f32x4.mul(ax, cy), f32x4.mul(ay, cx));
    const w = f32x4.sub(f32x4.mul(bx, ay), f32x4.mul(by, ax));
    const least = f32x4.pmin(f32x4.pmin(u, v), w);
    let within = f32x4.ge(least, zero);
    if (!cull) {
      const most = f32x4.pmax(f32x4.pmax(u, v), w);
      within = v128.or(within, f32x4.le(most, zero));
    }
    if (!v128.any_true(within)) continue;
    const determinant = f32x4.add(f32x4.add(u, v), w);
    const scaled = f32x4.add(f32x4.add(f32x4.mul(u, az), f32x4.mul(v, bz)), f32x4.mul(w, cz));
    const distance = f32x4.div(f32x4.mul(scaled, v128.load32_splat(ray, 40)), determinant);
    // A determinant of zero makes the distance infinite or no number: neither is within the limit.
    const valid = v128.and(f32x4.ge(distance, zero), f32x4.le(distance, v128.load32_splat(ray, 12)));
    const hit = i32x4.bitmask(v128.and(within, valid));
    if (hit != 0) takeNearest(ray, packet, distance, hit, any);
  }
}

/** Keeps the nearest of a packet's hits; of hits at equal distance the lower triangle number. */
function takeNearest(ray: usize, packet: usize, distance: v128, hit: i32, any: bool): void {
  v128.store(ends + 16, distance);
  let limit = load<f32>(ray + RAY_LIMIT);
  let triangle = load<u32>(ray + RAY_TRIANGLE);
  let place = load<usize>(ray + RAY_PLACE);
  // Most often one lane has been hit: which one is no branch for the processor to guess.
  for (; hit != 0; hit &= hit - 1) {
    const lane = <usize>ctz(hit);
    const its = load<f32>(ends + 16 + lane * 4);
    const number = load<u32>(packet + PACKET_NUMBERS + lane * 4);
    if (its < limit || (its == limit && number < triangle)) {
      limit = its;
      triangle = number;
      place = packet | lane;
    }
  }
  store<u32>(ray + RAY_TRIANGLE, triangle);
  store<usize>(ray + RAY_PLACE, place);
  // Enough is known of a ray that only asks whether anything is there: no box is within a limit below zero.
  store<f32>(ray + RAY_LIMIT, any ? -1 : limit);
}

/** Finds place and distance of a hit anew in double precision, along the ray as it was given. */
function measureHit(ray: usize, origin: usize, direction: usize, distance: usize, weights: usize): void {
  const kx = <usize>load<u32>(ray + RAY_AXES);
  const ky = <usize>load<u32>(ray + RAY_AXES, 4);
  const kz = <usize>load<u32>(ray + RAY_AXES, 8);
  const scale = 1 / <f64>load<f32>(direction + kz);
  const shearX = <f64>load<f32>(direction + kx) * scale;
  const shearY = <f64>load<f32>(direction + ky) * scale;
  const ox = <f64>load<f32>(origin + kx);
  const oy = <f64>load<f32>(origin + ky);
  const oz = <f64>load<f32>(origin + kz);
  const place = load<usize>(ray + RAY_PLACE);
  const lane = (place & ~3) + ((place & 3) << 2);
  const atX = lane + (kx << 2);
  const atY = lane + (ky << 2);
  const atZ = lane + (kz << 2);
  const az = <f64>load<f32>(atZ) - oz;
  const bz = <f64>load<f32>(atZ, 48) - oz;
  const cz = <f64>load<f32>(atZ, 96) - oz;
  const ax = <f64>load<f32>(atX) - ox - shearX * az;
  const ay = <f64>load<f32>(atY) - oy - shearY * az;
  const bx = <f64>load<f32>(atX, 48) - ox - shearX * bz;
  const by = <f64>load<f32>(atY, 48) - oy - shearY * bz;
  const cx = <f64>load<f32>(atX, 96) - ox - shearX * cz;
  const cy = <f64>load<f32>(atY, 96) - oy - shearY * cz;
  const u = cx * by - cy * bx;
  const v = ax * cy - ay * cx;
  const w = bx * ay - by * ax;
  const determinant = u + v + w;
  // Seen exactly edge-on there is nothing to solve; single precision saw a little of it.
  if (determinant == 0) {
    store<f32>(distance, load<f32>(ray + RAY_LIMIT) + load<f32>(ray + RAY_SKIPPED));
    store<u64>(weights, 0);
    return;
  }
  const share = 1 / determinant;
  // Right at an edge the place may lie a rounding error outside: it is held within the triangle.
  const second = min<f64>(1, max<f64>(0, v * share));
  const third = min<f64>(1 - second, max<f64>(0, w * share));
  store<f32>(distance, <f32>(((1 - second - third) * az + second * bz + third * cz) * scale));
  store<f32>(weights, <f32>second);
  store<f32>(weights, <f32>third, 4);
}
