import { parseArgs } from 'node:util';
import { checkLayout, layoutFingerprint, layoutOf, type LayoutCheck } from '@zographos/core/uv';
import { parseSize, parseTiles, required } from '../flags.ts';
import { loadMeshes, oneMesh } from '../files/meshFiles.ts';

export const UV_CHECK_HELP = `cli uv-check: measure a layout and say what is wrong with it

  --in FILE            mesh file; all its objects share the layout
  --object NAME        only this object
  --uv-set N           UV set, counted from 1                              (1)
  --size N | WxH       size of the maps that lie on it                     (1024)
  --padding PX         texels that should lie between islands, and to the
                       edge of the tile                                    (8)
  --tiles LIST | all   UDIM tiles in use                                   (1001)
  --json               figures as JSON, in place of sentences
  --help               this text
`;

/** Exits with 0 whatever is found: it is a measurement. */
export async function uvCheckCommand(args: string[]): Promise<void> {
  const { values } = parseArgs({
    args,
    options: {
      in: { type: 'string' },
      object: { type: 'string' },
      'uv-set': { type: 'string', default: '1' },
      size: { type: 'string', default: '1024' },
      padding: { type: 'string', default: '8' },
      tiles: { type: 'string' },
      json: { type: 'boolean', default: false },
    },
  });
  const file = required(values.in, 'in');
  const { mesh } = oneMesh(file, await loadMeshes(file, values.object));
  const layout = layoutOf(mesh, Number(values['uv-set']) - 1);
  const check = checkLayout(layout, {
    size: parseSize(values.size),
    padding: Number(values.padding),
    tiles: parseTiles(values.tiles),
  });
  const figures = figuresOf(check, layoutFingerprint(layout));
  process.stdout.write(values.json ? `${JSON.stringify(figures, null, 2)}\n` : sentencesOf(figures));
}

type Figures = ReturnType<typeof figuresOf>;

function figuresOf(check: LayoutCheck, fingerprint: string) {
  const { overlaps, flipped, outside, tooClose, zeroArea, coverage, density, stretch, seams } = check;
  const { mean, min, max } = density;
  // JSON has no infinity: what is stretched without bound has no figure.
  const bounded = (value: number): number | null => (Number.isFinite(value) ? value : null);
  return {
    /** What the layout is known by; that of a bake is in its report. */
    fingerprint,
    triangles: check.triangles,
    islands: check.islands,
    /** Pairs of triangles that lie on each other. */
    overlaps: overlaps.pairs,
    overlappingTriangles: overlaps.flagged.reduce((sum, flag) => sum + flag, 0),
    flipped: flipped.length,
    outside: outside.length,
    /** Pairs of islands, or islands and edges, that lie closer than the padding. */
    tooClose: tooClose.length,
    narrowest: tooClose[0]?.gap ?? null,
    zeroArea: zeroArea.length,
    coverage: [...coverage.values()].reduce((sum, share) => sum + share, 0) / coverage.size,
    coverageOfTiles: Object.fromEntries(coverage),
    texelDensity: { mean, min, max },
    stretch: { l2: bounded(stretch.l2), linf: bounded(stretch.linf) },
    seams,
  };
}

function sentencesOf(figures: Figures): string {
  const { texelDensity, stretch, seams } = figures;
  const short = (value: number | null): string => (value === null ? 'no bound' : String(Number(value.toPrecision(4))));
  return [
    `${figures.triangles} triangles in ${figures.islands} islands, which cover ${(figures.coverage * 100).toFixed(1)} % of the tiles.`,
    `${figures.overlaps} pairs of triangles lie on each other; ${figures.flipped} triangles are mirrored, ${figures.outside} lie outside the tiles, ${figures.zeroArea} have no area.`,
    `${figures.tooClose} pairs of islands (or islands and edges) lie closer than the padding${figures.narrowest === null ? '' : `, the closest ${short(figures.narrowest)} px`}.`,
    `Texel density: ${short(texelDensity.mean)} px per mesh unit on average, ${short(texelDensity.min)} to ${short(texelDensity.max)}.`,
    `Stretch: L2 ${short(stretch.l2)}, L∞ ${short(stretch.linf)}. Seams: ${seams.edges} edges, ${short(seams.length)} mesh units.`,
    '',
  ].join('\n');
}
