import {
  boundsOf,
  diagonal,
  idColors,
  meanCurvature,
  piecesOf,
  sharedFloat32,
  srgbToLinear,
  type Mesh,
  type Scene,
  type SourceAttributes,
} from '@zographos/core';
import type { BakeOperationSettings } from '../bake/bakeOperation.ts';
import type { RunReport } from '../report.ts';

/** Curvature is averaged over this share of the scene's size, unless the ticket says otherwise. */
const AUTO_RADIUS = 0.004;

/** What the maps of a ticket need to know of its sources beside their shape, and the legend of its ID map. */
export function sourceAttributes(
  sources: readonly Mesh[],
  scene: Scene,
  settings: BakeOperationSettings,
): { attributes: SourceAttributes; legend: RunReport['legend'] } {
  const { maps } = settings;
  const attributes: SourceAttributes = { extent: diagonal(boundsOf(scene.positions)) };
  let legend: RunReport['legend'] = [];
  if (maps.includes('curvature')) attributes.curvature = curvatures(sources, settings, attributes.extent);
  if (maps.includes('basecolor')) attributes.colors = vertexColors(sources);
  if (maps.includes('id')) {
    const { pieces, names } = piecesOf(sources, settings.id);
    const colors = sharedFloat32(names.length * 3);
    colors.set(idColors(names.length));
    attributes.ids = { pieces, colors };
    legend = names.map((name, i) => ({ name, color: [...colors.subarray(i * 3, i * 3 + 3)] }));
  }
  return { attributes, legend };
}

function curvatures(
  sources: readonly Mesh[],
  { curvature: { show, radius } }: BakeOperationSettings,
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

/** Vertex colours as linear light; what has none is mid grey. */
function vertexColors(sources: readonly Mesh[]): Float32Array {
  const colors = sharedFloat32(sources.reduce((sum, mesh) => sum + mesh.positions.length, 0)).fill(srgbToLinear(0.5));
  let at = 0;
  for (const { colors: own, positions } of sources) {
    const vertices = positions.length / 3;
    for (let v = 0; own && v < vertices; v++) {
      for (let c = 0; c < 3; c++) colors[(at + v) * 3 + c] = srgbToLinear(own[v * 4 + c]!);
    }
    at += vertices;
  }
  return colors;
}
