import type { ColorSpace, Image, MapKind } from '@zographos/core/image';

export interface ImageGuess {
  kind: MapKind;
  colorSpace: ColorSpace;
  /** Why, in a few words, so that the artist can judge the guess. */
  reason: string;
}

const NAMES: [RegExp, MapKind][] = [
  [/(^|[_\W])(normal|normals|nrm|norm|nor|nml)([_\W\d]|$)/i, 'normal'],
  [/(^|[_\W])(ao|occlusion|ambientocclusion|ambient_occlusion)([_\W\d]|$)/i, 'ao'],
  [/(^|[_\W])(displacement|disp)([_\W\d]|$)/i, 'displacement'],
  [/(^|[_\W])(height|bump)([_\W\d]|$)/i, 'height'],
  [/(^|[_\W])(edges|edge)([_\W\d]|$)/i, 'edges'],
  [/(^|[_\W])(cavity|cavities)([_\W\d]|$)/i, 'cavity'],
  [/(^|[_\W])(specular|spec)([_\W\d]|$)/i, 'specular'],
  [/(^|[_\W])(roughness|rough)([_\W\d]|$)/i, 'roughness'],
  [/(^|[_\W])(metallic|metalness|metal)([_\W\d]|$)/i, 'metallic'],
  [/(^|[_\W])(emission|emissive|glow)([_\W\d]|$)/i, 'emission'],
  [/(^|[_\W])(opacity|alpha)([_\W\d]|$)/i, 'opacity'],
  [/(^|[_\W])(mask)([_\W\d]|$)/i, 'mask'],
  [/(^|[_\W])(id|ids|idmap)([_\W\d]|$)/i, 'id'],
  [/(^|[_\W])(basecolou?r|base_colou?r|albedo|diffuse|diff|colou?r|col)([_\W\d]|$)/i, 'basecolor'],
];

const COLOURED: readonly MapKind[] = ['basecolor', 'emission', 'image'];

/** How a map of a kind is stored by custom: colours through the sRGB curve, unless as floats, and data as it is. */
export const usualColorSpace = (kind: MapKind, isFloat: boolean): ColorSpace =>
  !isFloat && COLOURED.includes(kind) ? 'srgb' : 'linear';

/**
 * Guesses what an image means from its name, else from its content: texels that are unit vectors make a
 * normal map, grey ones a mask, anything else a picture.
 * @param sample a reduced copy with stored values 0 to 1, one to four channels
 * @param isFloat true for formats that hold radiance or data as floats, which are never sRGB
 */
export function guessKind(name: string, sample: Image, isFloat: boolean): ImageGuess {
  const stem = name.replace(/\.[^.]*$/, '').replace(/([a-z])([A-Z])/g, '$1_$2');
  const named = NAMES.find(([pattern]) => pattern.test(stem))?.[1];
  const kind = named ?? kindOfContent(sample);
  return { kind, colorSpace: usualColorSpace(kind, isFloat), reason: named ? 'from its name' : 'from its content' };
}

function kindOfContent({ channels, data }: Image): MapKind {
  if (channels < 3) return 'mask';
  let unit = 0;
  let grey = 0;
  const texels = data.length / channels;
  for (let i = 0; i < data.length; i += channels) {
    const [r, g, b] = [data[i]!, data[i + 1]!, data[i + 2]!];
    const length = Math.hypot(r * 2 - 1, g * 2 - 1, b * 2 - 1);
    if (Math.abs(length - 1) < 0.06 && b > 0.45) unit++;
    if (Math.max(r, g, b) - Math.min(r, g, b) < 0.012) grey++;
  }
  if (unit > texels * 0.9) return 'normal';
  return grey > texels * 0.99 ? 'mask' : 'image';
}
