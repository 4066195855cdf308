/** What a team of threads can do, numbered as in kernel/works.ts. */
export const WORKS = {
  gaussianRows: 0,
  gaussianColumns: 1,
  resampleRows: 2,
  skyOfLines: 3,
  pointOperations: 4,
  slopesOfRow: 5,
  noiseOfPlaces: 6,
  cellularNoiseOfPlaces: 7,
  squaresOfRow: 8,
  gainsOfRow: 9,
  guidedRow: 10,
  fourierOfLines: 11,
  normalsOfRow: 12,
  slabsOfRows: 13,
  rowsOfSlabs: 14,
  opennessOfRow: 15,
  curvatureOfRow: 16,
} as const;
export type Work = keyof typeof WORKS;
