/** The six directions along the axes of a mesh, as a choice. */
export const AXIS_OPTIONS = ['X', 'Y', 'Z'].flatMap((axis, along) =>
  [1, -1].map((sign) => ({
    value: [0, 1, 2].map((k) => (k === along ? sign : 0)).join(),
    label: `${sign > 0 ? '+' : '−'} ${axis}`,
  })),
);

/** A direction as the value of its option, and back. */
export const axisValue = (direction: readonly number[]): string => direction.join();
export const axisOf = (value: string): [number, number, number] =>
  value.split(',').map(Number) as [number, number, number];
