import { smoothStep } from '../../image/planes.ts';
import type { Batch, Pattern } from '../batch.ts';
import { domainOf, placesFor, type FieldWrap } from '../domain.ts';
import { DEFAULT_LAYER, type FieldLayer } from '../fieldLayer.ts';
import { specks } from '../shapes/specks.ts';
import { fractal } from './noiseLayers.ts';

type Values = (batch: Batch) => Float32Array;

/** A fractal noise spread over 0 to 1: sums of octaves hardly leave a quarter to three quarters. */
const spreadOut = (value: number): number => smoothStep(0.22, 0.78, value);
/** The value above which about a share of a noise that is spread out lies. */
const threshold = (cover: number): number => 1.05 - 1.1 * cover;

/**
 * Dirt and wear: 1 where it covers. Stains have darker rims, specks are round and of all sizes, streaks run down, wear
 * frays along fine detail, smudges are soft and wiped.
 * @param step distance between samples, in tile widths @param aspect height over width of the tile
 */
export function grunge(layer: FieldLayer, wrap: FieldWrap, step: number, aspect: number): Pattern {
  const { scale, seed, cover } = layer;
  const noise = (part: Partial<FieldLayer>, stretch = 1): Values =>
    noiseOf({ ...DEFAULT_LAYER, ...part }, wrap, step, aspect, stretch);
  const at = threshold(cover);
  switch (layer.grunge) {
    case 'stains': {
      const [base, grain] = [
        noise({ scale, seed, octaves: 5, gain: 0.45 }),
        noise({ scale: scale * 7, seed: seed + 1, octaves: 3 }),
      ];
      return {
        value: (batch, out) =>
          combine(out, base(batch), grain(batch), (b, g) => {
            const value = spreadOut(b);
            const inside = smoothStep(at - 0.02, at + 0.02, value);
            const rim = Math.exp(-(((value - at - 0.03) / 0.03) ** 2));
            return inside * (0.45 + 0.2 * spreadOut(g)) + rim * 0.35;
          }),
      };
    }
    case 'specks':
      return specks(step, aspect, { across: scale * 2, cover, seed });
    case 'streaks': {
      const [runs, where] = [
        noise({ scale: scale * 6, seed, octaves: 4 }, 1 / 10),
        noise({ scale, seed: seed + 1, octaves: 3 }),
      ];
      return {
        value: (batch, out) =>
          combine(out, runs(batch), where(batch), (r, w) => {
            const value = 0.55 * spreadOut(r) + 0.45 * spreadOut(w);
            return smoothStep(at - 0.25, at + 0.25, value);
          }),
      };
    }
    case 'worn': {
      const [base, fine] = [
        noise({ scale, seed, octaves: 4 }),
        noise({ scale: scale * 9, seed: seed + 1, octaves: 5, gain: 0.65, style: 'ridged' }),
      ];
      return {
        value: (batch, out) =>
          combine(out, base(batch), fine(batch), (b, f) =>
            smoothStep(at - 0.06, at + 0.06, spreadOut(b) + 0.5 * (f - 0.3)),
          ),
      };
    }
    case 'smudges': {
      const [base, wiped] = [
        noise({ scale, seed, octaves: 2 }),
        noise({ scale: scale * 3, seed: seed + 1, octaves: 4 }, 1 / 3),
      ];
      return {
        value: (batch, out) =>
          combine(
            out,
            base(batch),
            wiped(batch),
            (b, w) => smoothStep(at - 0.35, at + 0.35, spreadOut(b)) * (0.4 + 0.6 * spreadOut(w)),
          ),
      };
    }
  }
}

function combine(out: Float32Array, a: Float32Array, b: Float32Array, of: (a: number, b: number) => number): void {
  for (let i = 0; i < out.length; i++) out[i] = of(a[i]!, b[i]!);
}

/** @param stretch below 1 draws the noise out along columns */
function noiseOf(layer: FieldLayer, wrap: FieldWrap, step: number, aspect: number, stretch: number): Values {
  const domain = domainOf(wrap, aspect * stretch);
  const at = fractal(layer, domain.dimensions, step);
  let values = new Float32Array(0);
  let own = placesFor(0);
  return ({ u, v, places }) => {
    if (values.length !== u.length) {
      values = new Float32Array(u.length);
      own = placesFor(u.length);
    }
    if (stretch === 1) at(places, values);
    else {
      for (let i = 0; i < u.length; i++) domain.place(u[i]!, v[i]!, own, i);
      at(own, values);
    }
    return values;
  };
}
