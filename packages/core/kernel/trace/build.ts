import {
  LEAF,
  NODE_BYTES,
  NODE_CHILDREN,
  NODE_LANES,
  NODE_RANKS,
  NUMBER_BIAS,
  PACKET_BYTES,
  PACKET_NUMBERS,
  RECORD_BYTES,
} from './layout';

/** Told how many triangles have found their place. */
@external('host', 'placed')
declare function placed(count: u32): void;

const BINS: i32 = 16;
/** Depth from which ranges are simply halved, so that no input makes the tree deep. */
const MAX_SAH_DEPTH: i32 = 48;

/** Boxes grow by this share of the scene's extent: more than the rounding of any shear or slab test. */
const GROWTH: f32 = 4.76837158203125e-7; // 2⁻²¹

/** A range of records with its box and the box of its (doubled) centres. */
const RANGE_BYTES: usize = 80;
const RANGE_LOW: usize = 16;
const RANGE_HIGH: usize = 32;
const RANGE_CENTRE_LOW: usize = 48;
const RANGE_CENTRE_HIGH: usize = 64;

let nodes: usize = 0;
let nodeCount: u32 = 0;
let packets: usize = 0;
let packetCount: u32 = 0;
let records: usize = 0;
let positions: usize = 0;
let indices: usize = 0;
/** Working room: bins of three axes (two vectors each), their counts, and areas from the right. */
let bins: usize = 0;
let binCounts: usize = 0;
let rightCosts: usize = 0;
let growth: f32 = 0;
let placedCount: u32 = 0;
let told: u32 = 0;

/** Where the root's children lie in the room, one range behind the other. */
const CHILDREN_AT: usize = 4096 + RANGE_BYTES;
/** From a node on, its children's own room begins behind the ranges that were split off. */
const BELOW: usize = 4 * RANGE_BYTES;

/**
 * Begins the tree of a scene's triangles: its root, whose children's triangles are sorted apart. Each of them is then
 * built by `subtree`, by whichever thread.
 * @param atPositions x, y, z for each vertex, with four bytes to spare behind the last
 * @param atIndices three vertex numbers for each triangle
 * @param count triangles, at least 1
 * @param atRecords room for one record for each triangle
 * @param atNodes room for one node for each two triangles, and some
 * @param atPackets room for one packet for each triangle
 * @param room 256 KiB to work in; behind its first 4176 bytes come the ranges of the children, 80 bytes each, of which
 * the first two numbers are where its triangles begin and end
 * @param box told the scene's box as `trace` wants it
 * @returns how many children there are; 0 if the root is a packet, number 0
 */
export function begin(
  atPositions: usize,
  atIndices: usize,
  count: u32,
  atRecords: usize,
  atNodes: usize,
  atPackets: usize,
  room: usize,
  box: usize,
): u32 {
  place(atPositions, atIndices, atRecords, atNodes, atPackets, room);
  nodeCount = 0;
  packetCount = 0;
  const frame = room + 4096;
  makeRecords(count, frame);
  growBox(frame, box);
  if (count <= LEAF) {
    emitLeaf(frame);
    return 0;
  }
  const children = splitUp(frame, room + CHILDREN_AT, 0);
  writeNode(room + CHILDREN_AT, children);
  return children;
}

/**
 * Builds all below one child of the root.
 * @param range of the child, as `begin` has left it
 * @param room 256 KiB to work in, of this thread's own; not that of `begin`
 * @param firstNode, firstPacket numbers from which on there is room for it: a node for each two triangles and one, and a
 * packet for each triangle
 * @param grownBy how far its boxes grow, as `grownBy` tells it after `begin`
 * @returns reference to the child: a node, or (negative) a packet
 */
export function subtree(
  atPositions: usize,
  atIndices: usize,
  atRecords: usize,
  atNodes: usize,
  atPackets: usize,
  room: usize,
  range: usize,
  firstNode: u32,
  firstPacket: u32,
  grownBy: f32,
): i32 {
  place(atPositions, atIndices, atRecords, atNodes, atPackets, room);
  nodeCount = firstNode;
  packetCount = firstPacket;
  growth = grownBy;
  return emitNode(range, room + 4096, 1);
}

/** How far boxes of the tree that was begun last grow. */
export function grownBy(): f32 {
  return growth;
}

/** Hangs a child that was built into the root. */
export function hang(atNodes: usize, child: u32, reference: i32): void {
  store<i32>(atNodes + NODE_CHILDREN + <usize>child * 4, reference);
}

function place(
  atPositions: usize,
  atIndices: usize,
  atRecords: usize,
  atNodes: usize,
  atPackets: usize,
  room: usize,
): void {
  positions = atPositions;
  indices = atIndices;
  records = atRecords;
  nodes = atNodes;
  packets = atPackets;
  placedCount = 0;
  told = 0;
  bins = room;
  binCounts = bins + <usize>(3 * BINS) * 32;
  rightCosts = binCounts + <usize>(3 * BINS) * 4;
}

/** Makes all records and the range of them all. */
function makeRecords(count: u32, range: usize): void {
  let low = f32x4.splat(f32.MAX_VALUE);
  let high = f32x4.splat(-f32.MAX_VALUE);
  let centreLow = low;
  let centreHigh = high;
  for (let t: u32 = 0; t < count; t++) {
    const at = indices + <usize>t * 12;
    const a = v128.load(positions + <usize>load<u32>(at) * 12);
    const b = v128.load(positions + <usize>load<u32>(at + 4) * 12);
    const c = v128.load(positions + <usize>load<u32>(at + 8) * 12);
    const min = f32x4.replace_lane(f32x4.pmin(f32x4.pmin(a, b), c), 3, 0);
    const max = f32x4.replace_lane(f32x4.pmax(f32x4.pmax(a, b), c), 3, 0);
    const record = records + <usize>t * RECORD_BYTES;
    v128.store(record, i32x4.replace_lane(min, 3, NUMBER_BIAS + t));
    v128.store(record + 16, max);
    const centre = f32x4.add(min, max);
    low = f32x4.pmin(low, min);
    high = f32x4.pmax(high, max);
    centreLow = f32x4.pmin(centreLow, centre);
    centreHigh = f32x4.pmax(centreHigh, centre);
  }
  writeRange(range, 0, count, low, high, centreLow, centreHigh);
}

/** Sets how far boxes grow, and writes the scene's own box, grown. */
function growBox(range: usize, box: usize): void {
  const low = v128.load(range + RANGE_LOW);
  const high = v128.load(range + RANGE_HIGH);
  const size = f32x4.sub(high, low);
  const extent = max(max(f32x4.extract_lane(size, 0), f32x4.extract_lane(size, 1)), f32x4.extract_lane(size, 2));
  growth = extent * GROWTH;
  v128.store(box, f32x4.sub(low, f32x4.splat(growth)));
  v128.store(box, f32x4.add(high, f32x4.splat(growth)), 16);
}

@inline
function writeRange(range: usize, start: u32, end: u32, low: v128, high: v128, centreLow: v128, centreHigh: v128): void {
  store<u32>(range, start);
  store<u32>(range + 4, end);
  v128.store(range + RANGE_LOW, low);
  v128.store(range + RANGE_HIGH, high);
  v128.store(range + RANGE_CENTRE_LOW, centreLow);
  v128.store(range + RANGE_CENTRE_HIGH, centreHigh);
}

@inline
function countOf(range: usize): u32 {
  return load<u32>(range + 4) - load<u32>(range);
}

@inline
function areaOf(low: v128, high: v128): f32 {
  const size = f32x4.sub(high, low);
  const x = f32x4.extract_lane(size, 0);
  const y = f32x4.extract_lane(size, 1);
  const z = f32x4.extract_lane(size, 2);
  return x * y + y * z + z * x;
}

/** Writes a range as a leaf or, split into up to four, as a node with all below it. Returns its reference. */
function emitNode(range: usize, frame: usize, depth: i32): i32 {
  if (countOf(range) <= LEAF) return emitLeaf(range);
  const children = splitUp(range, frame, depth);
  const number = nodeCount;
  const node = nodes + <usize>number * NODE_BYTES;
  writeNode(frame, children);
  for (let k: u32 = 0; k < children; k++) {
    const child = emitNode(frame + <usize>k * RANGE_BYTES, frame + BELOW, depth + 1);
    store<i32>(node + NODE_CHILDREN + <usize>k * 4, child);
  }
  return number;
}

/** Splits a range into up to four, one behind the other: always the one of the largest box. */
function splitUp(range: usize, frame: usize, depth: i32): u32 {
  memory.copy(frame, range, RANGE_BYTES);
  let children: u32 = 1;
  while (children < 4) {
    let widest: usize = 0;
    let widestArea: f32 = -1;
    for (let k: u32 = 0; k < children; k++) {
      const child = frame + <usize>k * RANGE_BYTES;
      if (countOf(child) <= LEAF) continue;
      const area = areaOf(v128.load(child + RANGE_LOW), v128.load(child + RANGE_HIGH));
      if (area > widestArea) {
        widestArea = area;
        widest = child;
      }
    }
    if (widest == 0) break;
    split(widest, frame + <usize>children * RANGE_BYTES, depth);
    children++;
  }
  return children;
}

/** Writes the next node, whose children are not there yet. */
function writeNode(frame: usize, children: u32): void {
  const number = nodeCount++;
  const node = nodes + <usize>number * NODE_BYTES;
  writeBoxes(node, frame, children);
  writeOrders(node, frame, children);
  for (let k: usize = 0; k < 4; k++) store<i32>(node + NODE_CHILDREN + k * 4, 0);
}

/** Boxes side by side, grown; a child that is not there gets a box that no ray meets. */
function writeBoxes(node: usize, frame: usize, children: u32): void {
  for (let k: usize = 0; k < 4; k++) {
    const child = frame + k * RANGE_BYTES;
    for (let axis: usize = 0; axis < 3; axis++) {
      const at = node + axis * 32 + k * 4;
      const there = <u32>k < children;
      store<f32>(at, there ? load<f32>(child + RANGE_LOW + axis * 4) - growth : f32.MAX_VALUE);
      store<f32>(at + 16, there ? load<f32>(child + RANGE_HIGH + axis * 4) + growth : -f32.MAX_VALUE);
    }
  }
}

/** For each octant, which child comes first for rays going that way: by their centres along the diagonal. */
function writeOrders(node: usize, frame: usize, children: u32): void {
  for (let octant: u32 = 0; octant < 8; octant++) {
    let ranks: u32 = 0;
    let lanes: u32 = 0;
    for (let k: u32 = 0; k < 4; k++) {
      const own = along(frame + <usize>k * RANGE_BYTES, octant, k < children);
      let rank: u32 = 0;
      for (let other: u32 = 0; other < 4; other++) {
        const its = along(frame + <usize>other * RANGE_BYTES, octant, other < children);
        if (its < own || (its == own && other < k)) rank++;
      }
      ranks |= rank << (2 * k);
      lanes |= k << (2 * rank);
    }
    store<u8>(node + NODE_RANKS + octant, <u8>ranks);
    store<u8>(node + NODE_LANES + octant, <u8>lanes);
  }
}

@inline
function along(range: usize, octant: u32, there: bool): f32 {
  if (!there) return f32.MAX_VALUE;
  const centre = f32x4.add(v128.load(range + RANGE_LOW), v128.load(range + RANGE_HIGH));
  const x = f32x4.extract_lane(centre, 0);
  const y = f32x4.extract_lane(centre, 1);
  const z = f32x4.extract_lane(centre, 2);
  return (octant & 1 ? -x : x) + (octant & 2 ? -y : y) + (octant & 4 ? -z : z);
}

/** Writes up to four triangles as a packet; places left over hold a point, which nothing hits. */
function emitLeaf(range: usize): i32 {
  const start = load<u32>(range);
  const count = countOf(range);
  const number = packetCount++;
  const packet = packets + <usize>number * PACKET_BYTES;
  for (let k: u32 = 0; k < LEAF; k++) {
    const there = k < count;
    const record = records + <usize>(start + (there ? k : 0)) * RECORD_BYTES;
    const triangle = load<u32>(record + 12) - NUMBER_BIAS;
    store<u32>(packet + PACKET_NUMBERS + <usize>k * 4, triangle);
    for (let corner: usize = 0; corner < 3; corner++) {
      const vertex = load<u32>(indices + <usize>triangle * 12 + (there ? corner * 4 : 0));
      for (let axis: usize = 0; axis < 3; axis++) {
        const value = load<f32>(positions + <usize>vertex * 12 + axis * 4);
        store<f32>(packet + corner * 48 + axis * 16 + <usize>k * 4, value);
      }
    }
  }
  placedCount += count;
  if (placedCount - told >= 16384) {
    told = placedCount;
    placed(placedCount);
  }
  return -1 - number;
}

/**
 * Splits a range in two by the surface area heuristic over bins (Wald, "On fast Construction of SAH-based
 * Bounding Volume Hierarchies", 2007), the cost of a side being its packets times its area. The first part stays
 * in `range`, the second goes to `other`.
 */
function split(range: usize, other: usize, depth: i32): void {
  const start = load<u32>(range);
  const end = load<u32>(range + 4);
  const centreLow = v128.load(range + RANGE_CENTRE_LOW);
  const extent = f32x4.sub(v128.load(range + RANGE_CENTRE_HIGH), centreLow);
  // Zero where an axis has no extent: everything falls into its first bin, and it is never chosen.
  const raw = f32x4.div(f32x4.splat(<f32>BINS * 0.9999), extent);
  const scale = v128.and(raw, f32x4.gt(extent, f32x4.splat(f32.MIN_NORMAL_VALUE * 64)));
  let axis: i32 = -1;
  let bin: i32 = 0;
  if (depth < MAX_SAH_DEPTH) {
    fillBins(start, end, centreLow, scale);
    let best: f32 = f32.MAX_VALUE;
    for (let k = 0; k < 3; k++) {
      cheapest(k);
      if (cheapestBin > 0 && cheapestCost < best) {
        best = cheapestCost;
        axis = k;
        bin = cheapestBin;
      }
    }
  }
  if (axis >= 0) partition(range, other, start, end, axis, bin, centreLow, scale);
  else halve(range, other, start, end);
}

function fillBins(start: u32, end: u32, centreLow: v128, scale: v128): void {
  const none = f32x4.splat(f32.MAX_VALUE);
  const noneHigh = f32x4.splat(-f32.MAX_VALUE);
  for (let b: usize = 0; b < <usize>(3 * BINS); b++) {
    v128.store(bins + b * 32, none);
    v128.store(bins + b * 32 + 16, noneHigh);
    store<u32>(binCounts + b * 4, 0);
  }
  const last = records + <usize>end * RECORD_BYTES;
  for (let record = records + <usize>start * RECORD_BYTES; record < last; record += RECORD_BYTES) {
    const low = v128.load(record);
    const high = v128.load(record + 16);
    const place = i32x4.trunc_sat_f32x4_s(f32x4.mul(f32x4.sub(f32x4.add(low, high), centreLow), scale));
    grow(<usize>i32x4.extract_lane(place, 0), low, high);
    grow(<usize>(i32x4.extract_lane(place, 1) + BINS), low, high);
    grow(<usize>(i32x4.extract_lane(place, 2) + 2 * BINS), low, high);
  }
}

@inline
function grow(bin: usize, low: v128, high: v128): void {
  const at = bins + bin * 32;
  v128.store(at, f32x4.pmin(v128.load(at), low));
  v128.store(at + 16, f32x4.pmax(v128.load(at + 16), high));
  const counter = binCounts + bin * 4;
  store<u32>(counter, load<u32>(counter) + 1);
}

let cheapestBin: i32 = 0;
let cheapestCost: f32 = 0;

/** Finds the cheapest place to split between the bins of one axis; bin 0 says that there is none. */
function cheapest(axis: i32): void {
  const from = bins + <usize>(axis * BINS) * 32;
  const counts = binCounts + <usize>(axis * BINS) * 4;
  let low = f32x4.splat(f32.MAX_VALUE);
  let high = f32x4.splat(-f32.MAX_VALUE);
  let sum: u32 = 0;
  for (let b: usize = BINS - 1; b > 0; b--) {
    low = f32x4.pmin(low, v128.load(from + b * 32));
    high = f32x4.pmax(high, v128.load(from + b * 32 + 16));
    sum += load<u32>(counts + b * 4);
    store<f32>(rightCosts + b * 4, sum > 0 ? areaOf(low, high) * <f32>packetsOf(sum) : -1);
  }
  low = f32x4.splat(f32.MAX_VALUE);
  high = f32x4.splat(-f32.MAX_VALUE);
  sum = 0;
  cheapestBin = 0;
  cheapestCost = f32.MAX_VALUE;
  for (let b: usize = 1; b < <usize>BINS; b++) {
    low = f32x4.pmin(low, v128.load(from + (b - 1) * 32));
    high = f32x4.pmax(high, v128.load(from + (b - 1) * 32 + 16));
    sum += load<u32>(counts + (b - 1) * 4);
    const right = load<f32>(rightCosts + b * 4);
    if (sum == 0 || right < 0) continue;
    const cost = areaOf(low, high) * <f32>packetsOf(sum) + right;
    if (cost < cheapestCost) {
      cheapestCost = cost;
      cheapestBin = <i32>b;
    }
  }
}

@inline
function packetsOf(count: u32): u32 {
  return (count + LEAF - 1) / LEAF;
}

/** Moves records below the bin to the front, and measures both parts on the way. */
function partition(
  range: usize,
  other: usize,
  start: u32,
  end: u32,
  axis: i32,
  bin: i32,
  centreLow: v128,
  scale: v128,
): void {
  let lowA = f32x4.splat(f32.MAX_VALUE);
  let highA = f32x4.splat(-f32.MAX_VALUE);
  let centreLowA = lowA;
  let centreHighA = highA;
  let lowB = lowA;
  let highB = highA;
  let centreLowB = lowA;
  let centreHighB = highA;
  // The same arithmetic as in fillBins, so that no record changes sides; one lane of it counts.
  const lane = i32x4.eq(i32x4(0, 1, 2, 3), i32x4.splat(axis));
  const limit = i32x4.splat(bin);
  let front = records + <usize>start * RECORD_BYTES;
  let back = records + <usize>end * RECORD_BYTES;
  while (front < back) {
    const low = v128.load(front);
    const high = v128.load(front + 16);
    const centre = f32x4.add(low, high);
    const place = i32x4.trunc_sat_f32x4_s(f32x4.mul(f32x4.sub(centre, centreLow), scale));
    if (v128.any_true(v128.and(i32x4.lt_s(place, limit), lane))) {
      lowA = f32x4.pmin(lowA, low);
      highA = f32x4.pmax(highA, high);
      centreLowA = f32x4.pmin(centreLowA, centre);
      centreHighA = f32x4.pmax(centreHighA, centre);
      front += RECORD_BYTES;
    } else {
      lowB = f32x4.pmin(lowB, low);
      highB = f32x4.pmax(highB, high);
      centreLowB = f32x4.pmin(centreLowB, centre);
      centreHighB = f32x4.pmax(centreHighB, centre);
      back -= RECORD_BYTES;
      v128.store(front, v128.load(back));
      v128.store(front + 16, v128.load(back + 16));
      v128.store(back, low);
      v128.store(back + 16, high);
    }
  }
  const middle = <u32>((front - records) / RECORD_BYTES);
  writeRange(range, start, middle, lowA, highA, centreLowA, centreHighA);
  writeRange(other, middle, end, lowB, highB, centreLowB, centreHighB);
}

/** Splits a range whose triangles all lie in one place, or at a depth where fairness comes first. */
function halve(range: usize, other: usize, start: u32, end: u32): void {
  const middle = start + (end - start) / 2;
  measure(range, start, middle);
  measure(other, middle, end);
}

function measure(range: usize, start: u32, end: u32): void {
  let low = f32x4.splat(f32.MAX_VALUE);
  let high = f32x4.splat(-f32.MAX_VALUE);
  let centreLow = low;
  let centreHigh = high;
  const last = records + <usize>end * RECORD_BYTES;
  for (let record = records + <usize>start * RECORD_BYTES; record < last; record += RECORD_BYTES) {
    const min = v128.load(record);
    const max = v128.load(record + 16);
    const centre = f32x4.add(min, max);
    low = f32x4.pmin(low, min);
    high = f32x4.pmax(high, max);
    centreLow = f32x4.pmin(centreLow, centre);
    centreHigh = f32x4.pmax(centreHigh, centre);
  }
  writeRange(range, start, end, low, high, centreLow, centreHigh);
}
