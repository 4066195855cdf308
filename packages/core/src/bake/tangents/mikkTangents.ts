import { weldVertices } from '../../mesh/weld.ts';

/**
 * MikkTSpace tangent frames, after Mikkelsen, "Simulation of Wrinkled Surfaces Revisited" (2008) and its
 * reference implementation: triangles only, angular threshold 180°. The frames must be the ones every
 * conforming shader reconstructs, so this follows the reference in grouping and weighting, not only in spirit.
 */

/** Smallest normal float32: the reference calls anything at or below it zero. */
const FLOAT_MIN = 1.1754943508222875e-38;

export interface TangentInput {
  positions: Float32Array;
  normals: Float32Array;
  /** u, v for each vertex, origin bottom-left, so that the bitangent points up in the picture. */
  uvs: Float32Array;
  indices: Uint32Array;
}

/**
 * Tangents for each corner (not each vertex: mirrored UVs can meet in one vertex).
 * @returns x, y, z, sign for each of the three corners of each triangle; the bitangent is
 * sign · cross(normal, tangent)
 */
export function mikkTangents({ positions, normals, uvs, indices }: TangentInput): Float32Array {
  const triangles = indices.length / 3;
  const same = weldVertices([
    [positions, 3],
    [normals, 3],
    [uvs, 2],
  ]);
  const welded = indices.map((vertex) => same[vertex]!);
  const result = new Float32Array(indices.length * 4);
  for (let c = 0; c < indices.length; c++) {
    result[c * 4] = 1;
    result[c * 4 + 3] = -1;
  }

  const good: number[] = [];
  const degenerate: number[] = [];
  for (let t = 0; t < triangles; t++) {
    (hasRepeatedPosition(positions, welded, t) ? degenerate : good).push(t);
  }
  const derivatives = firstOrderDerivatives(positions, uvs, welded, good, triangles);
  const neighbours = edgeNeighbours(welded, good, triangles);
  const groups = groupCorners(welded, good, neighbours, derivatives);

  for (const group of groups) {
    const tangents = groupTangents(group, positions, normals, welded, derivatives);
    for (const [t, value] of tangents) {
      const corner = t * 3 + cornerOf(welded, t, group.vertex);
      for (let k = 0; k < 3; k++) result[corner * 4 + k] = value[k]!;
      result[corner * 4 + 3] = group.preservesOrientation ? 1 : -1;
    }
  }
  borrowForDegenerate(result, welded, good, degenerate);
  return result;
}

interface Derivatives {
  /** Unit ∂P/∂s for each triangle, turned over where UVs are mirrored. */
  os: Float64Array;
  ot: Float64Array;
  /** 1 where the UV triangle runs the same way round as the triangle in space. */
  preserves: Uint8Array;
  /** 1 where the UV triangle has no area, so that the triangle may join any group. */
  joinsAny: Uint8Array;
}

interface Group {
  vertex: number;
  preservesOrientation: boolean;
  triangles: number[];
}

type Vector = [number, number, number];

function hasRepeatedPosition(positions: Float32Array, welded: Uint32Array, t: number): boolean {
  const [a, b, c] = [welded[t * 3]! * 3, welded[t * 3 + 1]! * 3, welded[t * 3 + 2]! * 3];
  const same = (i: number, j: number): boolean =>
    positions[i] === positions[j] && positions[i + 1] === positions[j + 1] && positions[i + 2] === positions[j + 2];
  return same(a, b) || same(a, c) || same(b, c);
}

function firstOrderDerivatives(
  positions: Float32Array,
  uvs: Float32Array,
  welded: Uint32Array,
  good: number[],
  triangles: number,
): Derivatives {
  const os = new Float64Array(triangles * 3);
  const ot = new Float64Array(triangles * 3);
  const preserves = new Uint8Array(triangles);
  const joinsAny = new Uint8Array(triangles).fill(1);
  for (const t of good) {
    const [a, b, c] = [welded[t * 3]!, welded[t * 3 + 1]!, welded[t * 3 + 2]!];
    const bs = uvs[b * 2]! - uvs[a * 2]!;
    const bt = uvs[b * 2 + 1]! - uvs[a * 2 + 1]!;
    const cs = uvs[c * 2]! - uvs[a * 2]!;
    const ct = uvs[c * 2 + 1]! - uvs[a * 2 + 1]!;
    const area = bs * ct - bt * cs;
    preserves[t] = area > 0 ? 1 : 0;
    if (!(Math.abs(area) > FLOAT_MIN)) continue;
    const sign = area > 0 ? 1 : -1;
    let lengthS = 0;
    let lengthT = 0;
    for (let k = 0; k < 3; k++) {
      const ab = positions[b * 3 + k]! - positions[a * 3 + k]!;
      const ac = positions[c * 3 + k]! - positions[a * 3 + k]!;
      const s = ct * ab - bt * ac;
      const u = -cs * ab + bs * ac;
      os[t * 3 + k] = s;
      ot[t * 3 + k] = u;
      lengthS += s * s;
      lengthT += u * u;
    }
    lengthS = Math.sqrt(lengthS);
    lengthT = Math.sqrt(lengthT);
    for (let k = 0; k < 3; k++) {
      if (lengthS > FLOAT_MIN) os[t * 3 + k]! *= sign / lengthS;
      if (lengthT > FLOAT_MIN) ot[t * 3 + k]! *= sign / lengthT;
    }
    if (lengthS > FLOAT_MIN && lengthT > FLOAT_MIN) joinsAny[t] = 0;
  }
  return { os, ot, preserves, joinsAny };
}

/** For each corner the triangle across the edge to the next corner, or −1; edges pair only if they run opposite ways. */
function edgeNeighbours(welded: Uint32Array, good: number[], triangles: number): Int32Array {
  const neighbours = new Int32Array(triangles * 3).fill(-1);
  const waiting = new WaitingEdges(welded, good.length * 3);
  for (const t of good) {
    for (let c = 0; c < 3; c++) {
      const edge = t * 3 + c;
      const partner = waiting.takeOpposite(edge);
      if (partner < 0) waiting.add(edge);
      else {
        neighbours[edge] = Math.floor(partner / 3);
        neighbours[partner] = t;
      }
    }
  }
  return neighbours;
}

/** Edges by their ends, each with those that run the same way in the order in which they came: a hash table. */
class WaitingEdges {
  private readonly welded: Uint32Array;
  private readonly mask: number;
  /** Of each place of the table, an edge whose ends it has; −1 for none. */
  private readonly named: Int32Array;
  private readonly heads: Int32Array;
  private readonly tails: Int32Array;
  private readonly next: Int32Array;

  constructor(welded: Uint32Array, count: number) {
    let capacity = 16;
    while (capacity < count * 2) capacity *= 2;
    this.welded = welded;
    this.mask = capacity - 1;
    this.named = new Int32Array(capacity).fill(-1);
    this.heads = new Int32Array(capacity).fill(-1);
    this.tails = new Int32Array(capacity);
    this.next = new Int32Array(welded.length).fill(-1);
  }

  private from(edge: number): number {
    return this.welded[edge]!;
  }

  private to(edge: number): number {
    return this.welded[edge % 3 === 2 ? edge - 2 : edge + 1]!;
  }

  /** The place of two ends, or a free one. */
  private placeOf(from: number, to: number): number {
    let hash = Math.imul(from, 0x9e3779b1) ^ Math.imul(to, 0x85ebca77);
    hash = Math.imul(hash ^ (hash >>> 15), 0x2c1b3c6d);
    let place = (hash ^ (hash >>> 13)) & this.mask;
    for (;;) {
      const named = this.named[place]!;
      if (named < 0 || (this.from(named) === from && this.to(named) === to)) return place;
      place = (place + 1) & this.mask;
    }
  }

  add(edge: number): void {
    const place = this.placeOf(this.from(edge), this.to(edge));
    if (this.named[place]! < 0) this.named[place] = edge;
    if (this.heads[place]! < 0) this.heads[place] = edge;
    else this.next[this.tails[place]!] = edge;
    this.tails[place] = edge;
  }

  /** Takes out the first edge that runs the other way. @returns −1 for none */
  takeOpposite(edge: number): number {
    const place = this.placeOf(this.to(edge), this.from(edge));
    const first = this.heads[place]!;
    if (first >= 0) this.heads[place] = this.next[first]!;
    return first;
  }
}

function cornerOf(welded: Uint32Array, t: number, vertex: number): number {
  if (welded[t * 3] === vertex) return 0;
  return welded[t * 3 + 1] === vertex ? 1 : 2;
}

/** The reference's "4 rule" groups: fans of edge-connected triangles of one orientation around each vertex. */
function groupCorners(
  welded: Uint32Array,
  good: number[],
  neighbours: Int32Array,
  { preserves, joinsAny }: Derivatives,
): Group[] {
  const assigned: (Group | undefined)[] = new Array<Group | undefined>(welded.length);
  const groups: Group[] = [];
  const stack: number[] = [];
  for (const first of good) {
    if (joinsAny[first]) continue;
    for (let corner = 0; corner < 3; corner++) {
      if (assigned[first * 3 + corner]) continue;
      const vertex = welded[first * 3 + corner]!;
      const group: Group = { vertex, preservesOrientation: preserves[first] === 1, triangles: [first] };
      groups.push(group);
      assigned[first * 3 + corner] = group;
      const visitAround = (t: number, c: number): void => {
        stack.push(neighbours[t * 3 + ((c + 2) % 3)]!, neighbours[t * 3 + c]!);
      };
      visitAround(first, corner);
      while (stack.length > 0) {
        const t = stack.pop()!;
        if (t < 0) continue;
        const c = cornerOf(welded, t, vertex);
        if (assigned[t * 3 + c]) continue;
        if (joinsAny[t] && !assigned[t * 3] && !assigned[t * 3 + 1] && !assigned[t * 3 + 2]) {
          preserves[t] = group.preservesOrientation ? 1 : 0;
        }
        if ((preserves[t] === 1) !== group.preservesOrientation) continue;
        group.triangles.push(t);
        assigned[t * 3 + c] = group;
        visitAround(t, c);
      }
    }
  }
  return groups;
}

function* groupTangents(
  { vertex, triangles }: Group,
  positions: Float32Array,
  normals: Float32Array,
  welded: Uint32Array,
  { os, ot, joinsAny }: Derivatives,
): Generator<[number, Vector]> {
  const normal = vectorAt(normals, vertex);
  const projected = triangles.map((t) => ({
    t,
    s: unit(reject(vectorAt(os, t), normal)),
    u: unit(reject(vectorAt(ot, t), normal)),
  }));
  const evaluated = new Map<string, Vector>();
  for (const own of projected) {
    // Only frames pointing exactly opposite ways (cosine −1) stay apart at the 180° threshold.
    const members = projected.filter(
      (other) =>
        other.t === own.t ||
        joinsAny[own.t] === 1 ||
        joinsAny[other.t] === 1 ||
        (dot(own.s, other.s) > -1 && dot(own.u, other.u) > -1),
    );
    const key = members.length === projected.length ? 'all' : members.map((m) => m.t).join();
    let tangent = evaluated.get(key);
    if (!tangent) {
      const sum: Vector = [0, 0, 0];
      for (const { t, s } of members) {
        if (joinsAny[t]) continue;
        const angle = cornerAngle(positions, welded, t, cornerOf(welded, t, vertex), normal);
        for (let k = 0; k < 3; k++) sum[k]! += angle * s[k]!;
      }
      tangent = unit(sum);
      evaluated.set(key, tangent);
    }
    yield [own.t, tangent];
  }
}

/** The angle at a corner after both edges are projected into the plane of the vertex normal. */
function cornerAngle(positions: Float32Array, welded: Uint32Array, t: number, c: number, normal: Vector): number {
  const at = vectorAt(positions, welded[t * 3 + c]!);
  const edge = (to: number): Vector => {
    const end = vectorAt(positions, welded[t * 3 + to]!);
    return unit(reject([end[0] - at[0], end[1] - at[1], end[2] - at[2]], normal));
  };
  return Math.acos(Math.max(-1, Math.min(1, dot(edge((c + 2) % 3), edge((c + 1) % 3)))));
}

function borrowForDegenerate(result: Float32Array, welded: Uint32Array, good: number[], degenerate: number[]): void {
  if (degenerate.length === 0) return;
  const donor = new Map<number, number>();
  for (const t of good) {
    for (let c = t * 3; c < t * 3 + 3; c++) if (!donor.has(welded[c]!)) donor.set(welded[c]!, c);
  }
  for (const t of degenerate) {
    for (let c = t * 3; c < t * 3 + 3; c++) {
      const from = donor.get(welded[c]!);
      if (from !== undefined) result.copyWithin(c * 4, from * 4, from * 4 + 4);
    }
  }
}

const vectorAt = (array: Float32Array | Float64Array, index: number): Vector => [
  array[index * 3]!,
  array[index * 3 + 1]!,
  array[index * 3 + 2]!,
];

const dot = (a: Vector, b: Vector): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

function reject(vector: Vector, normal: Vector): Vector {
  const along = dot(vector, normal);
  return [vector[0] - along * normal[0], vector[1] - along * normal[1], vector[2] - along * normal[2]];
}

function unit(vector: Vector): Vector {
  const length = Math.sqrt(dot(vector, vector));
  if (!(length > FLOAT_MIN)) return vector;
  return [vector[0] / length, vector[1] / length, vector[2] / length];
}
