import type { LayeredSurface } from '../../surface/layeredSurface.ts';
import { halfEdges } from '../../surface/halfEdges.ts';
import { STEEPEST, unevennessOf, type Unevenness } from './unevenness.ts';

/** Told the way of a drop. */
export interface Way {
  /**
   * Told each straight piece within one triangle, by the weights of the second and third corner at its ends.
   * @param length of the piece, and of the way before it, in millimetres
   */
  leave(triangle: number, fromB: number, fromC: number, toB: number, toC: number, length: number, before: number): void;
}

export interface FlowSettings {
  /** Where gravity pulls. */
  down: readonly [number, number, number];
  /** How far drops are led aside by unevenness of the surface, as the slope of that unevenness. */
  wander: number;
  /** Width of that unevenness, in millimetres. */
  wanderSize: number;
  /** Drops fall off surfaces that overhang by more degrees than this. */
  clings: number;
  seed: number;
}

/** How a drop ended. */
export type DropEnd = 'far' | 'fallen' | 'pooled';

/** Pieces in place of which a drop may turn without going anywhere. */
const MOST_TURNS = 12;
/** Pieces of one drop at most. */
const MOST_PIECES = 100_000;

/**
 * The way of drops over a mesh: down as gravity lies in the surface, led aside by its unevenness (a smooth noise in space,
 * which is the same for every drop, so that neighbours join in its valleys), along creases where both sides lead into them.
 * After Dorsey, Pedersen and Hanrahan, "Flow and Changes in Appearance", 1996: gravity, roughness and adhesion move
 * particles over a surface; the pieces here are exact within each triangle.
 */
export class Flow {
  private readonly settings: FlowSettings;
  private readonly aside: Unevenness;
  private readonly planes: Float32Array;
  /** The half-edge on the other side, twice, and one more where it begins at the same place; −1 where there is none. */
  private readonly beyond: Int32Array;

  constructor(surface: Pick<LayeredSurface, 'receiver' | 'welded' | 'repeats'>, settings: FlowSettings) {
    const { receiver, repeats } = surface;
    const { corners, twins } = halfEdges(surface);
    this.settings = settings;
    this.aside = unevennessOf(settings.wanderSize, settings.seed, repeats);
    this.planes = trianglePlanes(receiver.positions, receiver.indices);
    this.beyond = twins.map((twin, edge) => (twin < 0 ? -1 : twin * 2 + (corners[edge] === corners[twin] ? 1 : 0)));
  }

  /**
   * Lets one drop run.
   * @param b, c weights of the second and third corner where it starts
   * @param far where it stops at the latest, in millimetres
   */
  run(triangle: number, b: number, c: number, far: number, way: Way): DropEnd {
    const { planes, beyond } = this;
    const { clings, wander, down } = this.settings;
    const { slopes, cells, periods, cell } = this.aside;
    const [downX, downY, downZ] = down;
    const [nx, ny, nz] = cells;
    const [perX, perY, perZ] = [1 / periods[0], 1 / periods[1], 1 / periods[2]];
    const lead = (wander * STEEPEST) / 127;
    const overhang = Math.sin((clings * Math.PI) / 180);
    let gone = 0;
    let turns = 0;
    // The way that drops are led, and how far until it is asked again.
    let x = downX;
    let y = downY;
    let z = downZ;
    let until = wander > 0 ? 0 : Infinity;
    const longest = wander > 0 ? cell : Infinity;
    /** The side that the triangle was entered by; −1 for none. */
    let entered = -1;
    for (let guard = 0; guard < MOST_PIECES; guard++) {
      const at = triangle * NUMBERS;
      const normalX = planes[at]!;
      const normalY = planes[at + 1]!;
      const normalZ = planes[at + 2]!;
      if (normalX * downX + normalY * downY + normalZ * downZ > overhang) return 'fallen';
      // Down, and aside by the unevenness there.
      if (gone >= until) {
        until = gone + cell;
        const u = (planes[at + 9]! + planes[at + 12]! * b + planes[at + 15]! * c) * perX;
        const v = (planes[at + 10]! + planes[at + 13]! * b + planes[at + 16]! * c) * perY;
        const w = (planes[at + 11]! + planes[at + 14]! * b + planes[at + 17]! * c) * perZ;
        const i = Math.min(nx - 1, ((u - Math.floor(u)) * nx) | 0);
        const j = Math.min(ny - 1, ((v - Math.floor(v)) * ny) | 0);
        const k = Math.min(nz - 1, ((w - Math.floor(w)) * nz) | 0);
        const slope = ((k * ny + j) * nx + i) * 3;
        x = downX + slopes[slope]! * lead;
        y = downY + slopes[slope + 1]! * lead;
        z = downZ + slopes[slope + 2]! * lead;
      }
      // In the plane of the triangle, a millimetre of it.
      const off = x * normalX + y * normalY + z * normalZ;
      const within = x * x + y * y + z * z - off * off;
      if (within < LEVEL * LEVEL) return 'pooled';
      const scale = 1 / Math.sqrt(within);
      const rateB = (x * planes[at + 3]! + y * planes[at + 4]! + z * planes[at + 5]!) * scale;
      const rateC = (x * planes[at + 6]! + y * planes[at + 7]! + z * planes[at + 8]!) * scale;
      const rateA = -rateB - rateC;
      let side = -1;
      let step = Math.min(longest, far - gone);
      let toB: number;
      let toC: number;
      if (entered >= 0 && (entered === 0 ? rateC : entered === 1 ? rateA : rateB) < 0) {
        // Both sides lead into the crease: along it, then on the other side again.
        side = entered;
        const [edgeX, edgeY, edgeZ] = [this.edge(at, side, 0), this.edge(at, side, 1), this.edge(at, side, 2)];
        const length = Math.sqrt(edgeX * edgeX + edgeY * edgeY + edgeZ * edgeZ);
        const falls = edgeX * downX + edgeY * downY + edgeZ * downZ;
        if (length === 0 || Math.abs(falls) < LEVEL * length) return 'pooled';
        const share = shareAlong(side, b, c);
        step = Math.min(step, (falls > 0 ? 1 - share : share) * length);
        const end = Math.max(0, Math.min(1, share + (falls > 0 ? step : -step) / length));
        toB = side === 0 ? end : side === 1 ? 1 - end : 0;
        toC = side === 1 ? end : side === 2 ? 1 - end : 0;
      } else {
        // The way to the first side: the weight of the corner opposite to it reaches 0 there.
        if (rateA < 0 && 1 - b - c < -rateA * step) {
          step = Math.max(0, (1 - b - c) / -rateA);
          side = 1;
        }
        if (rateB < 0 && b < -rateB * step) {
          step = Math.max(0, b / -rateB);
          side = 2;
        }
        if (rateC < 0 && c < -rateC * step) {
          step = Math.max(0, c / -rateC);
          side = 0;
        }
        toB = b + rateB * step;
        toC = c + rateC * step;
      }
      if (step > 0) way.leave(triangle, b, c, toB, toC, step, gone);
      gone += step;
      b = toB;
      c = toC;
      if (gone >= far) return 'far';
      turns = step > 1e-6 ? 0 : turns + 1;
      if (turns > MOST_TURNS) return 'pooled';
      entered = -1;
      if (side < 0) continue;
      const other = beyond[triangle * 3 + side]!;
      if (other < 0) return 'fallen';
      // Neighbours mostly go along their common edge in opposite directions.
      const along = shareAlong(side, b, c);
      const share = other & 1 ? along : 1 - along;
      const twin = other >> 1;
      triangle = Math.floor(twin / 3);
      entered = twin - triangle * 3;
      b = entered === 0 ? share : entered === 1 ? 1 - share : 0;
      c = entered === 1 ? share : entered === 2 ? 1 - share : 0;
    }
    return 'pooled';
  }

  /** The way along a side of a triangle, on one axis. */
  private edge(at: number, side: number, axis: number): number {
    const second = this.planes[at + 12 + axis]!;
    const third = this.planes[at + 15 + axis]!;
    return side === 0 ? second : side === 1 ? third - second : -third;
  }
}

/**
 * Numbers of each triangle: its unit normal, how the weights of its second and third corner grow along each axis, its first
 * corner, and the ways from there to the others.
 */
const NUMBERS = 18;

/** Below this slope a surface is level. */
const LEVEL = 1e-4;

/** Where a place on side k of a triangle lies along it, 0 to 1, by the weights of the second and third corner. */
const shareAlong = (side: number, b: number, c: number): number =>
  Math.max(0, Math.min(1, side === 0 ? b : side === 1 ? c : 1 - b - c));

function trianglePlanes(p: Float32Array, indices: Uint32Array): Float32Array {
  const planes = new Float32Array((indices.length / 3) * NUMBERS);
  for (let t = 0; t < indices.length / 3; t++) {
    const i = indices[t * 3]! * 3;
    const j = indices[t * 3 + 1]! * 3;
    const k = indices[t * 3 + 2]! * 3;
    const [ux, uy, uz] = [p[j]! - p[i]!, p[j + 1]! - p[i + 1]!, p[j + 2]! - p[i + 2]!];
    const [vx, vy, vz] = [p[k]! - p[i]!, p[k + 1]! - p[i + 1]!, p[k + 2]! - p[i + 2]!];
    const [x, y, z] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
    const area = Math.hypot(x, y, z) || 1e-30;
    const [nx, ny, nz] = [x / area, y / area, z / area];
    const at = t * NUMBERS;
    planes.set([nx, ny, nz], at);
    // Gradients of barycentric weights: across the opposite side, as long as 1 over the height above it.
    planes.set([(vy * nz - vz * ny) / area, (vz * nx - vx * nz) / area, (vx * ny - vy * nx) / area], at + 3);
    planes.set([(uz * ny - uy * nz) / area, (ux * nz - uz * nx) / area, (uy * nx - ux * ny) / area], at + 6);
    planes.set([p[i]!, p[i + 1]!, p[i + 2]!, ux, uy, uz, vx, vy, vz], at + 9);
  }
  return planes;
}
