import type { Kernel } from '../kernel/kernel.ts';
import { CAPACITY, type KernelTree } from '../trace/index.ts';
import type { HitBatch } from '../trace/rays.ts';
import type { LaidLight } from './lightMemory.ts';
import { pathRoom, type Batch, type PathRoom } from './pathRoom.ts';
import type { SurfaceReader } from './surfaceReader.ts';

/** Numbers in the lobes of a path and in its surface, as kernel/light/paths.ts has them. */
const [LOBES, SURFACE] = [16, 12];
/** Holes that a ray passes through one behind the other; what is behind so many is not seen. */
const MOST_LAYERS = 255;

/**
 * Unidirectional path tracing in wavefronts: at each vertex one light is sampled and one direction by the BSDF, and both
 * estimates are combined by multiple importance sampling (Veach, "Robust Monte Carlo Methods for Light Transport
 * Simulation", 1997: next-event estimation, balance heuristic, Russian roulette). All paths are extended one vertex at a
 * time, so that their rays make one batch. The kernel does it (kernel/light); what it is told from here is what surfaces
 * are made of whose pictures it cannot look up.
 */
export class PathTracer {
  /** Rays of paths that were cast so far. */
  cast = 0;
  /** Where paths are laid out: triangles, weights, widths, slots (of `counted`), samples and seeds. */
  readonly starts: PathRoom;
  /** What is added to. */
  readonly counted: Float64Array;
  private readonly tree: KernelTree;
  private readonly kernel: Kernel;
  private readonly surfaces: SurfaceReader;
  private readonly seesSky: boolean;
  private readonly scene: number;
  private readonly room: number;
  private readonly traceRoom: number;
  private readonly countedAt: number;

  /**
   * @param kernel an instance over the tree's memory, of this thread's own @param thread whose rooms it works in
   * @param countedDoubles how many were laid for it @param seesSky whether it is also counted how much of it is open
   */
  constructor(
    tree: KernelTree,
    kernel: Kernel,
    laid: LaidLight,
    thread: number,
    countedDoubles: number,
    surfaces: SurfaceReader,
    seesSky: boolean,
  ) {
    this.tree = tree;
    this.kernel = kernel;
    this.surfaces = surfaces;
    this.seesSky = seesSky;
    this.scene = laid.scene;
    this.room = laid.rooms[thread]!;
    this.traceRoom = tree.rooms[thread]!;
    this.countedAt = laid.counted[thread]!;
    this.starts = pathRoom(kernel.memory.buffer, this.room);
    this.counted = new Float64Array(kernel.memory.buffer, this.countedAt, countedDoubles);
  }

  /** @param count paths laid out, up to `PATHS` */
  trace(count: number): void {
    const { scene, room, countedAt } = this;
    const { exports } = this.kernel;
    const { next, rayPaths } = this.starts;
    this.tellSent(count, this.starts.triangles, this.starts.weights, null);
    let alive = exports.beginPaths(scene, room, count, countedAt);
    if (this.seesSky && alive > 0) {
      exports.aimAtSky(scene, room, alive);
      this.castShadows(alive);
      exports.countOpenSky(scene, room, alive, countedAt);
    }
    for (let depth = 0; alive > 0; depth++) {
      this.tellSurfaces(alive);
      const rays = exports.scatterPaths(scene, room, alive, depth);
      const shadowRays = exports.queuedShadows();
      if (shadowRays > 0) {
        this.tellShadows(shadowRays);
        this.castShadows(shadowRays);
        exports.countUnoccluded(scene, room, shadowRays, depth, countedAt);
      }
      if (rays === 0) return;
      this.follow(next, rays, false);
      if (this.surfaces.anyHoles) {
        this.passHoles(next.hits, rays, rayPaths, (passing, layer) =>
          exports.passRays(scene, room, passing, depth, layer),
        );
      }
      this.tellSent(rays, next.hits.triangles, next.hits.weights, rayPaths);
      alive = exports.extendPaths(scene, room, rays, depth, countedAt);
    }
  }

  /** Casts shadow rays, which holes let through in part. */
  private castShadows(count: number): void {
    const { scene, room, surfaces } = this;
    const { shadows, shadowPaths } = this.starts;
    this.follow(shadows, count, !surfaces.anyHoles);
    this.passHoles(shadows.hits, count, shadowPaths, (passing, layer) =>
      this.kernel.exports.passShadows(scene, room, passing, layer),
    );
  }

  /** Lets rays pass through holes, layer by layer. @param paths of the rays @param pass tells how many go on */
  private passHoles(
    hits: HitBatch,
    count: number,
    paths: Int32Array,
    pass: (count: number, layer: number) => number,
  ): void {
    const { behind, behindOf } = this.starts;
    this.tellOpacities(count, hits, (r) => paths[r]!);
    let passing = pass(count, 0);
    for (let layer = 1; passing > 0 && layer <= MOST_LAYERS; layer++) {
      this.follow(behind, passing, false);
      this.tellOpacities(passing, behind.hits, (k) => paths[behindOf[k]!]!);
      passing = pass(passing, layer);
    }
  }

  /** Tells how much is there of what rays have met, where that varies. @param pathOf of each ray */
  private tellOpacities(count: number, { triangles, weights }: HitBatch, pathOf: (ray: number) => number): void {
    const { surfaces } = this;
    if (!surfaces.anyHoles) return;
    const { opacities, widths } = this.starts;
    for (let r = 0; r < count; r++) {
      const triangle = triangles[r]!;
      if (triangle < 0 || !surfaces.holesVary(triangle)) continue;
      const logWidth = Math.log2(widths[pathOf(r)]!);
      opacities[r] = surfaces.opacityAt(triangle, weights[r * 2]!, weights[r * 2 + 1]!, logWidth);
    }
  }

  private follow(batch: Batch, count: number, any: boolean): void {
    this.cast += count;
    this.castRays(batch, count, any);
  }

  /** Finds what rays of this room meet first; any will do where only whether they do is asked. */
  castRays({ rays, hits }: Batch, count: number, any: boolean): void {
    const { nodes, packets, root, box } = this.tree.trees[0]!;
    this.kernel.exports.trace(
      nodes,
      packets,
      root,
      box,
      rays.origins.byteOffset,
      rays.directions.byteOffset,
      rays.lengths.byteOffset,
      count,
      this.traceRoom,
      CAPACITY,
      false,
      any,
      hits.triangles.byteOffset,
      hits.distances.byteOffset,
      hits.weights.byteOffset,
    );
  }

  /** Tells what the places of paths are made of, where that varies. */
  private tellSurfaces(alive: number): void {
    const { surfaces } = this;
    if (!surfaces.anyTold) return;
    const { rayPaths, triangles, weights, widths, surfaces: told } = this.starts;
    for (let k = 0; k < alive; k++) {
      const path = rayPaths[k]!;
      const triangle = triangles[path]!;
      if (!surfaces.isTold(triangle)) continue;
      const logWidth = Math.log2(widths[path]!);
      surfaces.tell(triangle, weights[path * 2]!, weights[path * 2 + 1]!, logWidth, told, path * SURFACE);
    }
  }

  /** Tells what places send, where that varies. @param paths of each; null where they are the paths' own */
  private tellSent(
    count: number,
    triangles: Int32Array,
    weights: Float32Array | Float64Array,
    paths: Int32Array | null,
  ): void {
    const { surfaces } = this;
    if (!surfaces.anySendsVarying) return;
    const { sent, widths } = this.starts;
    for (let r = 0; r < count; r++) {
      const triangle = triangles[r]!;
      if (triangle < 0 || !surfaces.sendsVarying(triangle)) continue;
      const logWidth = Math.log2(widths[paths ? paths[r]! : r]!);
      const radiance = surfaces.radianceAt(triangle, weights[r * 2]!, weights[r * 2 + 1]!, logWidth);
      for (let c = 0; c < 3; c++) sent[r * 4 + c] = radiance[c]!;
    }
  }

  /** Gives shadow rays the light of where they go to, where that varies: they were queued as if it were white. */
  private tellShadows(count: number): void {
    const { surfaces } = this;
    if (!surfaces.anySendsVarying) return;
    const { pending, shadowTriangles, shadowWeights, shadowPaths, widths } = this.starts;
    for (let s = 0; s < count; s++) {
      const triangle = shadowTriangles[s]!;
      if (triangle < 0) continue;
      const logWidth = Math.log2(widths[shadowPaths[s]!]!);
      const [wb, wc] = [shadowWeights[s * 2]!, shadowWeights[s * 2 + 1]!];
      const radiance = surfaces.radianceAt(triangle, wb, wc, logWidth);
      const opacity = surfaces.holesVary(triangle) ? surfaces.opacityAt(triangle, wb, wc, logWidth) : 1;
      for (let k = 0; k < LOBES; k++) pending[s * LOBES + k]! *= k % 4 < 3 ? radiance[k % 4]! * opacity : 0;
    }
  }
}
