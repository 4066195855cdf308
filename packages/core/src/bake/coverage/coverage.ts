import { BLOCK, type BlockPlan } from './blocks.ts';

/** The places on the receiver that one block of texels samples, in texel order. */
export interface BlockSamples {
  count: number;
  /** Texel within the block, y · BLOCK + x, never falling. */
  texels: Uint16Array;
  triangles: Uint32Array;
  /** Barycentric weights of the triangle's second and third corner. */
  weights: Float64Array;
  /** Texels of the block in which two triangles claimed the same sample, and 1 for each of them. */
  overlapping: number;
  overlaps: Uint8Array;
}

/** The most samples a block can have: all its points, or one for each texel that is touched between them. */
export const sampleCapacity = (perAxis: number): number => (BLOCK * perAxis) ** 2 + BLOCK * BLOCK;

/**
 * Finds sample points conservatively: each texel has a regular grid of n × n points, of which those inside
 * the layout count; a texel that the layout touches between its points is sampled at the centroid of the part
 * covered. Points on a shared edge belong to exactly one triangle, so a point claimed twice is an overlap.
 */
export class Coverage {
  readonly samples: BlockSamples;
  private readonly perAxis: number;
  private readonly plan: BlockPlan;
  private readonly uvs: Float32Array;
  private readonly indices: Uint32Array;
  /** Triangle of each sample point of the block, −1 for none. */
  private readonly owners: Int32Array;
  private readonly pointsInTexel = new Uint8Array(BLOCK * BLOCK);
  private readonly overlapped = new Uint8Array(BLOCK * BLOCK);
  /** For texels touched between points: the largest covered part, its triangle and centroid. */
  private readonly touchedArea = new Float64Array(BLOCK * BLOCK);
  private readonly touchedTriangle = new Int32Array(BLOCK * BLOCK);
  private readonly touchedCentroid = new Float64Array(BLOCK * BLOCK * 2);
  private readonly clipper = new SquareClipper();
  /** Corners of the current triangle in texels, turned to run one way round: x0, y0, x1, y1, x2, y2. */
  private readonly corners = new Float64Array(6);
  private spanFrom = 0;
  private spanTo = 0;
  /** The triangle whose weights are set up, and its weights as functions of the place in the map. */
  private weighed = -1;
  private readonly weighing = new Float64Array(6);

  /** @param storage where triangles and weights are to lie; left out, in memory of its own */
  constructor(
    uvs: Float32Array,
    indices: Uint32Array,
    plan: BlockPlan,
    perAxis: number,
    storage: Pick<BlockSamples, 'texels' | 'triangles' | 'weights'> | null = null,
  ) {
    this.uvs = uvs;
    this.indices = indices;
    this.plan = plan;
    this.perAxis = perAxis;
    this.owners = new Int32Array((BLOCK * perAxis) ** 2);
    const capacity = sampleCapacity(perAxis);
    this.samples = {
      count: 0,
      texels: storage?.texels ?? new Uint16Array(capacity),
      triangles: storage?.triangles ?? new Uint32Array(capacity),
      weights: storage?.weights ?? new Float64Array(capacity * 2),
      overlapping: 0,
      overlaps: this.overlapped,
    };
  }

  /** Samples one block. The result is overwritten by the next call. */
  sampleBlock(block: number): BlockSamples {
    const { plan, samples } = this;
    const left = (block % plan.columns) * BLOCK;
    const top = Math.floor(block / plan.columns) * BLOCK;
    const width = Math.min(BLOCK, plan.size.width - left);
    const height = Math.min(BLOCK, plan.size.height - top);
    samples.count = 0;
    samples.overlapping = 0;
    const from = plan.starts[block]!;
    const to = plan.starts[block + 1]!;
    if (from === to) return samples;

    this.overlapped.fill(0);
    const whole = this.triangleOverAll(from, to, left, top, width, height);
    if (whole >= 0) {
      this.emitWhole(whole, left, top, width, height);
      return samples;
    }
    this.owners.fill(-1);
    this.pointsInTexel.fill(0);
    this.touchedArea.fill(0);
    for (let i = from; i < to; i++) this.claimPoints(plan.triangles[i]!, left, top, width, height);
    for (let i = from; i < to; i++) this.claimTouched(plan.triangles[i]!, left, top, width, height);
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) this.emitTexel(x, y, left, top);
    }
    return samples;
  }

  /**
   * The one triangle that has all points of a block, as most blocks of a large map are within one; −1 where there is
   * none, or where another one claims a point as well.
   */
  private triangleOverAll(from: number, to: number, left: number, top: number, width: number, height: number): number {
    const { plan, corners, perAxis: n } = this;
    const half = 0.5 / n;
    let whole = -1;
    for (let i = from; i < to && whole < 0; i++) {
      if (!this.load(plan.triangles[i]!)) continue;
      let has = true;
      for (let corner = 0; corner < 4 && has; corner++) {
        const x = corner & 1 ? left + width - half : left + half;
        const y = corner & 2 ? top + height - half : top + half;
        for (let edge = 0; edge < 6 && has; edge += 2) {
          const next = edge === 4 ? 0 : edge + 2;
          has = inside(corners[edge]!, corners[edge + 1]!, corners[next]!, corners[next + 1]!, x, y);
        }
      }
      if (has) whole = plan.triangles[i]!;
    }
    for (let i = from; i < to && whole >= 0; i++) {
      if (plan.triangles[i] === whole || !this.load(plan.triangles[i]!)) continue;
      const low = Math.max(0, Math.floor((Math.min(corners[1]!, corners[3]!, corners[5]!) - top) * n));
      const high = Math.min(height * n - 1, Math.ceil((Math.max(corners[1]!, corners[3]!, corners[5]!) - top) * n));
      for (let j = low; j <= high && whole >= 0; j++) {
        if (this.spanOf(left * n, width * n, (top * n + j + 0.5) / n)) whole = -1;
      }
    }
    return whole;
  }

  /** All points of a block that lies within one triangle. */
  private emitWhole(triangle: number, left: number, top: number, width: number, height: number): void {
    const { samples, perAxis: n, weighing } = this;
    const { texels, triangles, weights } = samples;
    this.weigh(triangle);
    const [b0, bx, by, c0, cx, cy] = [
      weighing[0]!,
      weighing[1]!,
      weighing[2]!,
      weighing[3]!,
      weighing[4]!,
      weighing[5]!,
    ];
    const step = 1 / n;
    let at = 0;
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        const texel = y * BLOCK + x;
        for (let j = 0; j < n; j++) {
          const v = top + y + (j + 0.5) * step;
          const b = b0 + by * v;
          const c = c0 + cy * v;
          for (let i = 0; i < n; i++) {
            const u = left + x + (i + 0.5) * step;
            texels[at] = texel;
            weights[at * 2] = b + bx * u;
            weights[at * 2 + 1] = c + cx * u;
            at++;
          }
        }
      }
    }
    triangles.fill(triangle, 0, at);
    samples.count = at;
  }

  /** Loads a triangle's corners in texels; false if it has no area. */
  private load(triangle: number): boolean {
    const { uvs, indices, corners } = this;
    const { width, height } = this.plan.size;
    for (let c = 0; c < 3; c++) {
      const v = indices[triangle * 3 + c]! * 2;
      corners[c * 2] = uvs[v]! * width;
      corners[c * 2 + 1] = (1 - uvs[v + 1]!) * height;
    }
    const area =
      (corners[2]! - corners[0]!) * (corners[5]! - corners[1]!) -
      (corners[3]! - corners[1]!) * (corners[4]! - corners[0]!);
    if (area < 0) {
      for (let k = 0; k < 2; k++) {
        const swap = corners[2 + k]!;
        corners[2 + k] = corners[4 + k]!;
        corners[4 + k] = swap;
      }
    }
    return area !== 0 && Number.isFinite(area);
  }

  private claimPoints(triangle: number, left: number, top: number, width: number, height: number): void {
    if (!this.load(triangle)) return;
    const { corners, owners, perAxis: n } = this;
    const stride = BLOCK * n;
    const left0 = left * n;
    const top0 = top * n;
    const lowY = Math.min(corners[1]!, corners[3]!, corners[5]!) - top;
    const highY = Math.max(corners[1]!, corners[3]!, corners[5]!) - top;
    const firstY = Math.max(0, Math.floor(lowY * n));
    const lastY = Math.min(height * n - 1, Math.ceil(highY * n));
    for (let j = firstY; j <= lastY; j++) {
      if (!this.spanOf(left0, width * n, (top0 + j + 0.5) / n)) continue;
      const row = Math.floor(j / n) * BLOCK;
      for (let i = this.spanFrom; i <= this.spanTo; i++) {
        const at = j * stride + i;
        const texel = row + Math.floor(i / n);
        if (owners[at]! < 0) {
          owners[at] = triangle;
          this.pointsInTexel[texel]!++;
        } else this.overlapped[texel] = 1;
      }
    }
  }

  /**
   * Finds the sample points of one row that lie within the loaded triangle: an interval, since each edge's function
   * only falls or only rises along the row, in floating point too. Guessed by division, made exact by the test.
   */
  private spanOf(left: number, points: number, y: number): boolean {
    const { corners, perAxis: n } = this;
    let from = 0;
    let to = points - 1;
    for (let edge = 0; edge < 3 && from <= to; edge++) {
      const ax = corners[edge * 2]!;
      const ay = corners[edge * 2 + 1]!;
      const next = edge === 2 ? 0 : edge * 2 + 2;
      const bx = corners[next]!;
      const by = corners[next + 1]!;
      if (ay === by) {
        if (!inside(ax, ay, bx, by, (left + from + 0.5) / n, y)) to = from - 1;
        continue;
      }
      const guess = (ax + ((y - ay) * (bx - ax)) / (by - ay)) * n - left - 0.5;
      if (by < ay) {
        // Inner points lie to the right.
        let first = Math.max(0, Math.min(points, Math.ceil(guess)));
        while (first > 0 && inside(ax, ay, bx, by, (left + first - 0.5) / n, y)) first--;
        while (first < points && !inside(ax, ay, bx, by, (left + first + 0.5) / n, y)) first++;
        from = Math.max(from, first);
      } else {
        let last = Math.max(-1, Math.min(points - 1, Math.floor(guess)));
        while (last < points - 1 && inside(ax, ay, bx, by, (left + last + 1.5) / n, y)) last++;
        while (last >= 0 && !inside(ax, ay, bx, by, (left + last + 0.5) / n, y)) last--;
        to = Math.min(to, last);
      }
    }
    this.spanFrom = from;
    this.spanTo = to;
    return from <= to;
  }

  private claimTouched(triangle: number, left: number, top: number, width: number, height: number): void {
    if (!this.load(triangle)) return;
    const { corners, clipper, touchedArea, touchedTriangle, touchedCentroid } = this;
    const firstX = Math.max(0, Math.floor(Math.min(corners[0]!, corners[2]!, corners[4]!) - left));
    const lastX = Math.min(width - 1, Math.floor(Math.max(corners[0]!, corners[2]!, corners[4]!) - left));
    const firstY = Math.max(0, Math.floor(Math.min(corners[1]!, corners[3]!, corners[5]!) - top));
    const lastY = Math.min(height - 1, Math.floor(Math.max(corners[1]!, corners[3]!, corners[5]!) - top));
    for (let y = firstY; y <= lastY; y++) {
      for (let x = firstX; x <= lastX; x++) {
        const texel = y * BLOCK + x;
        if (this.pointsInTexel[texel]! > 0) continue;
        const area = clipper.clip(corners, left + x, top + y);
        if (area > touchedArea[texel]!) {
          touchedArea[texel] = area;
          touchedTriangle[texel] = triangle;
          touchedCentroid[texel * 2] = clipper.centroidX;
          touchedCentroid[texel * 2 + 1] = clipper.centroidY;
        }
      }
    }
  }

  private emitTexel(x: number, y: number, left: number, top: number): void {
    const { perAxis: n, owners, samples } = this;
    const texel = y * BLOCK + x;
    samples.overlapping += this.overlapped[texel]!;
    if (this.pointsInTexel[texel]! > 0) {
      for (let j = y * n; j < (y + 1) * n; j++) {
        for (let i = x * n; i < (x + 1) * n; i++) {
          const triangle = owners[j * BLOCK * n + i]!;
          if (triangle >= 0) this.emit(texel, triangle, left + (i + 0.5) / n, top + (j + 0.5) / n);
        }
      }
    } else if (this.touchedArea[texel]! > 0) {
      this.emit(
        texel,
        this.touchedTriangle[texel]!,
        this.touchedCentroid[texel * 2]!,
        this.touchedCentroid[texel * 2 + 1]!,
      );
    }
  }

  private emit(texel: number, triangle: number, x: number, y: number): void {
    const { samples, weighing } = this;
    if (triangle !== this.weighed) this.weigh(triangle);
    const at = samples.count++;
    samples.texels[at] = texel;
    samples.triangles[at] = triangle;
    samples.weights[at * 2] = weighing[0]! + weighing[1]! * x + weighing[2]! * y;
    samples.weights[at * 2 + 1] = weighing[3]! + weighing[4]! * x + weighing[5]! * y;
  }

  /** Sets up a triangle's barycentric weights, which are linear over the map. */
  private weigh(triangle: number): void {
    const { uvs, indices, weighing } = this;
    const { width, height } = this.plan.size;
    this.weighed = triangle;
    const a = indices[triangle * 3]! * 2;
    const b = indices[triangle * 3 + 1]! * 2;
    const c = indices[triangle * 3 + 2]! * 2;
    const bu = uvs[b]! - uvs[a]!;
    const bv = uvs[b + 1]! - uvs[a + 1]!;
    const cu = uvs[c]! - uvs[a]!;
    const cv = uvs[c + 1]! - uvs[a + 1]!;
    const area = bu * cv - bv * cu;
    // u = x / width − u of the first corner; v = 1 − y / height − its v.
    const v0 = 1 - uvs[a + 1]!;
    weighing[1] = cv / (area * width);
    weighing[2] = cu / (area * height);
    weighing[0] = (-uvs[a]! * cv - v0 * cu) / area;
    weighing[4] = -bv / (area * width);
    weighing[5] = -bu / (area * height);
    weighing[3] = (bu * v0 + bv * uvs[a]!) / area;
  }
}

/**
 * Whether a point lies on the inner side of the edge a → b. The edge is evaluated from its lesser end, so the
 * two triangles that share it compute the very same number, and a point on it falls to one of them only.
 */
function inside(ax: number, ay: number, bx: number, by: number, x: number, y: number): boolean {
  if (ax < bx || (ax === bx && ay < by)) return (bx - ax) * (y - ay) - (by - ay) * (x - ax) >= 0;
  return (ax - bx) * (y - by) - (ay - by) * (x - bx) < 0;
}

/** Cuts triangles to one texel's square (Sutherland & Hodgman 1974) and measures what is left. */
class SquareClipper {
  centroidX = 0;
  centroidY = 0;
  private input: number[] = [];
  private output: number[] = [];

  /** Area in texels of the triangle's part inside the square at (x, y); sets the centroid if above zero. */
  clip(corners: Float64Array, x: number, y: number): number {
    this.output.length = 0;
    for (let k = 0; k < 6; k += 2) this.output.push(corners[k]! - x, corners[k + 1]! - y);
    this.cut(0, 1, 0);
    this.cut(0, -1, -1);
    this.cut(1, 1, 0);
    this.cut(1, -1, -1);
    const polygon = this.output;
    let area = 0;
    let cx = 0;
    let cy = 0;
    for (let i = 0; i < polygon.length; i += 2) {
      const j = (i + 2) % polygon.length;
      const cross = polygon[i]! * polygon[j + 1]! - polygon[j]! * polygon[i + 1]!;
      area += cross;
      cx += (polygon[i]! + polygon[j]!) * cross;
      cy += (polygon[i + 1]! + polygon[j + 1]!) * cross;
    }
    // Slivers thinner than rounding come from islands that end exactly on a texel border.
    if (!(area > 1e-6)) return 0;
    this.centroidX = x + cx / (3 * area);
    this.centroidY = y + cy / (3 * area);
    return area / 2;
  }

  /** Keeps the part where sign · coordinate ≥ limit. */
  private cut(axis: number, sign: number, limit: number): void {
    const swap = this.input;
    this.input = this.output;
    this.output = swap;
    const { input, output } = this;
    output.length = 0;
    for (let i = 0; i < input.length; i += 2) {
      const j = (i + 2) % input.length;
      const here = sign * input[i + axis]! - limit;
      const next = sign * input[j + axis]! - limit;
      if (here >= 0) output.push(input[i]!, input[i + 1]!);
      if (here >= 0 !== next >= 0) {
        const share = here / (here - next);
        output.push(
          input[i]! + (input[j]! - input[i]!) * share,
          input[i + 1]! + (input[j + 1]! - input[i + 1]!) * share,
        );
      }
    }
  }
}
