import { linearToSrgb } from '@zographos/core/color';
import { UNMOVED, type Material, type Mesh, type PictureUse } from '@zographos/core/mesh';

const KEYWORDS = {
  basecolor: 'map_Kd',
  roughness: 'map_Pr',
  metallic: 'map_Pm',
  opacity: 'map_d',
  emission: 'map_Ke',
  normal: 'norm',
} as const;

/** Writes the materials of some objects as a Wavefront library, in the keywords that reading knows. */
export function writeMtl(meshes: readonly Mesh[]): Uint8Array<ArrayBuffer> {
  const written = new Set<string>();
  const lines: string[] = [];
  for (const { slots, materials, pictures } of meshes) {
    slots.forEach((slot, i) => {
      const material = materials?.[i];
      if (!material || written.has(slot)) return;
      written.add(slot);
      lines.push(`newmtl ${slot}`, ...linesOf(material, pictures ?? []), '');
    });
  }
  return new TextEncoder().encode(lines.join('\n'));
}

function linesOf(material: Material, pictures: NonNullable<Mesh['pictures']>): string[] {
  const color = (values: readonly number[]): string => values.map((value) => short(linearToSrgb(value))).join(' ');
  const lines = [
    `Kd ${color(material.baseColor)}`,
    `Ke ${color(material.emission)}`,
    `d ${short(material.opacity)}`,
    `Pr ${short(material.roughness)}`,
    `Pm ${short(material.metallic)}`,
  ];
  for (const [use, keyword] of Object.entries(KEYWORDS) as [keyof typeof KEYWORDS, string][]) {
    const entry = material.pictures[use];
    if (entry) lines.push(`${keyword}${optionsOf(entry)} ${pictures[entry.picture]!.name}`);
  }
  return lines;
}

/** Scale and offset; MTL has no turning. */
function optionsOf({ transform: [su, , ou, , sv, ov], transform, wrap }: PictureUse): string {
  const moved = transform.some((value, i) => value !== UNMOVED[i]);
  const placed = moved ? ` -o ${short(ou)} ${short(ov)} -s ${short(su)} ${short(sv)}` : '';
  return wrap[0] === 'clamp' ? `${placed} -clamp on` : placed;
}

const short = (value: number): string => String(Number(value.toPrecision(7)));
