import type { LayeredSurface, LayeredTile } from '../surface/layeredSurface.ts';
import type { LayerInputs } from '../inputs/layerInputs.ts';
import { requirePicture } from '../mask/maskStep.ts';
import { TEXELS, type TexelBlock } from '../surface/texelBlock.ts';
import { pictureOnBlock, type PictureOnBlock } from './brushPicture.ts';
import type { CoverageMemory } from './coverageMemory.ts';
import { newDab, takeDab, type Dab } from './dab.ts';
import { DabPicture } from './dabPicture.ts';
import { CHUNK, dabsOf, type Dabs } from './dabs.ts';
import { filledTriangles } from './faceFill.ts';
import type { Stroke } from './stroke.ts';
import { boxOfBlock, ROW, TexelRows } from './texelRows.ts';

/** A dab stops on surfaces that turn away from it by more than this cosine. */
const TURNED_AWAY = 0.17;
/** How far a dab reaches off its surface, as a share of its radius: over relief, but not through a wall. */
const DEPTH = 0.6;

/** Of strokes that are there: with each dab of the pen, all strokes of its layer are gone through. */
const dabsKnown = new WeakMap<Stroke, { repeats: LayeredSurface['repeats']; dabs: Dabs }>();

function knownDabs(stroke: Stroke, repeats: LayeredSurface['repeats']): Dabs {
  const known = dabsKnown.get(stroke);
  if (known?.repeats?.join() === repeats?.join() && known) return known.dabs;
  const dabs = dabsOf(stroke, repeats);
  dabsKnown.set(stroke, { repeats, dabs });
  return dabs;
}

type DabbedTexels = Pick<TexelBlock, 'places' | 'normals' | 'count'>;

/**
 * How strongly a stroke covers the texels of a block. A dab has its size on the surface, whatever the UVs are: a texel is
 * covered by where it lies in space, so strokes go over seams without a gap and never stretch.
 */
export class StrokeCoverage {
  readonly stroke: Stroke;
  /**
   * Colours of the brush's picture as light, in three planes, where they are the paint; of one that gives normals,
   * directions in space. Told by `cover`.
   */
  readonly colors: Float32Array | null;
  private readonly dabs: Dabs;
  private readonly filled: Uint8Array | null;
  private readonly over: PictureOnBlock | null;
  private readonly onDabs: DabPicture | null;
  private readonly shape = new Float32Array(TEXELS);
  private readonly memory: CoverageMemory | null;
  private readonly rows = new TexelRows();
  private readonly dab = newDab();
  private readonly remembered = new Float32Array(TEXELS);
  private readonly box = new Float64Array(6);

  /** @throws missing/not-found for a picture of the brush that is not there */
  constructor(stroke: Stroke, tile: LayeredTile, inputs: LayerInputs) {
    this.stroke = stroke;
    const { repeats } = tile.surface;
    this.dabs = knownDabs(stroke, repeats);
    const { picture, tool, symmetry } = stroke.brush;
    const { underPen, strokes } = inputs;
    // Copies of dabs come after all of the first, and colours of pictures are not remembered.
    const isPlain = !picture && !symmetry && !repeats;
    this.memory = underPen && isPlain && strokes.get(underPen.name) === stroke ? underPen.memory : null;
    this.memory?.follow(this.dabs);
    this.filled = tool === 'fill' ? filledTriangles(stroke, tile.surface) : null;
    this.colors = picture && picture.gives !== 'shape' ? new Float32Array(TEXELS * 3) : null;
    this.over = picture && pictureOnBlock(picture, tile, inputs);
    this.onDabs =
      picture?.lies === 'dab'
        ? new DabPicture(requirePicture(picture.picture, inputs), stroke, this.dabs, tile.texel)
        : null;
  }

  /**
   * @param box x, y, z of the lower and upper corner of the block's texels
   * @param out told a share for each texel, 0 to the strength of the brush
   * @returns false where it covers none
   */
  cover(block: TexelBlock, box: Float64Array, out: Float32Array): boolean {
    const isTouched = this.filled ? this.fillFaces(this.filled, block, out) : this.addDabs(block, box, out);
    if (!isTouched) return false;
    if (this.over) {
      this.over.look(block, this.colors ?? unused, this.shape);
      for (let i = 0; i < block.count; i++) out[i]! *= this.shape[i]!;
    }
    return true;
  }

  private fillFaces(filled: Uint8Array, { triangles, count }: TexelBlock, out: Float32Array): boolean {
    const { strength } = this.stroke.brush;
    let isTouched = false;
    for (let i = 0; i < count; i++) {
      const isFilled = filled[triangles[i]!] === 1;
      out[i] = isFilled ? strength : 0;
      isTouched ||= isFilled;
    }
    return isTouched;
  }

  private addDabs(block: TexelBlock, box: Float64Array, out: Float32Array): boolean {
    if (!this.memory) return this.addDabsFrom(0, block, box, out);
    // Of a part of a block, the whole is remembered.
    const { whole, taken } = block.part ?? { whole: block, taken: null };
    const { remembered: all } = this;
    boxOfBlock(whole, this.box);
    const name = whole.at[0]!;
    const from = this.memory.recall(name, all);
    if (!this.addDabsFrom(from, whole, this.box, all) && from === 0) return false;
    this.memory.keep(name, this.dabs.count, all, whole.count);
    if (taken) for (let i = 0; i < block.count; i++) out[i] = all[taken[i]!]!;
    else out.set(all.subarray(0, block.count));
    return true;
  }

  /** @returns false where none is added */
  private addDabsFrom(from: number, block: DabbedTexels, box: Float64Array, out: Float32Array): boolean {
    const { count, centers, radii, boxes } = this.dabs;
    let isTouched = from > 0;
    let hasRows = false;
    for (let chunk = Math.floor(from / CHUNK); chunk * CHUNK < count; chunk++) {
      if (!meets(boxes, chunk * 6, box)) continue;
      for (let i = Math.max(from, chunk * CHUNK); i < Math.min(count, (chunk + 1) * CHUNK); i++) {
        const r = radii[i]!;
        if (
          centers[i * 3]! + r < box[0]! ||
          centers[i * 3]! - r > box[3]! ||
          centers[i * 3 + 1]! + r < box[1]! ||
          centers[i * 3 + 1]! - r > box[4]! ||
          centers[i * 3 + 2]! + r < box[2]! ||
          centers[i * 3 + 2]! - r > box[5]!
        )
          continue;
        if (!isTouched) out.fill(0, 0, block.count);
        isTouched = true;
        if (!hasRows) this.rows.bound(block);
        hasRows = true;
        this.addDab(i, block, out);
      }
    }
    return isTouched;
  }

  /** Lays one dab over those before: what is covered stays covered. */
  private addDab(number: number, block: DabbedTexels, out: Float32Array): void {
    const { rows, onDabs } = this;
    const dab = takeDab(this.dabs, number, this.stroke.brush.hardness, this.dab);
    onDabs?.begin(number);
    for (let from = 0, row = 0; from < block.count; from += ROW, row++) {
      if (!rows.isMet(row, dab.x, dab.y, dab.z, dab.radius)) continue;
      const to = Math.min(block.count, from + ROW);
      if (!onDabs && rows.liesAlong(row, dab, dab.radius * DEPTH, TURNED_AWAY)) addRoundDab(dab, block, from, to, out);
      else this.addDabToRow(dab, block, from, to, out);
    }
  }

  private addDabToRow(dab: Dab, { places, normals }: DabbedTexels, from: number, to: number, out: Float32Array): void {
    const { onDabs } = this;
    const [x, y, z] = places;
    const { x: cx, y: cy, z: cz, nx, ny, nz, strength, flow, squaredRadius, squaredCore, perRadius, within } = dab;
    const depth = dab.radius * DEPTH;
    const paints = this.colors !== null;
    for (let i = from; i < to; i++) {
      // What is as strong already stays so.
      if (out[i]! >= strength && !paints) continue;
      const dx = x[i]! - cx;
      const dy = y[i]! - cy;
      const dz = z[i]! - cz;
      const squared = dx * dx + dy * dy + dz * dz;
      if (squared >= squaredRadius) continue;
      if (Math.abs(dx * nx + dy * ny + dz * nz) > depth) continue;
      if (normals[i]! * nx + normals[TEXELS + i]! * ny + normals[TEXELS * 2 + i]! * nz < TURNED_AWAY) continue;
      let weight = flow;
      if (squared > squaredCore) weight *= fallsOff(Math.sqrt(squared) * perRadius - within);
      if (onDabs) {
        weight *= onDabs.look(dx, dy, dz);
        if (this.colors && weight > 0) this.addColor(i, weight * strength, out[i]!, onDabs);
      }
      if (out[i]! < strength) out[i]! += (strength - out[i]!) * weight;
    }
  }

  /** The colour of a dab over that of the dabs before. */
  private addColor(i: number, weight: number, before: number, { color }: DabPicture): void {
    const share = weight / (before + (1 - before) * weight);
    for (let k = 0; k < 3; k++) {
      const at = k * TEXELS + i;
      const own = this.colors![at]!;
      this.colors![at] = before === 0 ? color[k]! : own + (color[k]! - own) * share;
    }
  }
}

const unused = new Float32Array(TEXELS * 3);

/** A dab without a picture, on texels none of which lies too deep or turns away. */
function addRoundDab(dab: Dab, { places }: DabbedTexels, from: number, to: number, out: Float32Array): void {
  const [x, y, z] = places;
  const { x: cx, y: cy, z: cz, strength, flow, squaredRadius, squaredCore, perRadius, within } = dab;
  for (let i = from; i < to; i++) {
    const before = out[i]!;
    if (before >= strength) continue;
    const dx = x[i]! - cx;
    const dy = y[i]! - cy;
    const dz = z[i]! - cz;
    const squared = dx * dx + dy * dy + dz * dz;
    if (squared >= squaredRadius) continue;
    const weight = squared > squaredCore ? flow * fallsOff(Math.sqrt(squared) * perRadius - within) : flow;
    out[i] = before + (strength - before) * weight;
  }
}

/** From 1 to 0 over a share of the way, smoothly: Hermite's cubic. */
const fallsOff = (share: number): number => 1 - share * share * (3 - 2 * share);

const meets = (boxes: Float32Array, at: number, box: Float64Array): boolean =>
  boxes[at]! <= box[3]! &&
  boxes[at + 3]! >= box[0]! &&
  boxes[at + 1]! <= box[4]! &&
  boxes[at + 4]! >= box[1]! &&
  boxes[at + 2]! <= box[5]! &&
  boxes[at + 5]! >= box[2]!;
