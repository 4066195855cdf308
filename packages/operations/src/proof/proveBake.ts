import {
  MORE_REACH,
  paddingCollisions,
  type BakeStatistics,
  type Collisions,
  type MarkKind,
  type Marks,
  type Receiver,
} from '@zographos/core/bake';
import { describeKind, followsNormalSpace, TexelState } from '@zographos/core/image';
import type { BakePassSettings } from '../bake/settings.ts';
import type { Finding } from './finding.ts';
import type { BakeReport } from '../bake/report.ts';
import { note, warning } from './finding.ts';
import type { BakedTile } from '../bake/blocks/bakedTiles.ts';

/** Places that a finding names. */
const PLACES = 12;
/** Occlusion noise that is not worth a word: half a step of eight bits would not be seen; four may. */
const QUIET = 4 / 255;

/** What a bake's bakedTiles have been through. */
export interface Proven {
  bakedTile: BakedTile;
  statistics: BakeStatistics;
}

/** How far texels of an occlusion map are off, as a standard deviation: measured between halves of each sample's rays. */
export function occlusionNoise(
  proven: readonly Proven[],
  { samples, oversize, maps }: BakePassSettings,
): number | null {
  if (!maps.includes('ao')) return null;
  const squares = proven.reduce((sum, { statistics }) => sum + statistics.noise.squares, 0);
  const count = proven.reduce((sum, { statistics }) => sum + statistics.noise.samples, 0);
  // Half the difference of two halves is the error of their mean; samples of a texel average it out.
  return count > 0 ? Math.sqrt(squares / 1e6 / count) / 2 / (samples * oversize) : null;
}

/** Says what was found wrong, where, and what to change. */
export function proofFindings(
  proven: readonly Proven[],
  receiver: Receiver,
  settings: BakePassSettings,
  { reach, noise, moreReachHelps }: Pick<BakeReport, 'reach' | 'noise'> & { moreReachHelps: () => boolean },
): Finding[] {
  const findings: Finding[] = [];
  const names = receiver.parts.map(({ name }) => name);
  for (const kind of Object.keys(SAYS) as MarkKind[]) {
    const marks = proven.map(({ statistics }) => statistics.marks[kind]);
    const texels = marks.reduce((sum, mark) => sum + mark.texels, 0);
    if (texels === 0 || !isOfInterest(kind, settings)) continue;
    const places = placesOf(proven, kind, names);
    findings.push(SAYS[kind]({ texels, parts: partsOf(marks, names), places, settings, reach, moreReachHelps }));
  }
  findings.push(...collisionsFound(proven, settings), ...outOfRange(proven));
  if (noise !== null && noise > QUIET) {
    // Of plain random rays four times as many halve the noise; those of low discrepancy gain about that, or more.
    const rays = Math.min(4096, settings.occlusion.rays * 4);
    findings.push(
      note(
        'noise',
        `Ambient occlusion has about ${percent(noise)} noise. ${rays} rays per sample would about halve it.`,
        {
          remedy: { label: `Cast ${rays} rays`, change: { occlusion: { ...settings.occlusion, rays } } },
        },
      ),
    );
  }
  return findings;
}

function isOfInterest(kind: MarkKind, { maps, normal, backFaces }: BakePassSettings): boolean {
  // Only what is written in the receiver’s own frame cannot turn away from it.
  if (kind === 'backward') return normal.space === 'tangent' && maps.some(followsNormalSpace);
  // Who has normals flipped knows that they point inwards.
  return kind !== 'behind' || backFaces !== 'flip';
}

interface Said {
  texels: number;
  parts: string;
  places: Finding['places'];
  settings: BakePassSettings;
  reach: BakeReport['reach'];
  /** Whether a greater outer reach would serve the whole, which takes rays to tell. */
  moreReachHelps: () => boolean;
}

const SAYS: Record<MarkKind, (said: Said) => Finding> = {
  missed: ({ texels, parts, places, reach, settings }) =>
    settings.aim === 'shared'
      ? warning(
          'missed',
          `${texels} texels${parts} are missed: the source has no triangle that they share, so they show the receiver’s own surface.`,
          { places },
        )
      : tooShort(texels, parts, places, reach),
  open: ({ texels, parts, places }) =>
    note(
      'open',
      `${texels} texels${parts} show the receiver’s own surface: there is no source above or below them, even at twice the reach. Where the source has gaps, that is as it should be.`,
      { places },
    ),
  overlapping: ({ texels, parts, places }) =>
    warning(
      'overlapping',
      `${texels} texels${parts} belong to more than one triangle because UVs overlap; only the first triangle was baked there. Open the layout and separate the islands.`,
      {
        places,
        remedy: { label: 'Open the layout', room: 'uv' },
      },
    ),
  behind: ({ texels, parts, places }) =>
    note('behind', `${texels} texels${parts} hit back faces of the source: its normals point inwards there.`, {
      places,
      remedy: { label: 'Hit them with flipped normals', change: { backFaces: 'flip' } },
    }),
  inside: ({ texels, parts, places, reach, moreReachHelps }) =>
    note(
      'inside',
      `At ${texels} texels${parts} the ray started inside the source, just below its outer surface, and skipped that. If it is meant, increase the outer reach there.`,
      {
        places,
        ...(moreReachHelps()
          ? {
              remedy: {
                label: 'Increase the outer reach',
                change: { reach: { out: tidy(reach.out * (1 + MORE_REACH)), in: reach.in } },
              },
            }
          : {}),
      },
    ),
  deepInside: ({ texels, parts, places }) =>
    note(
      'deepInside',
      `At ${texels} texels${parts} the ray started deep inside the source and shows what lies inwards of that. Where parts of the source join or stand close, that is as it should be; elsewhere the outer reach is far too short.`,
      { places },
    ),
  outerLayer: ({ texels, parts, places }) =>
    note(
      'outerLayer',
      `At ${texels} texels${parts} the ray hit an outer part of the source with a gap and a second surface behind it. If the inner surface is meant, reduce the outer reach there.`,
      { places },
    ),
  backward: ({ texels, parts, places }) =>
    warning(
      'backward',
      `${texels} texels${parts} have normals that point away from the receiver; a normal map cannot reproduce them. The source overhangs there, or rays meet it at too flat an angle.`,
      { places },
    ),
};

/** The source lies beyond the reach. */
const tooShort = (texels: number, parts: string, places: Finding['places'], reach: BakeReport['reach']): Finding =>
  warning(
    'missed',
    `${texels} texels${parts} are missed: the source is not within reach, so they show the receiver’s own surface. Increase the reach.`,
    {
      places,
      remedy: { label: 'Double the reach', change: { reach: { out: tidy(reach.out * 2), in: tidy(reach.in * 2) } } },
    },
  );

/** “ of Cleat, Ring”, or nothing where there is but one part. */
function partsOf(marks: Marks[MarkKind][], names: string[]): string {
  if (names.length < 2) return '';
  const concerned = names.filter((_, part) => marks.some(({ byPart }) => (byPart[part] ?? 0) > 0));
  const more = concerned.length - 4;
  return ` of ${concerned.slice(0, 4).join(', ')}${more > 0 ? ` and ${more} more` : ''}`;
}

function placesOf(proven: readonly Proven[], kind: MarkKind, names: string[]): Finding['places'] {
  return proven
    .flatMap(({ bakedTile, statistics }) =>
      statistics.marks[kind].places.map(({ x, y, texels, position, part }) => ({
        tile: bakedTile.tile,
        x,
        y,
        texels,
        position,
        part: names[part] ?? null,
      })),
    )
    .sort((a, b) => b.texels - a.texels)
    .slice(0, PLACES);
}

function collisionsFound(proven: readonly Proven[], { padding }: BakePassSettings): Finding[] {
  if (padding === 'all' || padding === 0) return [];
  const found = proven.flatMap(({ bakedTile }): { tile: number; collisions: Collisions }[] => {
    const { size, states, islands, tile } = bakedTile;
    return islands ? [{ tile, collisions: paddingCollisions(size.width, size.height, states, islands) }] : [];
  });
  const texels = found.reduce((sum, { collisions }) => sum + collisions.texels, 0);
  if (texels === 0) return [];
  const places = found.flatMap(({ tile, collisions }) =>
    collisions.places.map((place) => ({ ...place, tile, position: null, part: null })),
  );
  return [
    note(
      'collision',
      `Islands are less than twice the padding (${padding} px) apart: at ${texels} texels the padding of two islands meets, and lower mip levels will bleed. Increase the island spacing to ${2 * padding} px.`,
      {
        places: places.slice(0, PLACES),
        remedy: { label: 'Open the layout', room: 'uv' },
      },
    ),
  ];
}

/** Values that whole numbers cannot show because the range is set by hand. */
function outOfRange(proven: readonly Proven[]): Finding[] {
  const findings: Finding[] = [];
  const kinds = proven[0]?.bakedTile.maps.map(({ kind }) => kind) ?? [];
  kinds.forEach((kind, m) => {
    if (kind !== 'height') return;
    let texels = 0;
    const places: Finding['places'] = [];
    for (const { bakedTile } of proven) {
      const { data, range = [0, 1] } = bakedTile.maps[m]!.image;
      const slack = (range[1] - range[0]) * 1e-6;
      let first = -1;
      let here = 0;
      for (let i = 0; i < data.length; i++) {
        if (bakedTile.states[i] !== TexelState.covered) continue;
        if (data[i]! >= range[0] - slack && data[i]! <= range[1] + slack) continue;
        if (first < 0) first = i;
        here++;
      }
      if (here === 0) continue;
      texels += here;
      const { width } = bakedTile.size;
      const place = { x: first % width, y: Math.floor(first / width), texels: here, position: null, part: null };
      places.push({ tile: bakedTile.tile, ...place });
    }
    if (texels === 0) return;
    findings.push(
      warning(
        'range',
        `${texels} texels of the ${describeKind(kind).phrase} map are outside the ${describeKind(kind).phrase} range and are clipped in 8- and 16-bit files. Set the range to automatic.`,
        {
          places,
          remedy: { label: 'Set the range to automatic', change: { height: { mid: 0.5, span: 'auto' } } },
        },
      ),
    );
  });
  return findings;
}

const percent = (share: number): string => `${(share * 100).toFixed(1)} %`;
const tidy = (value: number): number => Number(value.toPrecision(3));
