import { BLOCK } from '../../bake/coverage/blocks.ts';
import type { LayeredTile } from '../layeredSurface.ts';
import { TexelBlock, type BlockPlaces } from '../texelBlock.ts';
import { CHUNK, dabsOf, type Dabs } from './dabs.ts';
import { POINT, type Stroke } from './stroke.ts';
import { boxOfBlock } from './strokeCoverage.ts';

/** Where the texels of each block of a tile lie in space, to find those that a dab reaches. */
export class BlockBoxes {
  private readonly tile: LayeredTile;
  /** x, y, z of the lower and the upper corner of each block; infinite where it is empty. */
  private readonly boxes: Float64Array;

  /** @param known as of `blockComposer` */
  constructor(tile: LayeredTile, known?: Map<number, BlockPlaces>) {
    const { columns, rows } = tile.plan;
    this.tile = tile;
    this.boxes = new Float64Array(columns * rows * 6);
    const block = new TexelBlock(tile);
    for (let b = 0; b < columns * rows; b++) {
      const box = this.boxes.subarray(b * 6, b * 6 + 6);
      if (block.load(b, known) > 0) boxOfBlock(block, box);
      else box.fill(Infinity, 0, 3).fill(-Infinity, 3);
    }
  }

  /**
   * The blocks that a stroke changes from one of its points on, copies of symmetric strokes among them.
   * @param from the first point that is new
   */
  under(stroke: Stroke, from: number): number[] {
    // The dab before may turn with what follows it.
    const first = Math.max(0, from - 2);
    const points = stroke.points.subarray(first * POINT);
    const dabs = dabsOf({ ...stroke, points }, this.tile.surface.repeats);
    const { radius, spacing, scatter } = stroke.brush;
    // Dabs of the whole stroke lie up to a step further along the line.
    const reach = radius * (1 + spacing + scatter);
    const found: number[] = [];
    for (let b = 0; b * 6 < this.boxes.length; b++) if (this.isNear(b, dabs, reach)) found.push(b);
    return found;
  }

  private isNear(block: number, { centers, count, boxes }: Dabs, reach: number): boolean {
    const b = block * 6;
    for (let dab = 0; dab < count; dab++) {
      const chunk = Math.floor(dab / CHUNK) * 6;
      if (dab % CHUNK === 0 && !this.meets(b, boxes, chunk, reach)) {
        dab += CHUNK - 1;
        continue;
      }
      let squared = 0;
      for (let k = 0; k < 3; k++) {
        const at = centers[dab * 3 + k]!;
        const away = Math.max(0, this.boxes[b + k]! - at, at - this.boxes[b + 3 + k]!);
        squared += away * away;
      }
      if (squared <= reach * reach) return true;
    }
    return false;
  }

  private meets(block: number, boxes: Float32Array, chunk: number, reach: number): boolean {
    for (let k = 0; k < 3; k++) {
      if (boxes[chunk + k]! - reach > this.boxes[block + 3 + k]!) return false;
      if (boxes[chunk + 3 + k]! + reach < this.boxes[block + k]!) return false;
    }
    return true;
  }

  /** The same blocks and those that touch them, for what looks at the next texel. */
  withNeighbours(blocks: readonly number[]): number[] {
    const { columns, rows } = this.tile.plan;
    const all = new Set<number>();
    for (const block of blocks) {
      const [x, y] = [block % columns, Math.floor(block / columns)];
      for (let row = Math.max(0, y - 1); row <= Math.min(rows - 1, y + 1); row++) {
        for (let column = Math.max(0, x - 1); column <= Math.min(columns - 1, x + 1); column++) {
          all.add(row * columns + column);
        }
      }
    }
    return [...all].sort((a, b) => a - b);
  }

  /** The texels of a block: from the upper left, in the map. */
  rectOf(block: number): { x: number; y: number; width: number; height: number } {
    const { plan, size } = this.tile;
    const [x, y] = [(block % plan.columns) * BLOCK, Math.floor(block / plan.columns) * BLOCK];
    return { x, y, width: Math.min(BLOCK, size.width - x), height: Math.min(BLOCK, size.height - y) };
  }
}
