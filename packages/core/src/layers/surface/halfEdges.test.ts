import { describe, expect, it } from 'vitest';
import { meshOf, reliefPlane, sphere } from '../../testing/shapes.ts';
import { flatSurface, layeredMeshes } from './layeredSurface.ts';
import { halfEdges } from './halfEdges.ts';

const next = (edge: number): number => (edge % 3 === 2 ? edge - 2 : edge + 1);

describe('the neighbours of triangles', () => {
  it.each([
    ['a sphere with a seam of UVs', layeredMeshes([sphere('ball', 10, 12, 24)], 0, 1)],
    ['a plane with borders', layeredMeshes([reliefPlane('plane', 6, 10)], 0, 1)],
    ['a tile that repeats', flatSurface(100, 60)],
  ])('lie on the other side of the same edge, each for the other: %s', (_name, surface) => {
    const { corners, twins } = halfEdges(surface);
    twins.forEach((twin, edge) => {
      if (twin < 0) return;
      expect(twins[twin]).toBe(edge);
      expect(Math.floor(twin / 3)).not.toBe(Math.floor(edge / 3));
      // Neighbours that face the same way go along their edge in opposite directions.
      expect([corners[next(twin)], corners[twin]]).toEqual([corners[edge], corners[next(edge)]]);
    });
  });

  it('are on all sides of what is closed: Euler’s formula holds for its vertices, edges and faces', () => {
    for (const [surface, characteristic] of [
      [layeredMeshes([sphere('ball', 10, 12, 24)], 0, 1), 2],
      // A tile that repeats closes like a torus.
      [flatSurface(100, 60), 0],
    ] as const) {
      const { corners, twins } = halfEdges(surface);
      // At the poles of a sphere triangles have no area, and their corners fall together.
      const isEdge = (edge: number): boolean => corners[edge] !== corners[next(edge)];
      const whole = Array.from({ length: corners.length / 3 }, (_, t) => t).filter((t) =>
        [0, 1, 2].every((k) => isEdge(t * 3 + k)),
      );
      const edges = whole.flatMap((t) => [0, 1, 2].map((k) => t * 3 + k));
      expect(edges.filter((edge) => twins[edge]! < 0)).toEqual([]);
      const vertices = new Set(edges.map((edge) => corners[edge]));
      expect(vertices.size - edges.length / 2 + whole.length).toBe(characteristic);
    }
  });

  it('are none at borders, and none where more than two triangles meet', () => {
    const positions = Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0, 0, -1, 0, 0, 0, 1);
    // Three triangles about the edge from 0 to 1.
    const fan = meshOf(
      'fan',
      positions,
      new Float32Array(15).fill(0),
      Uint32Array.of(0, 1, 2, 1, 0, 3, 0, 1, 4),
      new Float32Array(10),
    );
    expect([...halfEdges(layeredMeshes([fan], 0, 1, false)).twins]).toEqual(new Array(9).fill(-1));
    const two = meshOf(
      'two',
      positions,
      new Float32Array(15).fill(0),
      Uint32Array.of(0, 1, 2, 1, 0, 3),
      new Float32Array(10),
    );
    expect([...halfEdges(layeredMeshes([two], 0, 1, false)).twins]).toEqual([3, -1, -1, 0, -1, -1]);
  });
});
