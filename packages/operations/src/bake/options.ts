import type { Labels } from '../labels.ts';

/** The choices of a bake, with their labels. */

export const AIMS = ['rays', 'nearest', 'shared'] as const;
export const AIM_LABELS: Labels<(typeof AIMS)[number]> = {
  rays: { label: 'Rays', hint: 'along the receiver’s normals' },
  nearest: { label: 'Nearest surface point', hint: 'of the source, in any direction' },
  shared: { label: 'Shared triangles', hint: 'the same place of the triangle that receiver and source share' },
};

export const BACK_FACE_RULES = ['ignore', 'accept', 'flip'] as const;
export const BACK_FACE_LABELS: Labels<(typeof BACK_FACE_RULES)[number]> = {
  ignore: { label: 'Ignored', hint: 'rays go on through them' },
  accept: { label: 'Hit', hint: 'with the normals they have' },
  flip: { label: 'Hit with flipped normals', hint: 'as if they faced the ray' },
};

export const RAY_DIRECTIONS = ['smooth', 'split', 'blend'] as const;
export const RAY_DIRECTION_LABELS: Labels<(typeof RAY_DIRECTIONS)[number]> = {
  smooth: { label: 'Averaged normals', hint: 'no gap at hard edges' },
  split: { label: 'Mesh normals', hint: 'as the mesh has them, hard edges split' },
  blend: { label: 'Averaged near hard edges', hint: 'the mesh’s own elsewhere' },
};

export const ID_COLORINGS = ['slot', 'object', 'part', 'color'] as const;
export const ID_LABELS: Labels<(typeof ID_COLORINGS)[number]> = {
  slot: { label: 'Material slot' },
  object: { label: 'Object' },
  part: { label: 'Connected part' },
  color: { label: 'Vertex colour' },
};

export const CURVATURES = ['both', 'convex', 'concave'] as const;
export const CURVATURE_LABELS: Labels<(typeof CURVATURES)[number]> = {
  both: { label: 'Convex and concave' },
  convex: { label: 'Convex' },
  concave: { label: 'Concave' },
};

export const RAY_SPREADS = ['cosine', 'uniform'] as const;
export const RAY_SPREAD_LABELS: Labels<(typeof RAY_SPREADS)[number]> = {
  cosine: { label: 'Cosine-weighted', hint: 'as diffuse light arrives' },
  uniform: { label: 'Uniform', hint: 'evenly over the hemisphere' },
};

export const REPEAT_GRIDS = ['square', 'staggered', 'hexagonal'] as const;
export const REPEAT_LABELS: Labels<(typeof REPEAT_GRIDS)[number]> = {
  square: { label: 'Square grid' },
  staggered: { label: 'Staggered rows' },
  hexagonal: { label: 'Hexagonal grid' },
};
