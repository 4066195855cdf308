import { z } from 'zod';

/** A colour as it is written in settings: `#rrggbb`, sRGB. */
export const colorText = z.string().regex(/^#[0-9a-f]{6}$/i, 'Write a colour as #8a7f6c.');
