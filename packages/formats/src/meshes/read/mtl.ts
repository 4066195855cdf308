import { srgbToLinear } from '@zographos/core/color';
import type { Wrap } from '@zographos/core/image';
import { PLAIN_MATERIAL, UNMOVED, type Material, type MaterialLight, type PictureUse } from '@zographos/core/mesh';
import type { PictureList } from '../pictureList.ts';

/** The picture keywords that are understood, with the use and the channel each stands for. */
const PICTURES: Record<string, { use: keyof Material['pictures']; channel: number }> = {
  map_kd: { use: 'basecolor', channel: 0 },
  map_pr: { use: 'roughness', channel: 0 },
  map_pm: { use: 'metallic', channel: 0 },
  map_d: { use: 'opacity', channel: 0 },
  map_ke: { use: 'emission', channel: 0 },
  norm: { use: 'normal', channel: 0 },
  map_kn: { use: 'normal', channel: 0 },
};

/**
 * Reads a Wavefront material library. Diffuse colour becomes base colour; the PBR keywords Pr and Pm are taken where
 * present, otherwise roughness follows the specular exponent by √(2 / (Ns + 2)). For light, Kd and Ke are the numbers that
 * they are, and what has no word of gloss is diffuse alone.
 */
export async function readMtl(bytes: Uint8Array, pictures: PictureList): Promise<Map<string, Material>> {
  const materials = new Map<string, Material>();
  let name: string | null = null;
  const change = (part: Partial<Material>): void => {
    if (name !== null) materials.set(name, { ...materials.get(name)!, ...part });
  };
  const light = (part: Partial<MaterialLight>): void => {
    const known = name === null ? undefined : materials.get(name)?.lit;
    if (known) change({ lit: { ...known, ...part } });
  };
  for (const line of new TextDecoder().decode(bytes).split(/\r?\n/)) {
    const [keyword = '', ...words] = line.trim().split(/\s+/);
    const value = Number(words[0]);
    if (keyword === 'newmtl') {
      name = words.join(' ');
      materials.set(name, { ...PLAIN_MATERIAL, baseColor: [0.6, 0.6, 0.6], lit: UNLIT });
    } else if (keyword === 'Kd' && words.length >= 3) {
      change({ baseColor: colorOf(words) });
      light({ reflectance: numbersOf(words) });
    } else if (keyword === 'Ke' && words.length >= 3) {
      change({ emission: colorOf(words) });
      light({ radiance: numbersOf(words) });
    } else if (keyword === 'Ks') light({ isDiffuse: !(Math.max(...numbersOf(words)) > 0) });
    else if (keyword === 'd' && Number.isFinite(value)) change({ opacity: value });
    else if (keyword === 'Tr' && Number.isFinite(value)) change({ opacity: 1 - value });
    else if (keyword === 'Pr' && Number.isFinite(value)) {
      change({ roughness: value });
      light({ isDiffuse: false });
    } else if (keyword === 'Pm' && Number.isFinite(value)) {
      change({ metallic: value });
      light({ isDiffuse: false });
    } else if (keyword === 'Ns' && Number.isFinite(value)) {
      change({ roughness: Math.sqrt(2 / (Math.max(0, value) + 2)) });
    } else if (keyword.toLowerCase() in PICTURES && name !== null) {
      const { use, channel } = PICTURES[keyword.toLowerCase()]!;
      const placed = await pictureOf(words, channel, pictures);
      const material = materials.get(name)!;
      if (placed) change({ ...plainUnder(use), pictures: { ...material.pictures, [use]: placed } });
    }
  }
  return materials;
}

/** A picture stands in the place of the number beside it, and is not multiplied by it. */
function plainUnder(use: keyof Material['pictures']): Partial<Material> {
  if (use === 'basecolor') return { baseColor: [1, 1, 1] };
  if (use === 'emission') return { emission: [1, 1, 1] };
  return use === 'normal' ? {} : { [use]: 1 };
}

/** A material of which a file says nothing yet. */
const UNLIT: MaterialLight = { reflectance: [0.6, 0.6, 0.6], radiance: [0, 0, 0], isDiffuse: true };

const numbersOf = (words: string[]): [number, number, number] =>
  [0, 1, 2].map((k) => {
    const value = Number(words[k]);
    return Number.isFinite(value) ? Math.max(0, value) : 0;
  }) as [number, number, number];

const colorOf = (words: string[]): [number, number, number] =>
  words.slice(0, 3).map((word) => srgbToLinear(Number(word))) as [number, number, number];

/** Reads the options −o (offset), −s (scale) and −clamp, then the file. */
async function pictureOf(words: string[], channel: number, pictures: PictureList): Promise<PictureUse | null> {
  let [su, sv, ou, ov] = [1, 1, 0, 0];
  let wrap: Wrap = 'repeat';
  let at = 0;
  while (words[at]?.startsWith('-')) {
    const option = words[at++];
    const values: number[] = [];
    while (values.length < 3 && words[at] !== undefined && Number.isFinite(Number(words[at]))) {
      values.push(Number(words[at++]));
    }
    if (option === '-o') [ou, ov] = [values[0] ?? 0, values[1] ?? 0];
    else if (option === '-s') [su, sv] = [values[0] ?? 1, values[1] ?? values[0] ?? 1];
    else if (values.length === 0) {
      const word = words[at++];
      if (option === '-clamp' && word === 'on') wrap = 'clamp';
    }
  }
  const file = words.slice(at).join(' ').replaceAll('\\', '/');
  const picture = file ? await pictures.find(file) : null;
  if (picture === null) return null;
  const isMoved = su !== 1 || sv !== 1 || ou !== 0 || ov !== 0;
  return {
    picture,
    uvSet: 0,
    wrap: [wrap, wrap],
    transform: isMoved ? [su, 0, ou, 0, sv, ov] : UNMOVED,
    channel,
  };
}
