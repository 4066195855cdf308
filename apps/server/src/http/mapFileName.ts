import { DEFAULT_NAME_PATTERN } from '@zographos/contracts';
import { FIRST_TILE, tileOrigin } from '@zographos/core/uv';

/**
 * The name of a map's file, without its ending. The usual pattern leaves the number of the first tile out; one of the
 * artist's own is followed to the letter.
 */
export function mapFileName(pattern: string, set: string, map: string, tile: number): string {
  if (pattern === DEFAULT_NAME_PATTERN && tile === FIRST_TILE) return `${set}_${map}`;
  const [u, v] = tileOrigin(tile);
  const values: Record<string, string> = { set, map, tile: String(tile), u: String(u + 1), v: String(v + 1) };
  return pattern.replace(/\{(set|map|tile|u|v)\}/g, (_, name: string) => values[name]!);
}
