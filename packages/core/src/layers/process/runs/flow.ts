import type { LayeredSurface } from '../../surface/layeredSurface.ts';
import { halfEdges } from '../../surface/halfEdges.ts';
import { STEEPEST, unevennessOf, type Unevenness } from './unevenness.ts';

/** Told the way of a drop. */
export interface Way {
  /**
   * Told each straight piece within one triangle, by the weights of two corners at its ends.
   * @param first the corner that the others follow, 0 to 2
   * @param fromB, fromC, toB, toC weights of the corner after it, and of the one after that
   * @param length of the piece, and of the way before it, in millimetres
   */
  leave(
    triangle: number,
    first: number,
    fromB: number,
    fromC: number,
    toB: number,
    toC: number,
    length: number,
    before: number,
  ): void;
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
  /**
   * For each side of a triangle: the triangle beyond it, times 8, which of its sides that is, times 2, and one more where
   * both begin at the same place; −1 where there is none.
   */
  private readonly beyond: Int32Array;

  constructor(surface: Pick<LayeredSurface, 'receiver' | 'welded' | 'repeats'>, settings: FlowSettings) {
    const { receiver, repeats } = surface;
    const { corners, twins } = halfEdges(surface);
    this.settings = settings;
    this.aside = unevennessOf(settings.wanderSize, settings.seed, repeats);
    this.planes = trianglePlanes(receiver.positions, receiver.indices);
    this.beyond = new Int32Array(twins.length);
    for (let edge = 0; edge < twins.length; edge++) {
      const twin = twins[edge]!;
      const triangle = Math.floor(twin / 3);
      const isSame = corners[edge] === corners[twin] ? 1 : 0;
      this.beyond[edge] = twin < 0 ? -1 : triangle * 8 + (twin - triangle * 3) * 2 + isSame;
    }
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
    const longest = wander > 0 ? cell : Infinity;
    const overhang = Math.sin((clings * Math.PI) / 180);
    let gone = 0;
    let turns = 0;
    // Corners are counted from the side that the triangle was entered by, so that the other two are always the same.
    let first = 0;
    let isEntered = false;
    // The way that drops are led, and how far until it is asked again.
    let x = downX;
    let y = downY;
    let z = downZ;
    let until = lead > 0 ? 0 : Infinity;
    for (let guard = 0; guard < MOST_PIECES; guard++) {
      const at = triangle * NUMBERS;
      const p = at + 3 + first * 6;
      const q = at + 3 + after(first) * 6;
      const r = at + 3 + before(first) * 6;
      const normalX = planes[at]!;
      const normalY = planes[at + 1]!;
      const normalZ = planes[at + 2]!;
      if (normalX * downX + normalY * downY + normalZ * downZ > overhang) return 'fallen';
      const a = 1 - b - c;
      // Down, and aside by the unevenness there.
      if (gone >= until) {
        until = gone + cell;
        const u = (planes[p]! * a + planes[q]! * b + planes[r]! * c) * perX;
        const v = (planes[p + 1]! * a + planes[q + 1]! * b + planes[r + 1]! * c) * perY;
        const w = (planes[p + 2]! * a + planes[q + 2]! * b + planes[r + 2]! * c) * perZ;
        const i = Math.min(nx - 1, ((u - Math.floor(u)) * nx) | 0);
        const j = Math.min(ny - 1, ((v - Math.floor(v)) * ny) | 0);
        const k = Math.min(nz - 1, ((w - Math.floor(w)) * nz) | 0);
        const slope = ((k * ny + j) * nx + i) * 3;
        x = downX + slopes[slope]! * lead;
        y = downY + slopes[slope + 1]! * lead;
        z = downZ + slopes[slope + 2]! * lead;
      }
      // In the plane of the triangle; how long that is, is needed beside what the next place hangs on.
      const off = x * normalX + y * normalY + z * normalZ;
      const within = x * x + y * y + z * z - off * off;
      if (within < LEVEL * LEVEL) return 'pooled';
      const speed = Math.sqrt(within);
      const rateB = x * planes[q + 3]! + y * planes[q + 4]! + z * planes[q + 5]!;
      const rateC = x * planes[r + 3]! + y * planes[r + 4]! + z * planes[r + 5]!;
      const rateA = -rateB - rateC;
      /** The side that the triangle is left by, counted from the first corner; −1 for none. */
      let side = -1;
      let step = Math.min(longest, far - gone);
      let toB: number;
      let toC: number;
      if (isEntered && rateC < 0) {
        // Both sides lead into the crease: along it, then on the other side again.
        side = 0;
        const edgeX = planes[q]! - planes[p]!;
        const edgeY = planes[q + 1]! - planes[p + 1]!;
        const edgeZ = planes[q + 2]! - planes[p + 2]!;
        const length = Math.sqrt(edgeX * edgeX + edgeY * edgeY + edgeZ * edgeZ);
        const falls = edgeX * downX + edgeY * downY + edgeZ * downZ;
        if (length === 0 || Math.abs(falls) < LEVEL * length) return 'pooled';
        step = Math.min(step, (falls > 0 ? 1 - b : b) * length);
        toB = Math.max(0, Math.min(1, b + (falls > 0 ? step : -step) / length));
        toC = 0;
      } else {
        let time = step / speed;
        // The way to the first side: the weight of the corner opposite to it reaches 0 there.
        if (rateA < 0 && a < -rateA * time) {
          time = Math.max(0, a / -rateA);
          side = 1;
        }
        if (rateB < 0 && b < -rateB * time) {
          time = Math.max(0, b / -rateB);
          side = 2;
        }
        if (rateC < 0 && c < -rateC * time) {
          time = Math.max(0, c / -rateC);
          side = 0;
        }
        if (side >= 0) step = time * speed;
        toB = b + rateB * time;
        toC = c + rateC * time;
      }
      if (step > 0) way.leave(triangle, first, b, c, toB, toC, step, gone);
      gone += step;
      b = toB;
      c = toC;
      if (gone >= far) return 'far';
      turns = step > 1e-6 ? 0 : turns + 1;
      if (turns > MOST_TURNS) return 'pooled';
      isEntered = side >= 0;
      if (!isEntered) continue;
      const other = beyond[triangle * 3 + (side === 0 ? first : side === 1 ? after(first) : before(first))]!;
      if (other < 0) return 'fallen';
      // Neighbours mostly go along their common edge in opposite directions.
      const along = Math.max(0, Math.min(1, side === 0 ? b : side === 1 ? c : 1 - b - c));
      triangle = other >> 3;
      first = (other >> 1) & 3;
      b = other & 1 ? along : 1 - along;
      c = 0;
    }
    return 'pooled';
  }
}

/** The corner of a triangle after another, and the one before it, from a table of two bits each. */
export const after = (corner: number): number => (9 >> (corner << 1)) & 3;
export const before = (corner: number): number => (18 >> (corner << 1)) & 3;

/**
 * Numbers of each triangle: its unit normal; then for each corner where it lies, and how its weight grows along each axis.
 */
const NUMBERS = 21;

/** Below this slope a surface is level. */
const LEVEL = 1e-4;

function trianglePlanes(positions: Float32Array, indices: Uint32Array): Float32Array {
  const planes = new Float32Array((indices.length / 3) * NUMBERS);
  for (let t = 0; t < indices.length / 3; t++) {
    const at = t * NUMBERS;
    for (let corner = 0; corner < 3; corner++) {
      const from = indices[t * 3 + corner]! * 3;
      for (let axis = 0; axis < 3; axis++) planes[at + 3 + corner * 6 + axis] = positions[from + axis]!;
    }
    const ux = planes[at + 9]! - planes[at + 3]!;
    const uy = planes[at + 10]! - planes[at + 4]!;
    const uz = planes[at + 11]! - planes[at + 5]!;
    const vx = planes[at + 15]! - planes[at + 3]!;
    const vy = planes[at + 16]! - planes[at + 4]!;
    const vz = planes[at + 17]! - planes[at + 5]!;
    const x = uy * vz - uz * vy;
    const y = uz * vx - ux * vz;
    const z = ux * vy - uy * vx;
    const per = 1 / (Math.sqrt(x * x + y * y + z * z) || 1e-30);
    const nx = (planes[at] = x * per);
    const ny = (planes[at + 1] = y * per);
    const nz = (planes[at + 2] = z * per);
    // Gradients of barycentric weights: across the opposite side, as long as 1 over the height above it.
    for (let corner = 0; corner < 3; corner++) {
      const q = at + 3 + after(corner) * 6;
      const r = at + 3 + before(corner) * 6;
      const ex = planes[r]! - planes[q]!;
      const ey = planes[r + 1]! - planes[q + 1]!;
      const ez = planes[r + 2]! - planes[q + 2]!;
      const to = at + 6 + corner * 6;
      planes[to] = (ny * ez - nz * ey) * per;
      planes[to + 1] = (nz * ex - nx * ez) * per;
      planes[to + 2] = (nx * ey - ny * ex) * per;
    }
  }
  return planes;
}
