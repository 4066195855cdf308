import type { Size } from '../bake/blocks.ts';
import { ZographosError } from '../errors.ts';
import type { Image } from '../image/image.ts';
import { toUnit } from '../image/kindMeaning.ts';
import { resample } from '../image/resample.ts';
import { randomNumbers } from '../random.ts';
import { CutSide, minCut } from './minCut.ts';

export interface SynthesisOptions {
  /** Side of a patch as a share of the source's shorter side. */
  patch: number;
  /** How much of a patch lies on its neighbours, as a share of its side. */
  overlap: number;
  /** How many times as long as the source the tile is. */
  spread: number;
  /** How much worse than the best a patch may fit, so that there is a choice: 0 for the best alone. */
  variety: number;
  seed: number;
}

/** A patch of the source laid into the tile. */
interface Patch {
  to: readonly [x: number, y: number];
  from: readonly [x: number, y: number];
  /** Texel by texel of the patch, 1 where it shows. */
  shows: Float32Array;
}

/** How a tile is put together from patches; one plan serves all maps of a set. */
export interface PatchPlan {
  size: Size;
  side: number;
  patches: Patch[];
}

/** Patches are compared on copies in which a patch has about so many texels on each side. */
const COARSE_SIDE = 20;

export interface SynthesisWatch {
  onProgress?: (share: number) => void;
  /** Throws to stop. */
  check?: () => void;
}

/**
 * Puts a tile of any size together from patches of a picture, laid over each other on a torus (Efros and Freeman, "Image
 * Quilting", 2001), each joined along the least visible boundary of any shape (`minCut`). The source need not repeat;
 * places that were used are avoided, so that nothing is seen twice at once.
 * @throws input/bad-settings for patches that do not fit into the picture or the tile
 */
export function planPatches(
  source: Image,
  size: Size,
  options: SynthesisOptions,
  { onProgress, check }: SynthesisWatch = {},
): PatchPlan {
  const side = Math.round(options.patch * Math.min(source.width, source.height));
  const lap = Math.max(2, Math.round(side * options.overlap));
  requireRoom(source, size, side);
  const columns = Math.max(2, Math.ceil(size.width / (side - lap)));
  const rows = Math.max(2, Math.ceil(size.height / (side - lap)));
  const seek = matcher(source, side, options);
  const tile: Image = { ...source, ...size, data: new Float32Array(size.width * size.height * source.channels) };
  const filled = new Uint8Array(size.width * size.height);
  const patches: Patch[] = [];
  for (let j = 0; j < rows; j++) {
    for (let i = 0; i < columns; i++) {
      check?.();
      const to = [Math.round((i * size.width) / columns), Math.round((j * size.height) / rows)] as const;
      const from = seek(tile, filled, to);
      const shows = joined(tile, filled, source, side, to, from);
      const patch = { to, from, shows };
      lay(tile, source, side, patch);
      markFilled(filled, size, side, to);
      patches.push(patch);
      onProgress?.(patches.length / (rows * columns));
    }
  }
  return { size, side, patches };
}

/** Puts one map of a set together by a plan. @param whole whether texels stand for things and are never mixed */
export function layPatches(
  source: Image,
  { size, side, patches }: PatchPlan,
  { unit = false, whole = false }: { unit?: boolean; whole?: boolean } = {},
): Image {
  const tile: Image = { ...source, ...size, data: new Float32Array(size.width * size.height * source.channels) };
  for (const patch of patches) {
    lay(tile, source, side, whole ? { ...patch, shows: patch.shows.map((share) => (share >= 0.5 ? 1 : 0)) } : patch);
  }
  if (unit) for (let at = 0; at < tile.data.length; at += tile.channels) toUnit(tile.data, at);
  return tile;
}

function requireRoom(source: Image, size: Size, side: number): void {
  const most = Math.min(source.width, source.height, size.width, size.height);
  if (side >= 8 && side <= most) return;
  throw new ZographosError(
    'input/bad-settings',
    side < 8
      ? `Patches of ${side} px are too small to join. Choose larger patches.`
      : `Patches of ${side} px do not fit into ${most} px. Choose smaller patches.`,
  );
}

function lay(tile: Image, source: Image, side: number, { to, from, shows }: Patch): void {
  const { channels } = source;
  for (let y = 0; y < side; y++) {
    const row = ((to[1] + y) % tile.height) * tile.width;
    for (let x = 0; x < side; x++) {
      const share = shows[y * side + x]!;
      if (share === 0) continue;
      const at = (row + ((to[0] + x) % tile.width)) * channels;
      const texel = ((from[1] + y) * source.width + from[0] + x) * channels;
      for (let c = 0; c < channels; c++) {
        tile.data[at + c] = tile.data[at + c]! * (1 - share) + source.data[texel + c]! * share;
      }
    }
  }
}

function markFilled(filled: Uint8Array, size: Size, side: number, [x0, y0]: readonly [number, number]): void {
  for (let y = 0; y < side; y++) {
    for (let x = 0; x < side; x++) filled[((y0 + y) % size.height) * size.width + ((x0 + x) % size.width)] = 1;
  }
}

/** Where a patch shows: in all that was empty, and in what was not up to the least visible boundary. */
function joined(
  tile: Image,
  filled: Uint8Array,
  source: Image,
  side: number,
  to: readonly [number, number],
  from: readonly [number, number],
): Float32Array {
  const { channels } = source;
  const wide = side + 2;
  // With a rim of what lies around the patch, which stays as it is.
  const kind = new Uint8Array(wide * wide).fill(CutSide.outside);
  const difference = new Int32Array(wide * wide);
  let [any, empty] = [false, false];
  for (let y = -1; y <= side; y++) {
    for (let x = -1; x <= side; x++) {
      const [tx, ty] = [(to[0] + x + tile.width) % tile.width, (to[1] + y + tile.height) % tile.height];
      const isRim = x < 0 || y < 0 || x === side || y === side;
      const at = (y + 1) * wide + x + 1;
      if (filled[ty * tile.width + tx] === 0) {
        if (!isRim) {
          kind[at] = CutSide.fresh;
          empty = true;
        }
        continue;
      }
      any = true;
      kind[at] = isRim ? CutSide.old : CutSide.either;
      if (isRim) continue;
      let sum = 0;
      for (let c = 0; c < channels; c++) {
        sum += Math.abs(
          tile.data[(ty * tile.width + tx) * channels + c]! -
            source.data[((from[1] + y) * source.width + from[0] + x) * channels + c]!,
        );
      }
      difference[at] = Math.min(4095, Math.round((sum / channels) * 1024));
    }
  }
  const shows = new Float32Array(side * side);
  if (!any) return shows.fill(1);
  if (!empty) return shows;
  holdBorders(kind, wide);
  const cut = minCut(difference, kind, wide, wide);
  // The boundary is softened by one texel to either side: a cut is a matter of texels, an edge is not.
  for (let y = 0; y < side; y++) {
    for (let x = 0; x < side; x++) {
      const at = (y + 1) * wide + x + 1;
      if (kind[at] === CutSide.fresh) {
        shows[y * side + x] = 1;
        continue;
      }
      let sum = cut[at]! * 4;
      sum += cut[at - 1]! + cut[at + 1]! + cut[at - wide]! + cut[at + wide]!;
      shows[y * side + x] = sum / 8;
    }
  }
  return shows;
}

/**
 * Where there is but one picture no difference can be told, and a cut there would seem to cost nothing: texels beside the
 * new alone are new, those beside the old alone stay old.
 */
function holdBorders(kind: Uint8Array, wide: number): void {
  const before = kind.slice();
  const beside = (at: number, what: number): boolean =>
    before[at - 1] === what || before[at + 1] === what || before[at - wide] === what || before[at + wide] === what;
  for (let at = wide; at < kind.length - wide; at++) {
    if (before[at] !== CutSide.either) continue;
    if (beside(at, CutSide.fresh)) kind[at] = CutSide.fresh;
    else if (beside(at, CutSide.old)) kind[at] = CutSide.old;
  }
}

type Seek = (tile: Image, filled: Uint8Array, to: readonly [number, number]) => readonly [number, number];

/** Finds patches that fit: everywhere on small copies, then texel by texel about the place that was chosen. */
function matcher(source: Image, side: number, { variety, seed }: SynthesisOptions): Seek {
  const random = randomNumbers(seed);
  const factor = Math.max(1, Math.floor(side / COARSE_SIDE));
  const small = resample(source, smaller(source, factor), 'linear');
  const coarse = Math.floor(side / factor);
  const [across, up] = [small.width - coarse + 1, small.height - coarse + 1];
  const used = new Float32Array(across * up);
  return (tile, filled, to) => {
    const known = knownTexels(tile, filled, to, side, factor, coarse);
    let chosen: [number, number];
    if (known.place.length === 0) {
      chosen = [Math.floor(random() * across), Math.floor(random() * up)];
    } else {
      const costs = costsOf(small, known, across, up);
      for (let i = 0; i < costs.length; i++) costs[i]! *= 1 + used[i]!;
      let least = Infinity;
      for (const cost of costs) if (cost < least) least = cost;
      const most = least * (1 + variety) + 1e-9;
      const fitting: number[] = [];
      costs.forEach((cost, i) => {
        if (cost <= most) fitting.push(i);
      });
      const pick = fitting[Math.floor(random() * fitting.length)]!;
      chosen = [pick % across, Math.floor(pick / across)];
    }
    markUsed(used, across, up, chosen, coarse);
    const start = [chosen[0] * factor, chosen[1] * factor] as const;
    return factor > 1 && known.place.length > 0
      ? refined(source, tile, filled, to, start, side, factor)
      : bounded(source, side, start);
  };
}

const smaller = ({ width, height }: Size, factor: number): Size => ({
  width: Math.max(1, Math.floor(width / factor)),
  height: Math.max(1, Math.floor(height / factor)),
});

const bounded = (
  { width, height }: Size,
  side: number,
  [x, y]: readonly [number, number],
): readonly [number, number] => [Math.max(0, Math.min(width - side, x)), Math.max(0, Math.min(height - side, y))];

/** The texels of a patch that are there already, on the coarse grid: the place within the patch, and the mean there. */
interface Known {
  place: Int32Array;
  value: Float32Array;
}

function knownTexels(
  tile: Image,
  filled: Uint8Array,
  to: readonly [number, number],
  side: number,
  factor: number,
  coarse: number,
): Known {
  const { width, height, channels } = tile;
  const [place, value]: [number[], number[]] = [[], []];
  for (let y = 0; y < coarse; y++) {
    for (let x = 0; x < coarse; x++) {
      const sums = new Float64Array(channels);
      let count = 0;
      for (let j = 0; j < factor; j++) {
        for (let i = 0; i < factor; i++) {
          const at =
            ((to[1] + Math.min(side - 1, y * factor + j)) % height) * width +
            ((to[0] + Math.min(side - 1, x * factor + i)) % width);
          if (filled[at] === 0) continue;
          count++;
          for (let c = 0; c < channels; c++) sums[c]! += tile.data[at * channels + c]!;
        }
      }
      if (count * 2 < factor * factor) continue;
      place.push(y, x);
      for (const sum of sums) value.push(sum / count);
    }
  }
  return { place: Int32Array.from(place), value: Float32Array.from(value) };
}

/** How unlike what is there a patch from each place would be: mean squares. */
function costsOf({ width, channels, data }: Image, { place, value }: Known, across: number, up: number): Float64Array {
  const costs = new Float64Array(across * up);
  const texels = place.length / 2;
  for (let k = 0; k < texels; k++) {
    const first = place[k * 2]! * width + place[k * 2 + 1]!;
    for (let c = 0; c < channels; c++) {
      const wanted = value[k * channels + c]!;
      for (let y = 0; y < up; y++) {
        let at = (first + y * width) * channels + c;
        for (let x = 0, i = y * across; x < across; x++, i++, at += channels) {
          const off = data[at]! - wanted;
          costs[i]! += off * off;
        }
      }
    }
  }
  for (let i = 0; i < costs.length; i++) costs[i]! /= texels * channels;
  return costs;
}

/** Places close to one that was used look the same: they count worse, the closer the worse. */
function markUsed(
  used: Float32Array,
  across: number,
  up: number,
  [x0, y0]: readonly [number, number],
  coarse: number,
): void {
  for (let y = Math.max(0, y0 - coarse); y < Math.min(up, y0 + coarse); y++) {
    for (let x = Math.max(0, x0 - coarse); x < Math.min(across, x0 + coarse); x++) {
      used[y * across + x]! += Math.max(0, 1 - Math.hypot(x - x0, y - y0) / coarse);
    }
  }
}

/** The best place within one coarse texel, compared at every other texel of what is there. */
function refined(
  source: Image,
  tile: Image,
  filled: Uint8Array,
  to: readonly [number, number],
  start: readonly [number, number],
  side: number,
  factor: number,
): readonly [number, number] {
  const { channels } = source;
  const stride = Math.max(2, factor >> 1);
  const places: number[] = [];
  for (let y = 0; y < side; y += stride) {
    for (let x = 0; x < side; x += stride) {
      const at = ((to[1] + y) % tile.height) * tile.width + ((to[0] + x) % tile.width);
      if (filled[at] === 1) places.push(at * channels, (y * source.width + x) * channels);
    }
  }
  const known = Int32Array.from(places);
  let best = bounded(source, side, start);
  let least = Infinity;
  for (let dy = -factor; dy <= factor; dy++) {
    for (let dx = -factor; dx <= factor; dx++) {
      const [x, y] = [start[0] + dx, start[1] + dy];
      if (x < 0 || y < 0 || x + side > source.width || y + side > source.height) continue;
      const shift = (y * source.width + x) * channels;
      let sum = 0;
      for (let k = 0; k < known.length && sum < least; k += 2) {
        for (let c = 0; c < channels; c++) {
          const off = tile.data[known[k]! + c]! - source.data[known[k + 1]! + shift + c]!;
          sum += off * off;
        }
      }
      if (sum < least) {
        least = sum;
        best = [x, y];
      }
    }
  }
  return best;
}
