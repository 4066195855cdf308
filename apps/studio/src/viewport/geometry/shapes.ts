import { BoxGeometry, BufferAttribute, BufferGeometry, CylinderGeometry, PlaneGeometry, SphereGeometry } from 'three';
import type { Geometry } from './geometryWorker.ts';

/** What a material is shown on: simple shapes, or a mesh of the project. */
export const SHAPES = ['plane', 'cube', 'sphere', 'cylinder'] as const;
export type Shape = (typeof SHAPES)[number];

export const SHAPE_LABELS: Record<Shape, string> = {
  plane: 'Plane',
  cube: 'Cube',
  sphere: 'Sphere',
  cylinder: 'Cylinder',
};

export interface ShapeBody {
  geometry: BufferGeometry;
  /** Tiles round it and up it, so that they are about square there. */
  tiles: readonly [across: number, up: number];
  /** How wide a tile is on it that lies there once. */
  tileWidth: number;
  /** Faces across a tile that lies there once. */
  faces: number;
}

/** Faces of a shape along each side that is not displaced. */
export const PLAIN_FACES = 64;
/** Those of a displaced one: enough to follow a height, few enough to be drawn by any machine. */
export const DENSE_FACES = 320;
/** A sphere of so many has a million triangles: more are not drawn smoothly while a view is turned. */
export const MOST_FACES = 512;

/** @param faces along each side */
export function shapeBody(shape: Shape, faces = PLAIN_FACES): ShapeBody {
  const { geometry, tiles, around } = solid(shape, faces);
  return { geometry: turnedOver(geometry), tiles, tileWidth: 2, faces: around / tiles[0] };
}

function solid(shape: Shape, faces: number): { geometry: BufferGeometry; tiles: ShapeBody['tiles']; around: number } {
  switch (shape) {
    case 'plane':
      return { geometry: new PlaneGeometry(2, 2, faces, faces).rotateX(-Math.PI / 2), tiles: [1, 1], around: faces };
    case 'cube': {
      const side = faces / 2;
      return { geometry: new BoxGeometry(1.3, 1.3, 1.3, side, side, side), tiles: [1, 1], around: side };
    }
    case 'sphere':
      return { geometry: new SphereGeometry(0.95, faces * 2, faces), tiles: [2, 1], around: faces * 2 };
    case 'cylinder':
      return {
        geometry: new CylinderGeometry(0.7, 0.7, 1.7, faces * 2, faces, true),
        tiles: [3, 1],
        around: faces * 2,
      };
  }
}

/** Row 0 of a texture that is not turned over lies at v = 0. */
function turnedOver(geometry: BufferGeometry): BufferGeometry {
  const { array } = geometry.getAttribute('uv') as BufferAttribute;
  for (let i = 1; i < array.length; i += 2) array[i] = 1 - array[i]!;
  return geometry;
}

/** A mesh of the project as it lies; a tile lies once on a square of its UVs. */
export function meshBody(mesh: Geometry): ShapeBody {
  const { positions, normals, uvs, tangents, directions, indices } = mesh;
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(positions, 3));
  geometry.setAttribute('normal', new BufferAttribute(normals, 3));
  if (uvs) geometry.setAttribute('uv', new BufferAttribute(uvs, 2));
  if (tangents) geometry.setAttribute('frame', new BufferAttribute(tangents, 4));
  if (directions) geometry.setAttribute('direction', new BufferAttribute(directions, 3));
  if (indices) geometry.setIndex(new BufferAttribute(indices, 1));
  return {
    geometry: uvs ? turnedOver(geometry) : geometry,
    ...{ tiles: [1, 1], tileWidth: uvs ? uvSquareOf(mesh) : 1 },
    // Two triangles make a face.
    faces: Math.sqrt(positions.length / 18),
  };
}

/** How long the side of a square of the UVs is on a mesh, in the mean. */
function uvSquareOf({ positions: p, uvs }: Geometry): number {
  let [area, covered] = [0, 0];
  for (let i = 0, u = 0; i < p.length; i += 9, u += 6) {
    const [ax, ay, az] = [p[i + 3]! - p[i]!, p[i + 4]! - p[i + 1]!, p[i + 5]! - p[i + 2]!];
    const [bx, by, bz] = [p[i + 6]! - p[i]!, p[i + 7]! - p[i + 1]!, p[i + 8]! - p[i + 2]!];
    area += Math.sqrt((ay * bz - az * by) ** 2 + (az * bx - ax * bz) ** 2 + (ax * by - ay * bx) ** 2);
    const [au, av] = [uvs![u + 2]! - uvs![u]!, uvs![u + 3]! - uvs![u + 1]!];
    covered += Math.abs(au * (uvs![u + 5]! - uvs![u + 1]!) - av * (uvs![u + 4]! - uvs![u]!));
  }
  return covered > 0 ? Math.sqrt(area / covered) : 1;
}
