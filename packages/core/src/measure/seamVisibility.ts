import { blur } from '../image/filter/blur.ts';
import type { Border } from '../image/filter/resample.ts';
import type { Image } from '../image/image.ts';
import { meanOf, planeLike, tone } from '../image/planes.ts';
import { gridOver, matchWindows, WINDOW, type WindowGrid } from './windowMatch.ts';

/** A place where a tile looks like nothing in its picture, in shares of the tile, y downwards. */
export interface SeamPlace {
  x: number;
  y: number;
  /** How many times as unlike it is as places of the picture are unlike each other: above 1.5. */
  strength: number;
}

/** How much a tile shows where it was joined. */
export interface SeamVisibility {
  /**
   * 0 where every place of the tile could be one of the picture; the more of the tile could not, and the less it could, the
   * more. Below 0.5 hardly anything is seen.
   */
  visibility: number;
  /** The strength of its worst place; below 1.5 none is seen. */
  worst: number;
  /** The worst places, not close to each other, worst first. */
  places: SeamPlace[];
}

/** What a window spans of the tile's longer side: the size of a joint between stones, and half of it. */
const SPANS = [WINDOW / 256, WINDOW / 512] as const;
/** A place that is so many times as unlike the picture as places of the picture are unlike each other is not seen. */
const UNSEEN = 1.5;
/** Worse than this is not told apart. */
const MOST = 6;
/** Deviations of tone below this share of the picture's own are never seen. */
const FAINT = 0.03;
/** Windows of a tile and of its picture that are looked at, at most, and how often. */
const MOST_WINDOWS = 16_000;
const ROUNDS = { tile: 12, picture: 5 } as const;
const MOST_PLACES = 24;
/** Places closer than this share of the tile are one. */
const NEAR = 1 / 16;

/**
 * How much a tile shows its cuts, bands, patches and mends: every place of it is looked for in the picture it was made of
 * (coherence of Simakov, Caspi, Shechtman and Irani, "Summarizing Visual Data Using Bidirectional Similarity", 2008), and
 * what is not found there is held against how unlike each other the picture's own places are just there, so that a cut
 * through sand does not count and one through a plain plate does (own definition). Dead ends, ghosts of a blend, steps
 * of tone and blurred bands are found alike, wherever they are.
 * @param tile taken to repeat
 * @param picture what it was made of, at its scale; the tile itself where there is none, which tells its outer border
 * @returns null where the picture is too small to compare with
 * @example seamVisibility(tile, photograph)?.visibility // 0.3
 */
export function seamVisibility(tile: Image, picture: Image, check?: () => void): SeamVisibility | null {
  const [own, source] = [tone(tile), tone(picture)];
  const strengths = SPANS.map((span) => unlikeness(own, source, span, check)).filter((each) => each !== null);
  if (strengths.length === 0) return null;
  const visibility = strengths.map(({ values }) => 100 * meanOf(values.map(excess)));
  return {
    visibility: meanOf(visibility),
    worst: Math.max(...strengths.map(({ values }) => values.reduce((most, value) => Math.max(most, value), 0))),
    places: placesOf(strengths, tile),
  };
}

const excess = (value: number): number => Math.max(0, Math.min(value, MOST) - UNSEEN);

interface Unlikeness {
  grid: WindowGrid;
  /** Window by window: the deviation from its match over that of the picture's own matches. */
  values: Float32Array;
}

function unlikeness(tile: Image, picture: Image, span: number, check?: () => void): Unlikeness | null {
  const spacing = Math.max(1, Math.round((Math.max(tile.width, tile.height) * span) / WINDOW));
  const [own, source] = [detailed(tile, spacing, 'repeat'), detailed(picture, spacing, 'clamp')];
  const grid = gridOver(own, true, spacing, MOST_WINDOWS);
  const found = matchWindows(own, true, source, { grid, rounds: ROUNDS.tile, check });
  const usual = usualCost(source, spacing, check);
  if (!found || !usual) return null;
  const faint = FAINT ** 2 * varianceOf(source.data);
  const values = found.costs.map((cost, i) => {
    const least = usual(found.x[i]!, found.y[i]!) + faint;
    return least > 0 ? Math.sqrt(cost / least) : cost > 0 ? Infinity : 0;
  });
  return { grid, values };
}

/** How much detail is raised over slow changes, so that a blend is missed for what it has lost. */
const RAISED = 2;

/** A picture as windows see it: samples stand for what is about them, and detail counts more than slow changes. */
function detailed(image: Image, spacing: number, border: Border): Image {
  const [fine, wide] = [blur(image, spacing / 2, border), blur(image, spacing * 2, border).data];
  return { ...fine, data: fine.data.map((value, i) => value + RAISED * (value - wide[i]!)) };
}

/** How unlike the places of a picture are that are most alike, about a place of it. */
function usualCost(picture: Image, spacing: number, check?: () => void): ((x: number, y: number) => number) | null {
  const grid = gridOver(picture, false, spacing, MOST_WINDOWS);
  const apart = spacing * WINDOW;
  const found = matchWindows(picture, false, picture, { grid, apart, rounds: ROUNDS.picture, check });
  if (!found) return null;
  const { columns, rows, stride } = grid;
  // A window without any other that is far enough away counts as one that is like nothing.
  const most = found.costs.reduce((top, cost) => (cost < Infinity ? Math.max(top, cost) : top), 0);
  const costs = found.costs.map((cost) => Math.min(cost, most));
  const { data } = blur(planeLike({ width: columns, height: rows }, costs), apart / stride / 2, 'clamp');
  const margin = ((WINDOW - 1) / 2) * spacing;
  const place = (at: number, count: number): number =>
    Math.max(0, Math.min(count - 1, Math.round((at - margin) / stride)));
  return (x, y) => data[place(y, rows) * columns + place(x, columns)]!;
}

function placesOf(strengths: readonly Unlikeness[], { width, height }: Image): SeamPlace[] {
  const seen = strengths
    .flatMap(({ grid: { columns, stride }, values }) =>
      [...values].map((strength, i) => ({
        x: ((i % columns) * stride + 0.5) / width,
        y: (Math.floor(i / columns) * stride + 0.5) / height,
        strength,
      })),
    )
    .filter(({ strength }) => strength > UNSEEN)
    .sort((a, b) => b.strength - a.strength);
  const places: SeamPlace[] = [];
  const apart = (a: number, b: number): number => Math.min(Math.abs(a - b), 1 - Math.abs(a - b));
  for (const each of seen) {
    if (places.some(({ x, y }) => Math.hypot(apart(x, each.x), apart(y, each.y)) < NEAR)) continue;
    places.push(each);
    if (places.length === MOST_PLACES) break;
  }
  return places;
}

function varianceOf(data: Float32Array): number {
  const mean = meanOf(data);
  let sum = 0;
  for (const value of data) sum += (value - mean) ** 2;
  return sum / data.length;
}
