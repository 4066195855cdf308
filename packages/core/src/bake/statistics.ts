export const DISTANCE_BINS = 64;

/**
 * What can be wrong with a texel of a bake: its rays met nothing, though the source lies a little farther off; there is
 * no source for them to meet; they met the source from behind; they began inside the source, just below or deep below
 * its outer surface (another layer lay before the one they met); they met an outer layer while another lies nearer; the
 * source's normal points away from the receiver; two triangles share the texel.
 */
export const MARK_KINDS = [
  'missed',
  'open',
  'behind',
  'inside',
  'deepInside',
  'outerLayer',
  'backward',
  'overlapping',
] as const;
/** Rays that would leave the source with so much more reach began just below its surface. */
export const MORE_REACH = 0.5;
export type MarkKind = (typeof MARK_KINDS)[number];

/** A block of texels in which a mark is found: how often, and where first. */
export interface MarkPlace {
  block: number;
  texels: number;
  /** The first such texel of the map, and its place in object space. */
  x: number;
  y: number;
  position: [number, number, number];
  /** The receiver's part. */
  part: number;
}

export interface Mark {
  texels: number;
  /** Texels by part of the receiver. */
  byPart: number[];
  /** Where most of them are, the worst first. */
  places: MarkPlace[];
}

export type Marks = Record<MarkKind, Mark>;

/** Places kept for each mark. */
const PLACES = 24;

/** Counts kept while baking. Only whole numbers are summed, so the order of the blocks cannot matter. */
export interface BakeStatistics {
  rays: number;
  /** Rays that met nothing within reach. */
  misses: number;
  /** Hits on the back of a triangle (only where back faces are accepted). */
  hitsFromBehind: number;
  texels: {
    covered: number;
    /** Covered texels none of whose rays hit. */
    missed: number;
    /** Texels claimed by more than one triangle. */
    overlapping: number;
  };
  /** Hits by signed distance from the receiver's surface, from −reach.in (first bin) to +reach.out (last). */
  hitDistances: number[];
  marks: Marks;
  /** Occlusion: squared differences between two halves of each sample's rays, in millionths, and their number. */
  noise: { squares: number; samples: number };
}

export function emptyStatistics(): BakeStatistics {
  const mark = (): Mark => ({ texels: 0, byPart: [], places: [] });
  return {
    rays: 0,
    misses: 0,
    hitsFromBehind: 0,
    texels: { covered: 0, missed: 0, overlapping: 0 },
    hitDistances: new Array<number>(DISTANCE_BINS).fill(0),
    marks: Object.fromEntries(MARK_KINDS.map((kind) => [kind, mark()])) as Marks,
    noise: { squares: 0, samples: 0 },
  };
}

/** What was counted in all blocks, and in each of them if that was asked for. */
export interface BakeCounts {
  sum: BakeStatistics;
  blocks: [block: number, counted: BakeStatistics][];
}

/** Sets all counts back to nothing, in place: others hold on to them. */
export function clearStatistics(statistics: BakeStatistics): void {
  statistics.rays = 0;
  statistics.misses = 0;
  statistics.hitsFromBehind = 0;
  statistics.texels.covered = 0;
  statistics.texels.missed = 0;
  statistics.texels.overlapping = 0;
  statistics.hitDistances.fill(0);
  statistics.noise.squares = 0;
  statistics.noise.samples = 0;
  for (const kind of MARK_KINDS) {
    statistics.marks[kind].texels = 0;
    statistics.marks[kind].byPart = [];
    statistics.marks[kind].places = [];
  }
}

export function addStatistics(sum: BakeStatistics, part: BakeStatistics): void {
  sum.rays += part.rays;
  sum.misses += part.misses;
  sum.hitsFromBehind += part.hitsFromBehind;
  sum.texels.covered += part.texels.covered;
  sum.texels.missed += part.texels.missed;
  sum.texels.overlapping += part.texels.overlapping;
  sum.noise.squares += part.noise.squares;
  sum.noise.samples += part.noise.samples;
  for (let b = 0; b < DISTANCE_BINS; b++) sum.hitDistances[b]! += part.hitDistances[b]!;
  for (const kind of MARK_KINDS) {
    const { texels, byPart, places } = part.marks[kind];
    const mark = sum.marks[kind];
    mark.texels += texels;
    byPart.forEach((count, i) => (mark.byPart[i] = (mark.byPart[i] ?? 0) + count));
    if (places.length > 0) mark.places = worst([...mark.places, ...places]);
  }
}

/** The places with the most texels; of equals the one higher up, so that the order of threads cannot matter. */
function worst(places: MarkPlace[]): MarkPlace[] {
  return places.sort((a, b) => b.texels - a.texels || a.block - b.block || a.part - b.part).slice(0, PLACES);
}

/** Counts the marks of one block, place by place. */
export class BlockMarks {
  private readonly places = new Map<number, MarkPlace>();
  private readonly marks: Marks;

  constructor(marks: Marks) {
    this.marks = marks;
  }

  /** @param locate tells where the texel is, asked once for each place */
  add(kind: MarkKind, part: number, locate: () => Omit<MarkPlace, 'texels' | 'part'>): void {
    const key = MARK_KINDS.indexOf(kind) * 65536 + part;
    const known = this.places.get(key);
    if (known) known.texels++;
    else this.places.set(key, { ...locate(), texels: 1, part });
  }

  /** Puts what was found in the block to the rest. */
  close(): void {
    for (const [key, place] of this.places) {
      const mark = this.marks[MARK_KINDS[Math.floor(key / 65536)]!];
      mark.texels += place.texels;
      mark.byPart[place.part] = (mark.byPart[place.part] ?? 0) + place.texels;
      mark.places.push(place);
      if (mark.places.length > 4 * PLACES) mark.places = worst(mark.places);
    }
    this.places.clear();
  }
}
