import { BLOCK } from '../../bake/coverage/blocks.ts';
import { Coverage } from '../../bake/coverage/coverage.ts';
import { CornerFrames } from '../../bake/tangents/cornerFrames.ts';
import { placesFor, type Places } from '../../pattern/domain.ts';
import type { LayeredTile } from './layeredSurface.ts';

/** The most texels that a block has; also the distance between the planes of what has several values. */
export const TEXELS = BLOCK * BLOCK;

/** Numbers of a corner. */
const CORNER = 8;

/** Where the texels of a block lie, as a block takes it up. */
export type BlockPlaces = Pick<TexelBlock, 'count' | 'at' | 'triangles' | 'weights' | 'u' | 'v' | 'places' | 'normals'>;

/** Writes the numbers of those texels of a block that are wanted, in their order. @returns how many they are */
export type PickTexels = (block: Pick<BlockPlaces, 'count' | 'places'>, taken: Uint32Array) => number;

const newPlaces = (): BlockPlaces => ({
  count: 0,
  at: new Uint32Array(TEXELS),
  triangles: new Uint32Array(TEXELS),
  weights: new Float64Array(TEXELS * 2),
  u: new Float64Array(TEXELS),
  v: new Float64Array(TEXELS),
  places: placesFor(TEXELS),
  normals: new Float32Array(TEXELS * 3),
});

/** Copies some of many values. */
function take<Values extends Uint32Array | Float32Array | Float64Array>(
  from: Values,
  to: Values,
  taken: Uint32Array,
  count: number,
  width = 1,
  offset = 0,
): void {
  for (let n = 0; n < count; n++) to[n * width + offset] = from[taken[n]! * width + offset]!;
}

/**
 * The texels of one block that the layout covers, with where each lies on the surface. Reused from block to block; what
 * has three values is three planes, each `TEXELS` long.
 */
export class TexelBlock {
  readonly tile: LayeredTile;
  /** How many texels there are. */
  count = 0;
  /** Where each lies in the map, y · width + x. */
  at = new Uint32Array(TEXELS);
  triangles = new Uint32Array(TEXELS);
  /** Barycentric weights of the second and third corner. */
  weights = new Float64Array(TEXELS * 2);
  /** Place in the tile, 0 to 1, v upwards. */
  u = new Float64Array(TEXELS);
  v = new Float64Array(TEXELS);
  /** Where each lies in space, in millimetres. */
  places: Places = placesFor(TEXELS);
  /** Unit normals of the mesh, interpolated. */
  normals = new Float32Array(TEXELS * 3);
  /** The block that these are only some texels of, and which of its texels they are; null while they are all. */
  part: { whole: BlockPlaces; taken: Uint32Array } | null = null;
  private readonly some = newPlaces();
  private readonly taken = new Uint32Array(TEXELS);
  private readonly coverage: Coverage;
  /** Of the corners of one triangle: u, v, place and normal. */
  private readonly corners = new Float64Array(CORNER * 3);
  private readonly frames = new CornerFrames();

  constructor(tile: LayeredTile) {
    this.tile = tile;
    this.coverage = new Coverage(tile.uvs, tile.surface.receiver.indices, tile.plan, 1);
  }

  /**
   * Takes up the texels of a block.
   * @param known where blocks are remembered, by their numbers, for whoever composes the same tile again and again
   * @returns how many there are
   */
  load(block: number, known?: Map<number, BlockPlaces>): number {
    this.endPart();
    const before = known?.get(block);
    if (before) {
      Object.assign(this, before);
      return this.count;
    }
    if (known) Object.assign(this, newPlaces());
    if (this.loadTexels(block) > 0) this.stand();
    if (known) known.set(block, this.found());
    return this.count;
  }

  /** Goes on with some of the texels alone. */
  keepSome(pick: PickTexels): void {
    const whole = this.found();
    const { some, taken } = this;
    const count = pick(whole, taken);
    take(whole.at, some.at, taken, count);
    take(whole.triangles, some.triangles, taken, count);
    take(whole.u, some.u, taken, count);
    take(whole.v, some.v, taken, count);
    for (const odd of [0, 1]) take(whole.weights, some.weights, taken, count, 2, odd);
    for (const k of [0, 1, 2] as const) {
      take(whole.places[k], some.places[k], taken, count);
      take(whole.normals.subarray(k * TEXELS), some.normals.subarray(k * TEXELS), taken, count);
    }
    Object.assign(this, some, { count, part: { whole, taken } });
  }

  /** All texels of the block again, where only some were gone on with. */
  private endPart(): void {
    if (this.part) Object.assign(this, this.part.whole);
    this.part = null;
  }

  private found(): BlockPlaces {
    const { count, at, triangles, weights, u, v, places, normals } = this;
    return { count, at, triangles, weights, u, v, places, normals };
  }

  /**
   * Tells the texels of a block without finding where they lie on the surface.
   * @returns how many there are, named by `at`
   */
  loadTexels(block: number): number {
    this.endPart();
    const { plan, size } = this.tile;
    const samples = this.coverage.sampleBlock(block);
    const left = (block % plan.columns) * BLOCK;
    const top = Math.floor(block / plan.columns) * BLOCK;
    let count = 0;
    let last = -1;
    for (let s = 0; s < samples.count; s++) {
      const texel = samples.texels[s]!;
      if (texel === last) continue;
      last = texel;
      this.at[count] = (top + Math.floor(texel / BLOCK)) * size.width + left + (texel % BLOCK);
      this.triangles[count] = samples.triangles[s]!;
      this.weights[count * 2] = samples.weights[s * 2]!;
      this.weights[count * 2 + 1] = samples.weights[s * 2 + 1]!;
      count++;
    }
    this.count = count;
    return count;
  }

  /**
   * Takes up single places on the surface in place of a block, so that layers can be asked what they do there.
   * @param triangles, weights at most `TEXELS` places: their triangles, and the weights of the second and third corner
   */
  standOn(triangles: Uint32Array, weights: Float64Array): void {
    this.part = null;
    this.count = triangles.length;
    this.triangles.set(triangles);
    this.weights.set(weights);
    this.stand();
    const { width, height } = this.tile.size;
    for (let i = 0; i < this.count; i++) {
      const x = Math.max(0, Math.min(width - 1, Math.floor(this.u[i]! * width)));
      const y = Math.max(0, Math.min(height - 1, Math.floor((1 - this.v[i]!) * height)));
      this.at[i] = y * width + x;
    }
  }

  /** Finds where the texels lie. */
  private stand(): void {
    const { count, triangles, weights, u, v, places, normals, tile } = this;
    const { positions, normals: own, indices } = tile.surface.receiver;
    const { uvs } = tile;
    const [x, y, z] = places;
    // Texels of a triangle mostly follow each other: what its corners have is looked up once for all of them.
    const corners = this.corners;
    let last = -1;
    for (let i = 0; i < count; i++) {
      if (triangles[i] !== last) {
        last = triangles[i]!;
        for (let corner = 0; corner < 3; corner++) {
          const vertex = indices[last * 3 + corner]!;
          const to = corner * CORNER;
          corners[to] = uvs[vertex * 2]!;
          corners[to + 1] = uvs[vertex * 2 + 1]!;
          for (let k = 0; k < 3; k++) {
            corners[to + 2 + k] = positions[vertex * 3 + k]!;
            corners[to + 5 + k] = own[vertex * 3 + k]!;
          }
        }
      }
      const wb = weights[i * 2]!;
      const wc = weights[i * 2 + 1]!;
      const wa = 1 - wb - wc;
      u[i] = corners[0]! * wa + corners[8]! * wb + corners[16]! * wc;
      v[i] = corners[1]! * wa + corners[9]! * wb + corners[17]! * wc;
      x[i] = corners[2]! * wa + corners[10]! * wb + corners[18]! * wc;
      y[i] = corners[3]! * wa + corners[11]! * wb + corners[19]! * wc;
      z[i] = corners[4]! * wa + corners[12]! * wb + corners[20]! * wc;
      const nx = corners[5]! * wa + corners[13]! * wb + corners[21]! * wc;
      const ny = corners[6]! * wa + corners[14]! * wb + corners[22]! * wc;
      const nz = corners[7]! * wa + corners[15]! * wb + corners[23]! * wc;
      const scale = 1 / (Math.sqrt(nx * nx + ny * ny + nz * nz) || 1);
      normals[i] = nx * scale;
      normals[TEXELS + i] = ny * scale;
      normals[TEXELS * 2 + i] = nz * scale;
    }
  }

  /**
   * A direction in space as one in the tangent space of a texel, so that a MikkTSpace renderer sees the direction.
   * @param out told three values, not of unit length
   */
  toTangentSpace(texel: number, x: number, y: number, z: number, out: Float64Array): void {
    const { frames, triangles, weights, tile } = this;
    const { receiver } = tile.surface;
    const triangle = triangles[texel]!;
    if (frames.triangle !== triangle || frames.receiver !== receiver) frames.load(receiver, triangle);
    out.fill(0);
    frames.add(weights[texel * 2]!, weights[texel * 2 + 1]!, x, y, z, out);
  }
}
