import type { Dimensions } from './lattice.ts';

/** What a field is wrapped round, so that it repeats. */
export const WRAPS = ['none', 'cylinder', 'torus', 'flat-torus'] as const;
export type FieldWrap = (typeof WRAPS)[number];

/** Where a place of the tile lies in the space of the noise. */
export interface Domain {
  dimensions: Dimensions;
  /** Of a noise with one cell across; one with more has the same place, so many times as far from the origin. */
  place(u: number, v: number, out: Float64Array): void;
}

/**
 * Flat noise does not repeat. A cylinder repeats across without distortion; a torus in both axes, but is narrower at its
 * inner side; the flat torus, a circle for each axis in four dimensions (Clifford), repeats in both without distortion.
 * @param aspect height over width of the tile
 */
export function domainOf(wrap: FieldWrap, aspect: number): Domain {
  const turn = 2 * Math.PI;
  switch (wrap) {
    case 'none':
      return {
        dimensions: 2,
        place(u, v, out) {
          out[0] = u;
          out[1] = v * aspect;
        },
      };
    case 'cylinder':
      return {
        dimensions: 3,
        place(u, v, out) {
          out[0] = Math.cos(turn * u) / turn;
          out[1] = Math.sin(turn * u) / turn;
          out[2] = v * aspect;
        },
      };
    case 'torus':
      return {
        dimensions: 3,
        place(u, v, out) {
          const major = 1 / turn;
          const minor = Math.min(0.5, aspect / 2) * major;
          const reach = major + minor * Math.cos(turn * v);
          out[0] = reach * Math.cos(turn * u);
          out[1] = reach * Math.sin(turn * u);
          out[2] = minor * Math.sin(turn * v);
        },
      };
    case 'flat-torus':
      return {
        dimensions: 4,
        place(u, v, out) {
          const up = aspect / turn;
          out[0] = Math.cos(turn * u) / turn;
          out[1] = Math.sin(turn * u) / turn;
          out[2] = up * Math.cos(turn * v);
          out[3] = up * Math.sin(turn * v);
        },
      };
  }
}
