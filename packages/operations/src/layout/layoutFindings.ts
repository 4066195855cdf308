import { uvMiddle, type Layout, type LayoutCheck } from '@zographos/core/uv';

/** What would mend a layout. */
export type LayoutRemedy = 'pack' | 'unwrap' | 'mirror' | 'bring-back' | 'even' | 'share';

/** Something about a layout that the artist should know: where it is so, and what would mend it. */
export interface LayoutFinding {
  kind: 'overlap' | 'flipped' | 'outside' | 'too-close' | 'zero-area' | 'density' | 'stretch' | 'coverage';
  severity: 'note' | 'warning';
  sentence: string;
  /** The islands it is about. */
  islands: number[];
  /** Where to look, the worst first. */
  places: { u: number; v: number; triangle: number | null }[];
  remedies: { label: string; how: LayoutRemedy }[];
}

const MOST_PLACES = 24;
/** Islands are told apart as too dense or too thin beyond this factor of the mean. */
const OUTLIER = 1.5;
/** Stretch that is seen on an even pattern. */
const STRETCHED = 1.3;
/** Less than this of a tile in use is a waste of memory. */
const SPARSE = 0.4;

/** Says in sentences what a check of a layout has found. @param padding texels that should lie between islands */
export function layoutFindings(layout: Layout, check: LayoutCheck, padding: number): LayoutFinding[] {
  const at = (triangle: number): LayoutFinding['places'][number] => {
    const [u, v] = uvMiddle(layout, triangle);
    return { u, v, triangle };
  };
  const islandsOf = (triangles: readonly number[]): number[] => [...new Set(triangles.map((t) => check.islandOf[t]!))];
  const places = (triangles: readonly number[]): LayoutFinding['places'] => onePerIsland(triangles, check).map(at);
  const findings: LayoutFinding[] = [];
  const { overlaps, flipped, outside, tooClose, zeroArea } = check;
  if (overlaps.pairs > 0) {
    const count = overlaps.flagged.reduce((sum, flag) => sum + flag, 0);
    const apart = overlaps.islands.some(({ a, b }) => a !== b);
    findings.push({
      kind: 'overlap',
      severity: 'warning',
      sentence: `${many(count, 'triangle')} overlap in the layout: they share texels, so whatever is baked appears on all of them. Pack the islands apart, or mark them as stacked.`,
      islands: [...new Set(overlaps.islands.flatMap(({ a, b }) => [a, b]))],
      places: overlaps.islands.slice(0, MOST_PLACES).map(({ triangle, place: [u, v] }) => ({ u, v, triangle })),
      remedies: [
        ...(apart
          ? [
              { label: 'Mark as stacked', how: 'share' as const },
              { label: 'Pack the islands apart', how: 'pack' as const },
            ]
          : []),
        ...(apart ? [] : [{ label: 'Unwrap again', how: 'unwrap' as const }]),
      ],
    });
  }
  if (flipped.length > 0) {
    findings.push({
      kind: 'flipped',
      severity: 'warning',
      sentence: `${many(flipped.length, 'triangle')} are mirrored: lettering on them reads backwards.`,
      islands: islandsOf(flipped),
      places: places(flipped),
      remedies: [{ label: 'Mirror the islands', how: 'mirror' }],
    });
  }
  if (outside.length > 0) {
    findings.push({
      kind: 'outside',
      severity: 'warning',
      sentence: `${many(outside.length, 'triangle')} lie outside the UDIM tiles in use or cross a tile border, so they get no texels of their own. Move them into a tile, or pack again.`,
      islands: islandsOf(outside),
      places: places(outside),
      remedies: [
        { label: 'Move into a tile', how: 'bring-back' },
        { label: 'Pack again', how: 'pack' },
      ],
    });
  }
  if (tooClose.length > 0) {
    const { gap } = tooClose[0]!;
    findings.push({
      kind: 'too-close',
      severity: 'warning',
      sentence: `At ${many(tooClose.length, 'place')} islands are less than ${padding} px from each other or from the tile border (smallest gap ${gap.toFixed(1)} px), too little for the padding. Pack with ${padding} px spacing.`,
      islands: [...new Set(tooClose.flatMap(({ a, b }) => (b === null ? [a] : [a, b])))],
      places: tooClose.slice(0, MOST_PLACES).map(({ place: [u, v] }) => ({ u, v, triangle: null })),
      remedies: [{ label: `Pack with ${padding} px spacing`, how: 'pack' }],
    });
  }
  if (zeroArea.length > 0) {
    findings.push({
      kind: 'zero-area',
      severity: 'warning',
      sentence: `${many(zeroArea.length, 'triangle')} have no area in the layout: nothing can be baked there.`,
      islands: islandsOf(zeroArea),
      places: places(zeroArea),
      remedies: [{ label: 'Unwrap again', how: 'unwrap' }],
    });
  }
  findings.push(...densityFindings(check, places), ...stretchFindings(check, places));
  const [tile, coverage] = [...check.coverage].sort(([, a], [, b]) => a - b)[0] ?? [0, 1];
  if (coverage < SPARSE && coverage > 0) {
    findings.push({
      kind: 'coverage',
      severity: 'note',
      sentence: `Only ${Math.round(coverage * 100)} % of UDIM tile ${tile} is covered by islands; the rest of the map is unused.`,
      islands: [],
      places: [],
      remedies: [{ label: 'Pack again', how: 'pack' }],
    });
  }
  return findings;
}

function densityFindings(
  { density, islandOf, islands: count, zeroArea }: LayoutCheck,
  places: (triangles: readonly number[]) => LayoutFinding['places'],
): LayoutFinding[] {
  const flat = new Set(zeroArea);
  const off: number[] = [];
  density.ofTriangle.forEach((value, t) => {
    if (value > 0 && !flat.has(t) && (value > density.mean * OUTLIER || value < density.mean / OUTLIER)) off.push(t);
  });
  if (off.length === 0) return [];
  const islands = [...new Set(off.map((t) => islandOf[t]!))];
  return [
    {
      kind: 'density',
      severity: 'note',
      sentence: `${many(off.length, 'triangle')} of ${many(islands.length, 'island')} have over ${OUTLIER} times more or fewer texels than the mean.`,
      islands,
      places: places(off),
      remedies: [
        count > 1 ? { label: 'Make texel density uniform', how: 'even' } : { label: 'Unwrap again', how: 'unwrap' },
      ],
    },
  ];
}

function stretchFindings(
  { stretch, islandOf }: LayoutCheck,
  places: (triangles: readonly number[]) => LayoutFinding['places'],
): LayoutFinding[] {
  if (stretch.l2 < STRETCHED) return [];
  const worst = [...stretch.ofTriangle.keys()]
    .filter((t) => stretch.ofTriangle[t]! > STRETCHED)
    .sort((a, b) => stretch.ofTriangle[b]! - stretch.ofTriangle[a]!);
  return [
    {
      kind: 'stretch',
      severity: 'note',
      sentence: `Mean stretch is ${Number.isFinite(stretch.l2) ? stretch.l2.toFixed(2) : 'infinite'} (L2; 1 is none). Unwrap into more, flatter islands.`,
      islands: [...new Set(worst.map((t) => islandOf[t]!))],
      places: places(worst),
      remedies: [{ label: 'Unwrap into flatter islands', how: 'unwrap' }],
    },
  ];
}

function onePerIsland(triangles: readonly number[], { islandOf }: LayoutCheck): number[] {
  const first = new Map<number, number>();
  for (const t of triangles) if (!first.has(islandOf[t]!)) first.set(islandOf[t]!, t);
  return [...first.values()].slice(0, MOST_PLACES);
}

const many = (count: number, what: string): string =>
  `${count.toLocaleString('en-GB').replaceAll(',', ' ')} ${what}${count === 1 ? '' : 's'}`;
