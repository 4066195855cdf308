import type { Places } from './domain.ts';
import { fraction } from './shapes/fraction.ts';

/** Places of the tile, 0 to 1, v downwards, and the same places in the domain of the field. */
export interface Batch {
  u: Float64Array;
  v: Float64Array;
  places: Places;
}

/** Tells a value 0 to 1 for each place. */
export type Evaluate = (batch: Batch, out: Float32Array) => void;

/** What a kind of layer draws. */
export interface Pattern {
  value: Evaluate;
  /** Of a pattern of elements (bricks, cells, scales): the number of the element that each place belongs to. */
  element?: (batch: Batch, out: Uint32Array) => void;
}

/** A pattern of elements at one place of the tile. */
export interface ElementPlace {
  value: number;
  element: number;
}

/** A pattern that is asked at places of the tile. */
export const ofTile = (at: (u: number, v: number) => number): Pattern => ({
  value({ u, v }, out) {
    for (let i = 0; i < out.length; i++) out[i] = at(fraction(u[i]!), fraction(v[i]!));
  },
});

/** A pattern of elements that is asked at places of the tile. @param at fills the place that it is given */
export function ofElements(at: (u: number, v: number, place: ElementPlace) => void): Required<Pattern> {
  const place: ElementPlace = { value: 0, element: 0 };
  return {
    value({ u, v }, out) {
      for (let i = 0; i < out.length; i++) {
        at(fraction(u[i]!), fraction(v[i]!), place);
        out[i] = place.value;
      }
    },
    element({ u, v }, out) {
      for (let i = 0; i < out.length; i++) {
        at(fraction(u[i]!), fraction(v[i]!), place);
        out[i] = place.element;
      }
    },
  };
}

/** A noise that is asked at places of the domain. */
export const inSpace = (at: (places: Places, out: Float32Array) => void): Pattern => ({
  value: ({ places }, out) => at(places, out),
});
