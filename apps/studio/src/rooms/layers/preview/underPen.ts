/** The name of the stroke under the pen, which is not kept yet. */
export const UNDER_PEN = 'under the pen';
