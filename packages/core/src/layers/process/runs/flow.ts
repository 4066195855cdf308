import { randomNumbers } from '../../../math/randomNumbers.ts';
import type { LayeredSurface } from '../../layeredSurface.ts';
import { halfEdges, type HalfEdges } from '../halfEdges.ts';

/** What a drop is told by on its way: a straight piece within one triangle, by the weights of its ends. */
export type OnPiece = (
  triangle: number,
  fromB: number,
  fromC: number,
  toB: number,
  toC: number,
  /** Of the piece, in millimetres, and of the way before it. */
  length: number,
  before: number,
) => void;

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

/** Cells of the table of unevenness, along each axis; a power of two. */
const CELLS = 64;
/** Of them, how many one width of the unevenness takes. */
const CELLS_PER_WIDTH = 4;
/** The steepest slope of the unevenness. */
const STEEPEST = 3;
/** Pieces in place of which a drop may turn without going anywhere. */
const MOST_TURNS = 12;

/**
 * The way of drops over a mesh: down as gravity lies in the surface, led aside by its unevenness (a smooth noise in space,
 * which is the same for every drop, so that neighbours join in its valleys), along creases where both sides lead into them.
 * After Dorsey, Pedersen and Hanrahan, "Flow and Changes in Appearance", 1996: gravity, roughness and adhesion move
 * particles over a surface; the pieces here are exact within each triangle.
 */
export class Flow {
  private readonly positions: Float32Array;
  private readonly indices: Uint32Array;
  private readonly edges: HalfEdges;
  private readonly settings: FlowSettings;
  /** Slopes of the unevenness, as 127 times themselves: small enough to stay in the nearest memory. */
  private readonly aside: Int8Array;
  /** Of each triangle its unit normal, and how the weights of its second and third corner grow along each axis. */
  private readonly planes: Float32Array;
  private readonly lead: number;
  /** How the weights grow along a millimetre of the present direction. */
  private rateA = 0;
  private rateB = 0;
  private rateC = 0;
  /** The place in a neighbour, and whether it leads nowhere. */
  private isLevel = false;
  private aheadB = 0;
  private aheadC = 0;

  constructor({ receiver }: Pick<LayeredSurface, 'receiver'>, settings: FlowSettings) {
    this.positions = receiver.positions;
    this.indices = receiver.indices;
    this.edges = halfEdges(receiver.positions, receiver.indices);
    this.settings = settings;
    this.aside = Int8Array.from(unevenness(settings.seed), (slope) =>
      Math.round(Math.max(-1, Math.min(1, slope / STEEPEST)) * 127),
    );
    this.lead = (settings.wander * STEEPEST) / 127;
    this.planes = trianglePlanes(receiver.positions, receiver.indices);
  }

  /**
   * Lets one drop run.
   * @param b, c weights of the second and third corner where it starts
   * @param far where it stops at the latest, in millimetres
   */
  run(triangle: number, b: number, c: number, far: number, onPiece: OnPiece): DropEnd {
    const { twins } = this.edges;
    const { clings, wanderSize, wander, down } = this.settings;
    const { planes } = this;
    const overhang = Math.sin((clings * Math.PI) / 180);
    const longest = wander > 0 ? wanderSize / CELLS_PER_WIDTH : Infinity;
    let gone = 0;
    let turns = 0;
    let isLed = false;
    for (let guard = 0; guard < 100_000; guard++) {
      const at = triangle * NUMBERS;
      if (planes[at]! * down[0] + planes[at + 1]! * down[1] + planes[at + 2]! * down[2] > overhang) return 'fallen';
      // Whoever has entered a neighbour has asked it already.
      if (!isLed && !this.leads(triangle, b, c)) return 'pooled';
      isLed = false;
      // The way to the first side: the weight of the corner opposite to it reaches 0 there.
      let step = Math.min(longest, far - gone);
      let side = -1;
      if (this.rateA < 0 && 1 - b - c < -this.rateA * step) {
        step = Math.max(0, (1 - b - c) / -this.rateA);
        side = 1;
      }
      if (this.rateB < 0 && b < -this.rateB * step) {
        step = Math.max(0, b / -this.rateB);
        side = 2;
      }
      if (this.rateC < 0 && c < -this.rateC * step) {
        step = Math.max(0, c / -this.rateC);
        side = 0;
      }
      const toB = b + this.rateB * step;
      const toC = c + this.rateC * step;
      if (step > 0) onPiece(triangle, b, c, toB, toC, step, gone);
      gone += step;
      b = toB;
      c = toC;
      if (gone >= far) return 'far';
      turns = step > 1e-6 ? 0 : turns + 1;
      if (turns > MOST_TURNS) return 'pooled';
      if (side < 0) continue;
      const edge = triangle * 3 + side;
      const twin = twins[edge]!;
      if (twin < 0) return 'fallen';
      this.across(edge, twin, shareAlong(side, b, c));
      if (this.entersFrom(twin)) {
        triangle = (twin - (twin % 3)) / 3;
        b = this.aheadB;
        c = this.aheadC;
        isLed = !this.isLevel;
        continue;
      }
      // Both sides lead into the crease: along it.
      const slid = this.slide(edge, shareAlong(side, b, c), Math.min(longest, far - gone));
      if (slid === null) return 'pooled';
      onPiece(triangle, b, c, slid.b, slid.c, slid.length, gone);
      gone += slid.length;
      turns = slid.length > 1e-6 ? 0 : turns + 1;
      if (turns > MOST_TURNS) return 'pooled';
      if (gone >= far) return 'far';
      b = slid.b;
      c = slid.c;
      if (slid.reachesEnd) {
        this.across(edge, twin, shareAlong(side, b, c));
        triangle = (twin - (twin % 3)) / 3;
        b = this.aheadB;
        c = this.aheadC;
      }
    }
    return 'pooled';
  }

  /**
   * Finds how the weights grow along the way of a drop in the plane of a triangle.
   * @returns false where the surface is level
   */
  private leads(triangle: number, b: number, c: number): boolean {
    const { planes } = this;
    const { down, wander } = this.settings;
    let x = down[0];
    let y = down[1];
    let z = down[2];
    if (wander > 0) {
      const at = this.cellAt(triangle, b, c);
      x += this.aside[at]! * this.lead;
      y += this.aside[at + 1]! * this.lead;
      z += this.aside[at + 2]! * this.lead;
    }
    const at = triangle * NUMBERS;
    const off = x * planes[at]! + y * planes[at + 1]! + z * planes[at + 2]!;
    const within = x * x + y * y + z * z - off * off;
    if (within < LEVEL * LEVEL) return false;
    const scale = 1 / Math.sqrt(within);
    this.rateB = (x * planes[at + 3]! + y * planes[at + 4]! + z * planes[at + 5]!) * scale;
    this.rateC = (x * planes[at + 6]! + y * planes[at + 7]! + z * planes[at + 8]!) * scale;
    this.rateA = -this.rateB - this.rateC;
    return true;
  }

  /** Where the table of unevenness tells of a place. */
  private cellAt(triangle: number, b: number, c: number): number {
    const { positions: p, indices } = this;
    const i = indices[triangle * 3]! * 3;
    const j = indices[triangle * 3 + 1]! * 3;
    const k = indices[triangle * 3 + 2]! * 3;
    const a = 1 - b - c;
    const scale = CELLS_PER_WIDTH / this.settings.wanderSize;
    const x = Math.floor((p[i]! * a + p[j]! * b + p[k]! * c) * scale) & (CELLS - 1);
    const y = Math.floor((p[i + 1]! * a + p[j + 1]! * b + p[k + 1]! * c) * scale) & (CELLS - 1);
    const z = Math.floor((p[i + 2]! * a + p[j + 2]! * b + p[k + 2]! * c) * scale) & (CELLS - 1);
    return ((z * CELLS + y) * CELLS + x) * 3;
  }

  /** Finds the same place in the neighbour, by the share of the way from the beginning of an edge to its end. */
  private across(edge: number, twin: number, share: number): void {
    const { corners } = this.edges;
    // Neighbours mostly go along their common edge in opposite directions.
    const first = corners[edge] !== corners[twin] ? share : 1 - share;
    const corner = twin % 3;
    this.aheadB = corner === 1 ? first : corner === 0 ? 1 - first : 0;
    this.aheadC = corner === 2 ? first : corner === 1 ? 1 - first : 0;
  }

  /** Whether a neighbour leads away from the edge that it is entered by; a level one is entered, and the drop stays there. */
  private entersFrom(twin: number): boolean {
    const corner = twin % 3;
    this.isLevel = !this.leads((twin - corner) / 3, this.aheadB, this.aheadC);
    if (this.isLevel) return true;
    return (corner === 0 ? this.rateC : corner === 1 ? this.rateA : this.rateB) >= 0;
  }

  /** Along an edge, down. @returns null where it leads nowhere */
  private slide(
    edge: number,
    share: number,
    most: number,
  ): { b: number; c: number; length: number; reachesEnd: boolean } | null {
    const { positions: p, indices } = this;
    const corner = edge % 3;
    const from = indices[edge]! * 3;
    const to = indices[corner === 2 ? edge - 2 : edge + 1]! * 3;
    const [ux, uy, uz] = [p[to]! - p[from]!, p[to + 1]! - p[from + 1]!, p[to + 2]! - p[from + 2]!];
    const length = Math.hypot(ux, uy, uz);
    const [x, y, z] = this.settings.down;
    const falls = (ux * x + uy * y + uz * z) / (length || 1);
    if (length === 0 || Math.abs(falls) < LEVEL) return null;
    const left = (falls > 0 ? 1 - share : share) * length;
    const step = Math.min(most, left);
    const end = falls > 0 ? Math.min(1, share + step / length) : Math.max(0, share - step / length);
    return {
      b: corner === 0 ? end : corner === 1 ? 1 - end : 0,
      c: corner === 1 ? end : corner === 2 ? 1 - end : 0,
      length: step,
      reachesEnd: step >= left,
    };
  }
}

/** Numbers that are known of each triangle. */
const NUMBERS = 9;

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
  }
  return planes;
}

/** Vectors of a smooth, repeating noise: its gradient at the cells of a table, about 1 long. */
function unevenness(seed: number): Float32Array {
  const random = randomNumbers(seed);
  const points = CELLS / CELLS_PER_WIDTH;
  const heights = Float32Array.from({ length: points ** 3 }, () => random() * 2 - 1);
  const at = (x: number, y: number, z: number): number => heights[(z * points + y) * points + x]!;
  const smooth = (share: number): number => share * share * (3 - 2 * share);
  const value = new Float32Array(CELLS ** 3);
  for (let z = 0; z < CELLS; z++) {
    const [k, fz] = [Math.floor(z / CELLS_PER_WIDTH), smooth((z % CELLS_PER_WIDTH) / CELLS_PER_WIDTH)];
    for (let y = 0; y < CELLS; y++) {
      const [j, fy] = [Math.floor(y / CELLS_PER_WIDTH), smooth((y % CELLS_PER_WIDTH) / CELLS_PER_WIDTH)];
      for (let x = 0; x < CELLS; x++) {
        const [i, fx] = [Math.floor(x / CELLS_PER_WIDTH), smooth((x % CELLS_PER_WIDTH) / CELLS_PER_WIDTH)];
        let sum = 0;
        for (let corner = 0; corner < 8; corner++) {
          const [ox, oy, oz] = [corner & 1, (corner >> 1) & 1, corner >> 2];
          const weight = (ox ? fx : 1 - fx) * (oy ? fy : 1 - fy) * (oz ? fz : 1 - fz);
          sum += weight * at((i + ox) % points, (j + oy) % points, (k + oz) % points);
        }
        value[(z * CELLS + y) * CELLS + x] = sum;
      }
    }
  }
  const slopes = new Float32Array(value.length * 3);
  const wrapped = (v: number): number => v & (CELLS - 1);
  for (let z = 0; z < CELLS; z++) {
    for (let y = 0; y < CELLS; y++) {
      for (let x = 0; x < CELLS; x++) {
        const v = (dx: number, dy: number, dz: number): number =>
          value[(wrapped(z + dz) * CELLS + wrapped(y + dy)) * CELLS + wrapped(x + dx)]!;
        const to = ((z * CELLS + y) * CELLS + x) * 3;
        // Down the noise, over a width of it.
        slopes[to] = ((v(-1, 0, 0) - v(1, 0, 0)) / 2) * CELLS_PER_WIDTH;
        slopes[to + 1] = ((v(0, -1, 0) - v(0, 1, 0)) / 2) * CELLS_PER_WIDTH;
        slopes[to + 2] = ((v(0, 0, -1) - v(0, 0, 1)) / 2) * CELLS_PER_WIDTH;
      }
    }
  }
  return slopes;
}
