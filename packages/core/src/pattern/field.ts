import { ZographosError } from '../errors.ts';
import type { Size } from '../math/size.ts';
import { colorRamp, type ColorStop } from '../color/ramp.ts';
import { blended } from '../image/blend.ts';
import type { Image } from '../image/image.ts';
import { domainOf, placesFor, type FieldWrap, type Places } from './domain.ts';
import type { FieldLayer } from './fieldLayer.ts';
import { layerPattern, type PatternTile } from './layerPattern.ts';

export interface FieldOptions {
  layers: readonly FieldLayer[];
  wrap: FieldWrap;
  /** Samples along each side of a texel. */
  samples: number;
  /** Images that layers repeat, as light. */
  motifs?: readonly Image[];
}

/** Draws any rows of a field. */
export interface FieldDrawer {
  /** Values 0 to 1. @param out as many as the rows have texels */
  values(from: number, to: number, out: Float32Array): void;
  /** Numbers of the elements at the middles of texels, of the uppermost layer that has any. @throws input/bad-settings without one */
  elements(from: number, to: number, out: Uint32Array): void;
}

/**
 * A procedural field. Noises finer than the samples fade to their mean and patterns are softened over the distance of
 * samples, so that a field neither shimmers nor changes its tone with its size.
 * @throws input/bad-settings for a picture that is missing
 * @example fieldDrawer({ layers: [DEFAULT_LAYER], wrap: 'flat-torus', samples: 2 }, size).values(0, size.height, out)
 */
export function fieldDrawer({ layers, samples, wrap, motifs = [] }: FieldOptions, size: Size): FieldDrawer {
  const { width, height } = size;
  const tile: PatternTile = { wrap, step: 1 / (width * samples), aspect: height / width, motifs };
  const patterns = layers.map((layer) => ({ layer, ...layerPattern(layer, tile) }));
  const elementsOf = patterns.findLast(({ element }) => element)?.element;
  const domain = domainOf(wrap, tile.aspect);
  const v = new Float64Array(width);
  const places = placesFor(width);
  // One sample of each texel of a row at a time.
  const columnsAt = (share: number): { u: Float64Array; placesOfRow: (v: number, out: Places) => void } => {
    const u = Float64Array.from({ length: width }, (_, x) => (x + share) / width);
    return { u, placesOfRow: domain.rows(u) };
  };
  const columns = Array.from({ length: samples }, (_, s) => columnsAt((s + 0.5) / samples));
  const [value, above] = [new Float32Array(width), new Float32Array(width)];
  return {
    values(from, to, out) {
      const share = 1 / (samples * samples);
      out.fill(0);
      for (let y = from; y < to; y++) {
        const row = (y - from) * width;
        for (let s = 0; s < samples; s++) {
          v.fill((y + (s + 0.5) / samples) / height);
          for (const { u, placesOfRow } of columns) {
            placesOfRow(v[0]!, places);
            value.fill(0);
            for (const pattern of patterns) {
              pattern.value({ u, v, places }, above);
              lay(pattern.layer, above, value);
            }
            if (samples === 1) out.set(value, row);
            else for (let x = 0; x < width; x++) out[row + x]! += value[x]! * share;
          }
        }
      }
    },
    elements(from, to, out) {
      if (!elementsOf) {
        throw new ZographosError(
          'input/bad-settings',
          'No layer has elements to tell apart. Add bricks, planks, cells, scales, lines or an image, or let the map show values.',
        );
      }
      const { u, placesOfRow } = columnsAt(0.5);
      for (let y = from; y < to; y++) {
        v.fill((y + 0.5) / height);
        placesOfRow(v[0]!, places);
        elementsOf({ u, v, places }, out.subarray((y - from) * width, (y - from + 1) * width));
      }
    },
  };
}

function lay({ blend, opacity }: FieldLayer, above: Float32Array, value: Float32Array): void {
  if (blend === 'normal' && opacity === 1) {
    value.set(above);
    return;
  }
  for (let i = 0; i < value.length; i++) {
    const below = value[i]!;
    value[i] = below + (blended(blend, below, above[i]!) - below) * opacity;
  }
}

/** A whole field as a grey picture. */
export function fieldImage(options: FieldOptions, size: Size): Image {
  const data = new Float32Array(size.width * size.height);
  fieldDrawer(options, size).values(0, size.height, data);
  return { ...size, channels: 1, data };
}

/** A grey picture in the colours of a ramp, as light. */
export function coloured({ width, height, data }: Image, stops: readonly ColorStop[]): Image {
  const paint = colorRamp(stops);
  const colors = new Float32Array(data.length * 3);
  data.forEach((value, i) => paint(value, colors, i * 3));
  return { width, height, channels: 3, data: colors, colorSpace: 'srgb' };
}
