import { idColors } from '../color/idColors.ts';
import type { Size } from '../math/size.ts';
import { linearToSrgb } from '../color/srgb.ts';
import { nextCorner } from '../mesh/edges.ts';
import { borderCorners } from './borders.ts';
import { islandNumbers } from './islands/islands.ts';
import type { Layout } from './layout.ts';
import { tileOrigin } from './udim.ts';

/** A part of a guide: a layout with a name of its own in the legend. */
export interface GuidePart {
  name: string;
  layout: Layout;
}

export interface GuideOptions {
  size: Size;
  tile: number;
  /** Islands in the colour of their part, or only their borders. */
  fill: boolean;
  innerEdges: boolean;
  legend: boolean;
}

/** The layout to paint over, as SVG: islands by part, with their edges, and borders in bold. */
export function guideDrawing(parts: readonly GuidePart[], options: GuideOptions): string {
  const { size, tile, fill, innerEdges, legend } = options;
  const [u0, v0] = tileOrigin(tile);
  const colors = idColors(parts.length);
  const colorOf = (part: number): string =>
    `rgb(${[0, 1, 2].map((k) => Math.round(linearToSrgb(colors[part * 3 + k]!) * 255)).join(',')})`;
  const short = (value: number): string => String(Math.round(value * 100) / 100);
  const drawn = parts.map(({ layout }, part) => {
    const { uvs, indices } = layout;
    const place = (corner: number): string => {
      const v = indices[corner]! * 2;
      return `${short((uvs[v]! - u0) * size.width)} ${short((v0 + 1 - uvs[v + 1]!) * size.height)}`;
    };
    const triangles: string[] = [];
    for (let i = 0; i < indices.length; i += 3) triangles.push(`M${place(i)}L${place(i + 1)}L${place(i + 2)}Z`);
    const borders = Array.from(
      borderCorners(layout, islandNumbers(layout)),
      (corner) => `M${place(corner)}L${place(nextCorner(corner))}`,
    );
    const color = colorOf(part);
    return [
      // Drawn with a hair of a line, neighbouring triangles leave no light between them.
      fill ? `<path d="${triangles.join('')}" fill="${color}" stroke="${color}" stroke-width="0.6"/>` : '',
      innerEdges
        ? `<path d="${triangles.join('')}" fill="none" stroke="${fill ? '#0008' : color}" stroke-width="1"/>`
        : '',
      `<path d="${borders.join('')}" fill="none" stroke="${fill ? '#000' : color}" stroke-width="2" stroke-linecap="round"/>`,
    ].join('');
  });
  const row = Math.max(14, Math.round(size.height / 64));
  const names = parts.map(
    ({ name }, part) =>
      `<rect x="${row / 2}" y="${row * (part * 1.4 + 0.5)}" width="${row}" height="${row}" fill="${colorOf(part)}" stroke="#000"/>` +
      `<text x="${row * 2}" y="${row * (part * 1.4 + 1.35)}" font-size="${row}" font-family="sans-serif" fill="#fff" stroke="#000" stroke-width="${row / 6}" paint-order="stroke">${escaped(name)}</text>`,
  );
  return (
    `<svg xmlns="http://www.w3.org/2000/svg" width="${size.width}" height="${size.height}" viewBox="0 0 ${size.width} ${size.height}">` +
    drawn.join('') +
    (legend ? names.join('') : '') +
    '</svg>\n'
  );
}

const escaped = (text: string): string =>
  text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('"', '&quot;');
