import type { BlockValues } from '../inputs/fieldAt.ts';
import type { LayeredTile } from '../surface/layeredSurface.ts';
import type { LayerInputs } from '../inputs/layerInputs.ts';
import { TEXELS } from '../surface/texelBlock.ts';
import { isRetouching, type Stroke } from './stroke.ts';
import { StrokeCoverage } from './strokeCoverage.ts';
import { boxOfBlock } from './texelRows.ts';

/** A mask painted by hand: strokes lay their grey over what is below, the last on top; nothing is 0. */
export function paintedMask(strokes: readonly Stroke[], tile: LayeredTile, inputs: LayerInputs): BlockValues {
  const covers = strokes
    .filter((stroke) => !isRetouching(stroke))
    .map((stroke) => new StrokeCoverage(stroke, tile, inputs));
  const box = new Float64Array(6);
  const share = new Float32Array(TEXELS);
  return (block, out) => {
    out.fill(0, 0, block.count);
    if (covers.length === 0) return;
    boxOfBlock(block, box);
    for (const cover of covers) {
      if (!cover.cover(block, box, share)) continue;
      const grey = greyOfStroke(cover.stroke);
      for (let i = 0; i < block.count; i++) out[i]! += (grey - out[i]!) * share[i]!;
    }
  };
}

/** An eraser brings a mask back to 0. */
const greyOfStroke = ({ brush, paint }: Stroke): number =>
  brush.tool === 'erase' ? 0 : 'grey' in paint && typeof paint.grey === 'number' ? paint.grey : 1;
