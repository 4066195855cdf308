import { CornerFrames } from '../../bake/tangents/cornerFrames.ts';
import type { RetouchedTile } from './retouchedTiles.ts';
import type { TexelGrid } from './texelGrid.ts';

/**
 * Normals as directions in space, on the texels that a stroke works on: so they can be mixed and laid elsewhere, where the
 * tangent frame is another.
 * @param planes of unit vectors in tangent space, one for each tile; not changed
 * @returns planes of unit vectors in space, on the texels of the grid alone
 */
export function normalsInSpace(
  grid: TexelGrid,
  tiles: readonly RetouchedTile[],
  planes: readonly Float32Array[],
): Float32Array[] {
  const { receiver } = tiles[0]!.tile.surface;
  const frames = new CornerFrames();
  const out = new Float64Array(3);
  const space = planes.map((plane) => new Float32Array(plane.length));
  for (let i = 0; i < grid.own; i++) {
    if (grid.triangles[i] !== frames.triangle) frames.load(receiver, grid.triangles[i]!);
    const [plane, at] = [planes[grid.of[i]!]!, grid.at[i]! * 3];
    frames.toSpace(grid.weights[i * 2]!, grid.weights[i * 2 + 1]!, plane[at]!, plane[at + 1]!, plane[at + 2]!, out);
    space[grid.of[i]!]!.set(out, at);
  }
  return space;
}

/** Directions in space as normals in tangent space again, on the texels that a stroke covers. @param planes changed */
export function intoTangentSpace(
  grid: TexelGrid,
  tiles: readonly RetouchedTile[],
  space: readonly Float32Array[],
  planes: readonly Float32Array[],
): void {
  const { receiver } = tiles[0]!.tile.surface;
  const frames = new CornerFrames();
  const out = new Float64Array(3);
  for (let i = 0; i < grid.own; i++) {
    const [of, at] = [grid.of[i]!, grid.at[i]! * 3];
    if (tiles[of]!.covered[grid.at[i]!] === 0) continue;
    if (grid.triangles[i] !== frames.triangle) frames.load(receiver, grid.triangles[i]!);
    const [x, y, z] = [space[of]![at]!, space[of]![at + 1]!, space[of]![at + 2]!];
    out.fill(0);
    frames.add(grid.weights[i * 2]!, grid.weights[i * 2 + 1]!, x, y, z, out);
    const length = Math.hypot(out[0]!, out[1]!, out[2]!);
    if (length > 0) for (let k = 0; k < 3; k++) planes[of]![at + k] = out[k]! / length;
  }
}
