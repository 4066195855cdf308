import type { Dimensions } from './noise/lattice.ts';

/** What a field is wrapped round, so that it repeats. */
export const WRAPS = ['none', 'cylinder', 'torus', 'flat-torus'] as const;
export type FieldWrap = (typeof WRAPS)[number];

/** Coordinates of places, as many lists as a noise can have dimensions. */
export type Places = readonly [x: Float64Array, y: Float64Array, z: Float64Array, w: Float64Array];

export const placesFor = (count: number): Places => [
  new Float64Array(count),
  new Float64Array(count),
  new Float64Array(count),
  new Float64Array(count),
];

/**
 * Where places of the tile lie in the space of a noise with one cell across; one with more has the same places, so many
 * times as far from the origin.
 */
export interface Domain {
  dimensions: Dimensions;
  /** A place of the tile as the i-th of a list. */
  place(u: number, v: number, out: Places, i: number): void;
  /** Places of one row after the other, all at the same columns. */
  rows(columns: Float64Array): (v: number, out: Places) => void;
}

const TURN = 2 * Math.PI;

/**
 * Flat noise does not repeat. A cylinder repeats across without distortion; a torus in both axes, but is narrower at its
 * inner side; the flat torus, a circle for each axis in four dimensions (Clifford), repeats in both without distortion.
 * @param aspect height over width of the tile
 */
export function domainOf(wrap: FieldWrap, aspect: number): Domain {
  if (wrap === 'none') {
    return {
      dimensions: 2,
      place(u, v, out, i) {
        out[0][i] = u;
        out[1][i] = v * aspect;
      },
      rows: (columns) => (v, out) => {
        out[0].set(columns);
        out[1].fill(v * aspect);
      },
    };
  }
  const row = ROWS[wrap](aspect);
  const place = (cos: number, sin: number, [reach, z, w]: RowOfCircles, out: Places, i: number): void => {
    out[0][i] = reach * cos;
    out[1][i] = reach * sin;
    out[2][i] = z;
    out[3][i] = w;
  };
  return {
    dimensions: wrap === 'flat-torus' ? 4 : 3,
    place: (u, v, out, i) => place(Math.cos(TURN * u), Math.sin(TURN * u), row(v), out, i),
    rows(columns) {
      const cos = columns.map((u) => Math.cos(TURN * u));
      const sin = columns.map((u) => Math.sin(TURN * u));
      return (v, out) => {
        const [reach, z, w] = row(v);
        const [xs, ys, zs, ws] = out;
        for (let i = 0; i < cos.length; i++) {
          xs[i] = reach * cos[i]!;
          ys[i] = reach * sin[i]!;
        }
        zs.fill(z);
        ws.fill(w);
      };
    },
  };
}

/** A row is a circle: its radius, and what all of it have as their third and fourth coordinate. */
type RowOfCircles = readonly [reach: number, z: number, w: number];

const ROWS: Record<Exclude<FieldWrap, 'none'>, (aspect: number) => (v: number) => RowOfCircles> = {
  cylinder: (aspect) => (v) => [1 / TURN, v * aspect, 0],
  torus: (aspect) => (v) => {
    const minor = Math.min(0.5, aspect / 2) / TURN;
    return [1 / TURN + minor * Math.cos(TURN * v), minor * Math.sin(TURN * v), 0];
  },
  'flat-torus': (aspect) => (v) => {
    const up = aspect / TURN;
    return [1 / TURN, up * Math.cos(TURN * v), up * Math.sin(TURN * v)];
  },
};
