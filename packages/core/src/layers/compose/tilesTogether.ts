import { DisjointSets } from '../../math/disjointSets.ts';
import { tileOfTriangle } from '../../uv/udim.ts';
import { boxesOfStroke } from '../painting/retouchedTiles.ts';
import { isRetouching, type Stroke } from '../painting/stroke.ts';
import { meet } from '../painting/texelGrid.ts';
import { everyLayer, strokesOf, type Layer } from '../stack.ts';
import type { LayeredSurface } from '../surface/layeredSurface.ts';

/**
 * Groups tiles that have to be composed together: those that a stroke takes something from one to the other of.
 * @param tiles that are composed
 * @returns every tile in one group, in their order
 * @example tilesTogether(layers, strokes, surface, [1001, 1002]) // [[1001], [1002]] where no stroke is cloned between them
 */
export function tilesTogether(
  layers: readonly Layer[],
  strokes: ReadonlyMap<string, Stroke>,
  surface: LayeredSurface,
  tiles: readonly number[],
): number[][] {
  const sets = DisjointSets.of(tiles.length);
  for (const stroke of takingStrokes(layers, strokes)) {
    if (tiles.length < 2) break;
    const [first, ...others] = tilesUnder(stroke, surface)
      .map((tile) => tiles.indexOf(tile))
      .filter((at) => at >= 0);
    for (const other of others) sets.join(first!, other);
  }
  const groups = new Map<number, number[]>();
  for (const [at, tile] of tiles.entries()) {
    const group = groups.get(sets.find(at)) ?? [];
    group.push(tile);
    groups.set(sets.find(at), group);
  }
  return [...groups.values()];
}

/** The strokes of visible layers that lay down what lies elsewhere. */
function takingStrokes(layers: readonly Layer[], strokes: ReadonlyMap<string, Stroke>): Stroke[] {
  const names = strokesOf([...everyLayer(layers)].filter(({ visible, content }) => visible && content === 'painted'));
  return names.flatMap((name) => {
    const stroke = strokes.get(name);
    return stroke && isRetouching(stroke) ? [stroke] : [];
  });
}

/** Of strokes that are there: with each picture of a stack all its strokes are gone through. */
const tilesKnown = new WeakMap<Stroke, { surface: LayeredSurface; tiles: number[] }>();

/** The tiles of the triangles that a stroke may reach or take from. */
function tilesUnder(stroke: Stroke, surface: LayeredSurface): number[] {
  const known = tilesKnown.get(stroke);
  if (known?.surface === surface) return known.tiles;
  const boxes = boxesOfStroke(stroke, surface);
  const { positions, indices } = surface.receiver;
  const found = new Set<number>();
  const own = new Float64Array(6);
  for (let t = 0; t < indices.length / 3; t++) {
    own.fill(Infinity, 0, 3).fill(-Infinity, 3);
    for (let corner = t * 3; corner < t * 3 + 3; corner++) {
      for (let k = 0; k < 3; k++) {
        const value = positions[indices[corner]! * 3 + k]!;
        own[k] = Math.min(own[k]!, value);
        own[k + 3] = Math.max(own[k + 3]!, value);
      }
    }
    if (!boxes.some((box) => meet(box, own))) continue;
    const tile = tileOfTriangle(surface.receiver, t);
    if (tile !== null) found.add(tile);
  }
  const tiles = [...found];
  tilesKnown.set(stroke, { surface, tiles });
  return tiles;
}
