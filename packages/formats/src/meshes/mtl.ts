import { srgbToLinear } from '@zographos/core';
import type { MaterialNote } from './meshFile.ts';

/**
 * Reads a Wavefront material library. Diffuse colour becomes base colour; the PBR keywords Pr and Pm are
 * taken where present, otherwise roughness follows the specular exponent by √(2 / (Ns + 2)).
 */
export function readMtl(bytes: Uint8Array): MaterialNote[] {
  const materials: MaterialNote[] = [];
  let current: MaterialNote | undefined;
  for (const line of new TextDecoder().decode(bytes).split(/\r?\n/)) {
    const [keyword = '', ...words] = line.trim().split(/\s+/);
    const value = Number(words[0]);
    if (keyword === 'newmtl') {
      current = {
        name: words.join(' '),
        baseColor: [0.8, 0.8, 0.8, 1],
        metallic: 0,
        roughness: 0.5,
        baseColorImage: null,
      };
      materials.push(current);
    }
    if (!current) continue;
    if (keyword === 'Kd' && words.length >= 3) {
      const [r, g, b] = words.slice(0, 3).map((word) => srgbToLinear(Number(word))) as [number, number, number];
      current.baseColor = [r, g, b, current.baseColor[3]];
    } else if (keyword === 'd' && Number.isFinite(value)) current.baseColor[3] = value;
    else if (keyword === 'Tr' && Number.isFinite(value)) current.baseColor[3] = 1 - value;
    else if (keyword === 'Pr' && Number.isFinite(value)) current.roughness = value;
    else if (keyword === 'Pm' && Number.isFinite(value)) current.metallic = value;
    else if (keyword === 'Ns' && Number.isFinite(value)) current.roughness = Math.sqrt(2 / (Math.max(0, value) + 2));
    else if (keyword === 'map_Kd') current.baseColorImage = words.at(-1) ?? null;
  }
  return materials;
}
