/** Share of each linear sRGB primary in relative luminance (ITU-R BT.709, IEC 61966-2-1); they add up to 1. */
export const LUMINANCE = [0.2126, 0.7152, 0.0722] as const;
