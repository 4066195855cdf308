/** The non-separable modes of W3C Compositing and Blending Level 1, which go by a colour as a whole. */
export const COLOR_BLEND_MODES = ['hue', 'saturation', 'color', 'luminosity'] as const;
export type ColorBlendMode = (typeof COLOR_BLEND_MODES)[number];

type Color = Float32Array | Float64Array;

/**
 * One colour laid on another, before opacity counts.
 * @param below, above three values each, 0 to 1
 * @param out told three values
 */
export function blendColor(mode: ColorBlendMode, below: Color, above: Color, out: Color): void {
  switch (mode) {
    case 'hue':
      setSaturation(above, saturationOf(below), out);
      setLuminosity(out, luminosityOf(below), out);
      break;
    case 'saturation':
      setSaturation(below, saturationOf(above), out);
      setLuminosity(out, luminosityOf(below), out);
      break;
    case 'color':
      setLuminosity(above, luminosityOf(below), out);
      break;
    case 'luminosity':
      setLuminosity(below, luminosityOf(above), out);
      break;
  }
}

// The functions Lum, ClipColor, SetLum, Sat and SetSat of the specification, section 10.2.

const luminosityOf = (c: Color): number => 0.3 * c[0]! + 0.59 * c[1]! + 0.11 * c[2]!;

const saturationOf = (c: Color): number => Math.max(c[0]!, c[1]!, c[2]!) - Math.min(c[0]!, c[1]!, c[2]!);

function setLuminosity(c: Color, luminosity: number, out: Color): void {
  const shift = luminosity - luminosityOf(c);
  for (let k = 0; k < 3; k++) out[k] = c[k]! + shift;
  const own = luminosityOf(out);
  const least = Math.min(out[0]!, out[1]!, out[2]!);
  const most = Math.max(out[0]!, out[1]!, out[2]!);
  if (least < 0) for (let k = 0; k < 3; k++) out[k] = own + ((out[k]! - own) * own) / (own - least);
  if (most > 1) for (let k = 0; k < 3; k++) out[k] = own + ((out[k]! - own) * (1 - own)) / (most - own);
}

function setSaturation(c: Color, saturation: number, out: Color): void {
  const least = Math.min(c[0]!, c[1]!, c[2]!);
  const span = saturationOf(c);
  for (let k = 0; k < 3; k++) out[k] = span > 0 ? ((c[k]! - least) * saturation) / span : 0;
}
