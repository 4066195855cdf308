/** What is left of a number above the whole one below it, 0 to below 1. @example fraction(-0.25) // 0.75 */
export const fraction = (value: number): number => value - Math.floor(value);
