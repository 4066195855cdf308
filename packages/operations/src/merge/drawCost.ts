import type { Mesh } from '@zographos/core/mesh';
import { inspectImageFile, limitsFrom } from '@zographos/formats/images';
import type { DrawCost } from './report.ts';
import type { MergeSettings } from './settings.ts';

/** Four bytes for each texel, and a third for the halves. */
const bytesOf = (width: number, height: number): number => Math.round((width * height * 4 * 4) / 3);

/** Counts what some objects cost to draw. */
export async function costOf(objects: readonly Mesh[]): Promise<DrawCost> {
  const materials = new Set<string>();
  const used = new Map<Uint8Array, string>();
  let drawCalls = 0;
  for (const { slots, triangleSlots, materials: own, pictures } of objects) {
    for (const slot of new Set(triangleSlots)) {
      drawCalls++;
      materials.add(`${slots[slot]} ${JSON.stringify(own?.[slot] ?? null)}`);
      for (const { picture } of Object.values(own?.[slot]?.pictures ?? {})) {
        const { bytes, name } = pictures![picture]!;
        used.set(bytes, name);
      }
    }
  }
  let textureBytes = 0;
  for (const [bytes, name] of used) {
    const { width, height } = (await inspectImageFile(name, bytes, limitsFrom(process.env))).inspection;
    textureBytes += bytesOf(width, height);
  }
  return { objects: objects.length, materials: materials.size, images: used.size, drawCalls, textureBytes };
}

/** What a merge will cost to draw: one material; roughness and metallic share an image, as do colour and opacity. */
export function costOfMerge(objects: number, { maps, size, keepObjects }: MergeSettings): DrawCost {
  const shares = (a: MergeSettings['maps'][number], b: MergeSettings['maps'][number]): number =>
    maps.includes(a) && maps.includes(b) ? 1 : 0;
  const images = maps.length - shares('roughness', 'metallic') - shares('basecolor', 'opacity');
  const count = keepObjects ? objects : 1;
  return {
    objects: count,
    materials: 1,
    images,
    drawCalls: count,
    textureBytes: images * bytesOf(size.width, size.height),
  };
}
