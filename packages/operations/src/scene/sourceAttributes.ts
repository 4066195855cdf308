import { colorPieces, piecesOf, type SourceAttributes } from '@zographos/core/bake';
import { idColors, srgbToLinear } from '@zographos/core/color';
import { boundsOf, diagonal, MATERIAL_CHANNELS, meanCurvature, type Mesh } from '@zographos/core/mesh';
import { sharedCopyFloat32, sharedFloat32 } from '@zographos/core/shared-arrays';
import type { Scene } from '@zographos/core/trace';
import type { BakePassSettings } from '../bake/settings.ts';
import type { BakeReport } from '../bake/report.ts';
import { sourceMaterials } from './sourceMaterials.ts';

/** Curvature is averaged over this share of the scene's size, unless the ticket says otherwise. */
const AUTO_RADIUS = 0.004;

/**
 * What the maps of a ticket need to know of its sources beside their shape, and the legend of its ID map.
 * @throws input/unreadable-file for a picture of a material that cannot be read
 */
export async function sourceAttributes(
  sources: readonly Mesh[],
  scene: Scene,
  settings: BakePassSettings,
): Promise<{ attributes: SourceAttributes; legend: BakeReport['legend'] }> {
  const { maps } = settings;
  const attributes: SourceAttributes = { extent: diagonal(boundsOf(scene.positions)) };
  let legend: BakeReport['legend'] = [];
  if (maps.includes('curvature')) attributes.curvature = curvatures(sources, settings, attributes.extent);
  const bends =
    maps.includes('normal') && sources.some((mesh) => mesh.materials?.some(({ pictures }) => pictures.normal));
  if (bends || MATERIAL_CHANNELS.some((channel) => maps.includes(channel))) {
    attributes.materials = await sourceMaterials(sources, bends);
  }
  if (maps.includes('id')) {
    const { of, pieces, names, colors } = settings.id === 'color' ? byColor(sources) : byPiece(sources, settings.id);
    attributes.ids = { of, pieces, colors };
    legend = names.map((name, i) => ({ name, color: [...colors.subarray(i * 3, i * 3 + 3)] }));
  }
  return { attributes, legend };
}

function byPiece(sources: readonly Mesh[], by: 'slot' | 'object' | 'part') {
  const { pieces, names } = piecesOf(sources, by);
  return { of: 'triangle' as const, pieces, names, colors: sharedCopyFloat32(idColors(names.length)) };
}

/** Vertex colours are the pieces, and their own colours. */
function byColor(sources: readonly Mesh[]) {
  const { pieces, names, stored } = colorPieces(sources);
  const colors = sharedCopyFloat32(stored.flatMap((color) => color.map(srgbToLinear)));
  return { of: 'vertex' as const, pieces, names, colors };
}

function curvatures(
  sources: readonly Mesh[],
  { curvature: { show, radius } }: BakePassSettings,
  extent: number,
): Float32Array {
  const values = sharedFloat32(sources.reduce((sum, mesh) => sum + mesh.positions.length / 3, 0));
  let at = 0;
  for (const mesh of sources) {
    values.set(meanCurvature(mesh, radius === 'auto' ? extent * AUTO_RADIUS : radius), at);
    at += mesh.positions.length / 3;
  }
  if (show === 'convex') values.forEach((value, v) => (values[v] = Math.max(0, value)));
  if (show === 'concave') values.forEach((value, v) => (values[v] = Math.min(0, value)));
  return values;
}
