import { domainOf, placesFor } from '../../pattern/domain.ts';
import { solidField, type SolidField } from '../../pattern/solidField.ts';
import type { LayeredTile } from '../surface/layeredSurface.ts';
import { TEXELS, type TexelBlock } from '../surface/texelBlock.ts';

/** Tells a value for each texel of a block. */
export type BlockValues = (block: TexelBlock, out: Float32Array) => void;

/** A field at the texels of a block: in space on a mesh, on the flat torus where the tile repeats. */
export function fieldAt(field: SolidField, { surface: { repeats }, texel }: LayeredTile): BlockValues {
  if (!repeats) {
    const at = solidField(field, texel);
    return (block, out) => at(block.places, out.subarray(0, block.count));
  }
  const [width, height] = repeats;
  const at = solidField({ ...field, size: field.size / width }, texel / width, 4);
  const domain = domainOf('flat-torus', height / width);
  const places = placesFor(TEXELS);
  return (block, out) => {
    for (let i = 0; i < block.count; i++) domain.place(block.u[i]!, 1 - block.v[i]!, places, i);
    at(places, out.subarray(0, block.count));
  };
}
