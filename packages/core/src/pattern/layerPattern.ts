import { ZographosError } from '../errors.ts';
import type { Image } from '../image/image.ts';
import { smoothStep } from '../image/planes.ts';
import { inSpace, ofTile, type Batch, type Evaluate, type Pattern } from './batch.ts';
import { domainOf, placesFor, type FieldWrap } from './domain.ts';
import type { FieldLayer } from './fieldLayer.ts';
import { folds } from './noise/folds.ts';
import { grunge } from './noise/grunge.ts';
import { cellular, fractal, smoothNoise, type PlaceValues } from './noise/noiseLayers.ts';
import { atRandom, courses, inBond, type CourseOptions } from './shapes/courses.ts';
import { dots } from './shapes/dots.ts';
import { grid } from './shapes/grid.ts';
import { motif } from './shapes/motif.ts';
import { ramp } from './shapes/ramp.ts';
import { scales } from './shapes/scales.ts';
import { fibres, scratches } from './shapes/strokes.ts';
import { weave } from './shapes/weave.ts';

/** The tile over which a layer is drawn. */
export interface PatternTile {
  wrap: FieldWrap;
  /** Distance between samples, in tile widths. */
  step: number;
  /** Height over width. */
  aspect: number;
  /** Images that layers repeat, as light. */
  motifs: readonly Image[];
}

/** What a layer draws, warped and levelled. @throws input/bad-settings for a picture that is missing */
export function layerPattern(layer: FieldLayer, tile: PatternTile): Pattern {
  const own = kindPattern(layer, tile);
  const warp = warpOf(layer, tile);
  return {
    value: levelled(layer, (batch, out) => own.value(warp(batch), out)),
    ...(own.element ? { element: (batch, out) => own.element!(warp(batch), out) } : {}),
  };
}

function levelled({ levels: [low, high], threshold, invert }: FieldLayer, value: Evaluate): Evaluate {
  const span = high - low || 1;
  const isPlain = low === 0 && high === 1 && !threshold && !invert;
  return (batch, out) => {
    value(batch, out);
    if (isPlain) {
      for (let i = 0; i < out.length; i++) out[i] = Math.max(0, Math.min(1, out[i]!));
      return;
    }
    for (let i = 0; i < out.length; i++) {
      let result = Math.max(0, Math.min(1, (out[i]! - low) / span));
      if (threshold) result = smoothStep(threshold.at - threshold.soft / 2, threshold.at + threshold.soft / 2, result);
      out[i] = invert ? 1 - result : result;
    }
  };
}

/** Where a layer is asked: places moved by a noise. */
function warpOf({ warp }: FieldLayer, { wrap, aspect }: PatternTile): (batch: Batch) => Batch {
  if (warp.amount === 0) return (batch) => batch;
  const domain = domainOf(wrap, aspect);
  const { amount, scale, seed } = warp;
  const [across, up] = [seed, seed + 1].map((own) => smoothNoise(domain.dimensions, scale, own)) as [
    PlaceValues,
    PlaceValues,
  ];
  let moved: Batch | null = null;
  let [right, down] = [new Float32Array(0), new Float32Array(0)];
  return (batch) => {
    const count = batch.u.length;
    if (moved?.u.length !== count) {
      moved = { u: new Float64Array(count), v: new Float64Array(count), places: placesFor(count) };
      [right, down] = [new Float32Array(count), new Float32Array(count)];
    }
    across(batch.places, right);
    up(batch.places, down);
    for (let i = 0; i < count; i++) {
      // From 0 to 1, as styles have it, back to −1 to 1.
      moved.u[i] = batch.u[i]! + (right[i]! * 2 - 1) * amount;
      moved.v[i] = batch.v[i]! + ((down[i]! * 2 - 1) * amount) / aspect;
      domain.place(moved.u[i]!, moved.v[i]!, moved.places, i);
    }
    return moved;
  };
}

/** Patterns whose rows take turns repeat only with an even number of them. */
const even = (count: number): number => 2 * Math.ceil(count / 2);

function kindPattern(layer: FieldLayer, { wrap, step, aspect, motifs }: PatternTile): Pattern {
  const { columns, rows, line, thickness, bevel, elements: variation, seed, shift, over } = layer;
  const { dimensions } = domainOf(wrap, aspect);
  const laid: Omit<CourseOptions, 'rows' | 'shift'> = { columns, gap: line, bevel, variation, seed };
  const turned = shift === 0 ? rows : even(rows);
  switch (layer.kind) {
    case 'gradient-noise':
    case 'simplex-noise':
      return inSpace(fractal(layer, dimensions, step));
    case 'cells':
    case 'cracks':
      return cellular(layer, dimensions, step);
    case 'folds':
      return folds(layer, dimensions, step, aspect);
    case 'grunge':
      return grunge(layer, wrap, step, aspect);
    case 'scratches':
      return scratches(step, aspect, { ...layer, variation });
    case 'fibres':
      return fibres(step, aspect, { ...layer, variation });
    case 'bricks':
      return courses(step, aspect, { ...laid, rows: turned, shift: inBond(shift) });
    case 'planks':
      return courses(step, aspect, { ...laid, rows, shift: atRandom(seed) });
    case 'scales':
      return scales(step, columns, even(rows), variation, seed);
    case 'weave': {
      const period = 2 * over;
      const whole = (count: number): number => period * Math.max(1, Math.round(count / period));
      const options = { columns: whole(columns), rows: whole(rows), thickness, over };
      return ofTile((u, v) => weave(u, v, step, options));
    }
    case 'dots': {
      const options = { columns, rows: turned, size: thickness, staggered: shift !== 0, soft: bevel };
      return ofTile((u, v) => dots(u, v, step, aspect, options));
    }
    case 'grid':
      return ofTile((u, v) => grid(u, v, step, { columns, rows, line, soft: bevel }));
    case 'gradient':
      return ofTile((u, v) => ramp(u, v, aspect, layer.way, layer.times));
    case 'picture': {
      const picture = motifs[layer.picture];
      if (!picture) {
        throw new ZographosError(
          'input/bad-settings',
          'A layer has no image to repeat. Choose one, or another pattern.',
        );
      }
      return motif(picture, step, aspect, { ...layer, rows: turned, size: thickness, variation });
    }
  }
}
