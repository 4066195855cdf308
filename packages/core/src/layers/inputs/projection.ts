import { mixed } from '../../math/lowDiscrepancy.ts';
import { cross, pictureAxes, unit } from '../surface/direction.ts';
import type { LayeredTile } from '../surface/layeredSurface.ts';
import type { Direction, Projection, TilingContent } from '../stack.ts';
import { SamplePlaces } from './textureSampler.ts';
import { TEXELS, type TexelBlock } from '../surface/texelBlock.ts';
import { tileOrigin } from '../../uv/udim.ts';

/** One of the planes that a projection looks up: where, and how much it counts. */
export interface ProjectedPlane {
  /** Places in the material, one unit for each tile of it. */
  places: SamplePlaces;
  weight: Float32Array;
  /** Whether it counts anywhere in the block. */
  counts: boolean;
  /**
   * The material's own axes in space, three planes each; null where they are those of the tangent space, turned by the
   * angle of the layer.
   */
  axes: { right: Float32Array; up: Float32Array } | null;
}

/** How a material is laid on: its size in millimetres, and how it is turned and moved. */
export type Laying = Pick<TilingContent, 'projection' | 'scale' | 'turn' | 'offset' | 'varyBy'>;

/** Projects a tiling material onto the texels of a block. */
export interface Projector {
  planes: readonly ProjectedPlane[];
  /** Width of a texel as a share of the material's width. */
  footprint: number;
  /** Takes up the texels of a block. */
  project(block: TexelBlock): void;
}

/**
 * @param width of one tile of the material in millimetres
 * @param aspect its height over its width
 */
export function projector(laying: Laying, width: number, aspect: number, tile: LayeredTile): Projector {
  const real = width * laying.scale;
  const footprint = tile.texel / real;
  const [cos, sin] = [Math.cos((laying.turn * Math.PI) / 180), Math.sin((laying.turn * Math.PI) / 180)];
  const shifts = shiftsOf(laying, tile);
  const project = planesOf(laying.projection, tile, real);
  /** From millimetres along the axes of a plane to tiles of the material, turned and moved. */
  const lay = (plane: ProjectedPlane, block: TexelBlock): void => {
    const [dx, dy] = laying.offset;
    const { u, v } = plane.places;
    plane.places.moved();
    for (let i = 0; i < block.count; i++) {
      const x = u[i]! - dx;
      const y = v[i]! - dy;
      const shift = shifts ? shifts.of[block.triangles[i]!]! : 0;
      u[i] = (x * cos + y * sin) / real + (shifts ? shifts.across[shift]! : 0);
      v[i] = (y * cos - x * sin) / (real * aspect) + (shifts ? shifts.up[shift]! : 0);
    }
    if (plane.axes) turnAxes(plane.axes, cos, sin, block.count);
  };
  return {
    planes: project.planes,
    footprint,
    project(block) {
      project.fill(block);
      for (const plane of project.planes) if (plane.counts) lay(plane, block);
    },
  };
}

function turnAxes({ right, up }: NonNullable<ProjectedPlane['axes']>, cos: number, sin: number, count: number): void {
  for (let k = 0; k < 3; k++) {
    for (let i = k * TEXELS; i < k * TEXELS + count; i++) {
      const r = right[i]!;
      const u = up[i]!;
      right[i] = r * cos + u * sin;
      up[i] = u * cos - r * sin;
    }
  }
}

/** Another part of the material for each part or island. */
function shiftsOf({ varyBy }: Laying, { surface }: LayeredTile) {
  if (varyBy === 'nothing') return null;
  const of = varyBy === 'part' ? surface.parts : surface.islands;
  const count = of.reduce((most, number) => Math.max(most, number + 1), 0);
  const random = (seed: number) => Float64Array.from({ length: count }, (_, i) => mixed(i, seed) / 2 ** 32);
  return { of, across: random(17), up: random(71) };
}

interface PlaneFiller {
  planes: ProjectedPlane[];
  /** Writes places in millimetres, weights and axes. */
  fill(block: TexelBlock): void;
}

const newPlane = (hasAxes: boolean): ProjectedPlane => ({
  places: new SamplePlaces(),
  weight: new Float32Array(TEXELS).fill(1),
  counts: true,
  axes: hasAxes ? { right: new Float32Array(TEXELS * 3), up: new Float32Array(TEXELS * 3) } : null,
});

function planesOf(projection: Projection, tile: LayeredTile, width: number): PlaneFiller {
  switch (projection.by) {
    case 'uv':
      return alongLayout(tile, width);
    case 'triplanar':
      return triplanar(projection.sharpness);
    case 'planar':
      return planar(projection.direction);
    case 'cylinder':
      return cylinder(projection.axis, tile, width);
  }
}

/** By the UVs, at the scale that each island has; a tile that repeats takes a whole number of the material. */
function alongLayout({ surface, tile }: LayeredTile, width: number): PlaneFiller {
  const plane = newPlane(false);
  const { scales, islands, repeats } = surface;
  const whole = repeats ? Math.max(1, Math.round(repeats[0] / width)) * width : null;
  const [u0, v0] = tileOrigin(tile);
  return {
    planes: [plane],
    fill(block) {
      for (let i = 0; i < block.count; i++) {
        const scale = whole ?? scales[islands[block.triangles[i]!]!]!;
        plane.places.u[i] = (block.u[i]! + u0) * scale;
        plane.places.v[i] = (block.v[i]! + v0) * (whole && repeats ? (whole * repeats[1]) / repeats[0] : scale);
      }
    },
  };
}

/**
 * Along all three axes, each weighted by a power of the normal's part along it, so that weights sum to 1 (Geiss, "Generating
 * Complex Procedural Terrains Using the GPU", GPU Gems 3, 2007). Seen from behind, a plane is turned round rather than
 * mirrored.
 */
function triplanar(sharpness: number): PlaneFiller {
  const planes = [0, 1, 2].map(() => newPlane(true));
  return {
    planes,
    fill(block) {
      const { normals, places, count } = block;
      for (const plane of planes) plane.counts = false;
      for (let i = 0; i < count; i++) {
        let sum = 0;
        for (let k = 0; k < 3; k++) {
          const weight = Math.abs(normals[k * TEXELS + i]!) ** sharpness;
          planes[k]!.weight[i] = weight;
          sum += weight;
        }
        for (let k = 0; k < 3; k++) {
          const plane = planes[k]!;
          const weight = plane.weight[i]! / sum;
          plane.weight[i] = weight < NEGLIGIBLE ? 0 : weight;
          if (weight >= NEGLIGIBLE) plane.counts = true;
        }
      }
      planes.forEach((plane, k) => {
        if (!plane.counts) return;
        const { right, up } = plane.axes!;
        right.fill(0);
        up.fill(0);
        for (let i = 0; i < count; i++) {
          const side = normals[k * TEXELS + i]! < 0 ? -1 : 1;
          // The axis to the right, and how it is signed; upwards is y, but −z on what faces up.
          const across = k === 0 ? 2 : 0;
          const sign = k === 0 ? -side : k === 1 ? 1 : side;
          const upwards = k === 1 ? 2 : 1;
          const upSign = k === 1 ? -side : 1;
          plane.places.u[i] = places[across][i]! * sign;
          plane.places.v[i] = places[upwards][i]! * upSign;
          right[across * TEXELS + i] = sign;
          up[upwards * TEXELS + i] = upSign;
        }
      });
    },
  };
}

/** Less than a step of sixteen bits: what is weighted by it cannot be seen. */
const NEGLIGIBLE = 1 / 65536;

function planar(direction: Direction): PlaneFiller {
  const plane = newPlane(true);
  const [right, up] = pictureAxes(unit(direction));
  return {
    planes: [plane],
    fill({ places: [x, y, z], count }) {
      for (let i = 0; i < count; i++) {
        plane.places.u[i] = x[i]! * right[0] + y[i]! * right[1] + z[i]! * right[2];
        plane.places.v[i] = x[i]! * up[0] + y[i]! * up[1] + z[i]! * up[2];
      }
      for (let k = 0; k < 3; k++) {
        plane.axes!.right.fill(right[k]!, k * TEXELS, k * TEXELS + count);
        plane.axes!.up.fill(up[k]!, k * TEXELS, k * TEXELS + count);
      }
    },
  };
}

/** Round an axis through the middle of the surface; a whole number of the material goes round, so that it closes. */
function cylinder(along: Direction, { surface }: LayeredTile, width: number): PlaneFiller {
  const plane = newPlane(true);
  const axis = unit(along);
  const [right, forward] = pictureAxes(axis, [0, 0, 1]);
  const { middle, radius } = aboutAxis(surface.receiver.positions, axis);
  const round = Math.max(1, Math.round((2 * Math.PI * radius) / width)) * width;
  return {
    planes: [plane],
    fill({ places, count }) {
      const { right: across, up } = plane.axes!;
      for (let i = 0; i < count; i++) {
        const p: Direction = [places[0][i]! - middle[0], places[1][i]! - middle[1], places[2][i]! - middle[2]];
        const a = dot(p, right);
        const b = dot(p, forward);
        plane.places.u[i] = (Math.atan2(b, a) / (2 * Math.PI)) * round;
        plane.places.v[i] = dot(p, axis);
        const length = Math.hypot(a, b) || 1;
        for (let k = 0; k < 3; k++) {
          across[k * TEXELS + i] = (forward[k]! * a - right[k]! * b) / length;
          up[k * TEXELS + i] = axis[k]!;
        }
      }
    },
  };
}

const dot = (a: Direction, b: Direction): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

/** The middle of a surface's box, and how far its vertices are from an axis through it, in the mean. */
function aboutAxis(positions: Float32Array, axis: Direction): { middle: [number, number, number]; radius: number } {
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < positions.length; i++) {
    low[i % 3] = Math.min(low[i % 3]!, positions[i]!);
    high[i % 3] = Math.max(high[i % 3]!, positions[i]!);
  }
  const middle = low.map((value, k) => (value + high[k]!) / 2) as [number, number, number];
  let sum = 0;
  for (let i = 0; i < positions.length; i += 3) {
    const p: Direction = [positions[i]! - middle[0], positions[i + 1]! - middle[1], positions[i + 2]! - middle[2]];
    sum += Math.hypot(...cross(p, axis));
  }
  return { middle, radius: sum / (positions.length / 3) || 1 };
}
