import { BLOCK } from '../bake/coverage/blocks.ts';
import { Coverage } from '../bake/coverage/coverage.ts';
import { CornerFrames } from '../bake/tangents/cornerFrames.ts';
import { placesFor, type Places } from '../pattern/domain.ts';
import type { LayeredTile } from './layeredSurface.ts';

/** The most texels that a block has; also the distance between the planes of what has several values. */
export const TEXELS = BLOCK * BLOCK;

/** Where the texels of a block lie, as a block takes it up. */
export type BlockPlaces = Pick<TexelBlock, 'count' | 'at' | 'triangles' | 'weights' | 'u' | 'v' | 'places' | 'normals'>;

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
  private readonly coverage: Coverage;
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
    const before = known?.get(block);
    if (before) {
      Object.assign(this, before);
      return this.count;
    }
    if (known) Object.assign(this, newPlaces());
    this.find(block);
    if (known) known.set(block, this.found());
    return this.count;
  }

  private found(): BlockPlaces {
    const { count, at, triangles, weights, u, v, places, normals } = this;
    return { count, at, triangles, weights, u, v, places, normals };
  }

  private find(block: number): void {
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
    if (count > 0) this.stand();
  }

  /**
   * Takes up single places on the surface in place of a block, so that layers can be asked what they do there.
   * @param triangles, weights at most `TEXELS` places: their triangles, and the weights of the second and third corner
   */
  standOn(triangles: Uint32Array, weights: Float64Array): void {
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
    for (let i = 0; i < count; i++) {
      const corner = triangles[i]! * 3;
      const a = indices[corner]!;
      const b = indices[corner + 1]!;
      const c = indices[corner + 2]!;
      const wb = weights[i * 2]!;
      const wc = weights[i * 2 + 1]!;
      const wa = 1 - wb - wc;
      u[i] = uvs[a * 2]! * wa + uvs[b * 2]! * wb + uvs[c * 2]! * wc;
      v[i] = uvs[a * 2 + 1]! * wa + uvs[b * 2 + 1]! * wb + uvs[c * 2 + 1]! * wc;
      x[i] = positions[a * 3]! * wa + positions[b * 3]! * wb + positions[c * 3]! * wc;
      y[i] = positions[a * 3 + 1]! * wa + positions[b * 3 + 1]! * wb + positions[c * 3 + 1]! * wc;
      z[i] = positions[a * 3 + 2]! * wa + positions[b * 3 + 2]! * wb + positions[c * 3 + 2]! * wc;
      const nx = own[a * 3]! * wa + own[b * 3]! * wb + own[c * 3]! * wc;
      const ny = own[a * 3 + 1]! * wa + own[b * 3 + 1]! * wb + own[c * 3 + 1]! * wc;
      const nz = own[a * 3 + 2]! * wa + own[b * 3 + 2]! * wb + own[c * 3 + 2]! * wc;
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
