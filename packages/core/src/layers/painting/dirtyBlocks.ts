import { BLOCK } from '../../bake/coverage/blocks.ts';
import type { LayeredTile } from '../surface/layeredSurface.ts';
import type { SomeTexels } from '../compose/onThisThread.ts';
import { TexelBlock, type BlockPlaces, type PickTexels } from '../surface/texelBlock.ts';
import { CHUNK, dabsOf, type Dabs } from './dabs.ts';
import type { Stroke } from './stroke.ts';
import { boxOfBlock } from './texelRows.ts';

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
   * The texels that a stroke changes from one of its points on, by copies of its dabs too.
   * @param from the first point that is new
   */
  under(stroke: Stroke, from: number): Required<SomeTexels> {
    const dabs = dabsOf(stroke, this.tile.surface.repeats, from);
    const blocks: number[] = [];
    for (let b = 0; b * 6 < this.boxes.length; b++) if (this.isNear(b, dabs)) blocks.push(b);
    return { blocks, pick: (block, taken) => pickUnder(dabs, block, taken) };
  }

  private isNear(block: number, { centers, radii, count, boxes }: Dabs): boolean {
    const b = block * 6;
    for (let dab = 0; dab < count; dab++) {
      const chunk = Math.floor(dab / CHUNK) * 6;
      if (dab % CHUNK === 0 && !this.meets(b, boxes, chunk)) {
        dab += CHUNK - 1;
        continue;
      }
      let squared = 0;
      for (let k = 0; k < 3; k++) {
        const at = centers[dab * 3 + k]!;
        const away = Math.max(0, this.boxes[b + k]! - at, at - this.boxes[b + 3 + k]!);
        squared += away * away;
      }
      if (squared <= radii[dab]! ** 2) return true;
    }
    return false;
  }

  private meets(block: number, boxes: Float32Array, chunk: number): boolean {
    for (let k = 0; k < 3; k++) {
      if (boxes[chunk + k]! > this.boxes[block + 3 + k]!) return false;
      if (boxes[chunk + 3 + k]! < this.boxes[block + k]!) return false;
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

/** The texels that lie within one of some dabs. */
function pickUnder(
  { centers, radii, count: dabs }: Dabs,
  { count, places: [x, y, z] }: Parameters<PickTexels>[0],
  taken: Uint32Array,
): number {
  let found = 0;
  for (let i = 0; i < count; i++) {
    for (let dab = 0; dab < dabs; dab++) {
      const dx = x[i]! - centers[dab * 3]!;
      const dy = y[i]! - centers[dab * 3 + 1]!;
      const dz = z[i]! - centers[dab * 3 + 2]!;
      const r = radii[dab]!;
      if (dx * dx + dy * dy + dz * dz > r * r) continue;
      taken[found++] = i;
      break;
    }
  }
  return found;
}
