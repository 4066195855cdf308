import { afterEach, describe, expect, it, vi } from 'vitest';
import { reliefPlane } from '@zographos/core/testing';
import type { Mesh } from '@zographos/core/mesh';
import { packMesh } from '@zographos/formats/packed-mesh';
import { workerScope } from '../../../testing/workerScope.ts';
import type { CheckedLayout, LaidMeshes, LayoutQuestion, LayoutReply } from './layoutWorker.ts';

afterEach(() => vi.unstubAllGlobals());

const at = (name: string, cells: number, u: number, side: number): Mesh => {
  const plane = reliefPlane(name, cells, 1);
  return {
    ...plane,
    uvSets: [
      { name: 'UV 1', coords: plane.uvSets[0]!.coords.map((value, i) => value * side + (i % 2 === 0 ? u : 0.1)) },
    ],
  };
};

/** The worker on a server of two meshes that lie beside each other. */
async function opened() {
  let fetched = 0;
  const meshes: Record<string, Mesh> = { '/a': at('a', 2, 0.05, 0.4), '/b': at('b', 1, 0.55, 0.2) };
  vi.stubGlobal('fetch', (url: string) => {
    fetched++;
    return Promise.resolve(meshes[url] ? new Response(packMesh(meshes[url])) : new Response('', { status: 404 }));
  });
  const scope = await workerScope<LayoutQuestion, LayoutReply>(() => import('./layoutWorker.ts'));
  const ask = async (question: LayoutQuestion): Promise<LayoutReply> => {
    scope.send(question);
    return scope.next();
  };
  return { ask, fetched: () => fetched };
}
const both = { urls: ['/a', '/b'], uvSets: [0, 0] };
const checking = { what: 'check' as const, size: { width: 128, height: 128 }, padding: 4, tiles: [1001] };

describe('the layout of several meshes', () => {
  it('has the islands of all, and knows which mesh each is of', async () => {
    const { ask } = await opened();
    const { layout } = (await ask({ id: 1, what: 'layout', ...both })) as { layout: LaidMeshes };
    expect([...layout.meshOf]).toEqual([0, 1]);
    expect([layout.firstIslands, layout.firstTriangles]).toEqual([
      [0, 1],
      [0, 8],
    ]);
    expect([...layout.islandOf]).toEqual([0, 0, 0, 0, 0, 0, 0, 0, 1, 1]);
    [0.05, 0.1, 0.45, 0.5, 0.55, 0.1, 0.75, 0.3].forEach((value, i) => expect(layout.boxes[i]).toBeCloseTo(value, 6));
    // Around a square of two by two cells and one of one: eight edges and four.
    expect(layout.borders).toHaveLength(12);
    expect(layout.corners).toHaveLength(10 * 6);
  });

  it('is measured, with what is wrong and what would even its density', async () => {
    const { ask } = await opened();
    const { checked } = (await ask({ id: 2, ...checking, ...both })) as { checked: CheckedLayout };
    expect(checked.check.islands).toBe(2);
    expect(checked.findings.filter(({ kind }) => kind.includes('overlap'))).toEqual([]);
    // The second is half as large in the layout and as large in space.
    const scale = (moves: CheckedLayout['evenMoves'], island: number): number =>
      Math.abs(moves.find(({ islands }) => islands.includes(island))!.matrix[0]);
    expect(scale(checked.evenMoves, 1) / scale(checked.evenMoves, 0)).toBeCloseTo(2, 4);
  });

  it('names islands that lie on each other, with places to look at', async () => {
    const { ask } = await opened();
    const { checked } = (await ask({ id: 3, ...checking, urls: ['/a', '/a'], uvSets: [0, 0] })) as {
      checked: CheckedLayout;
    };
    const [found] = checked.findings;
    expect(found!.places.length).toBeGreaterThan(0);
    expect(found!.sentence).toMatch(/\.$/);
  });

  it('fetches each mesh once, and tells what it cannot have', async () => {
    const { ask, fetched } = await opened();
    await ask({ id: 1, what: 'layout', ...both });
    await ask({ id: 2, ...checking, ...both });
    expect(fetched()).toBe(2);
    expect(await ask({ id: 3, what: 'layout', urls: ['/gone'], uvSets: [0] })).toEqual({
      id: 3,
      error: 'The mesh could not be fetched from the server.',
    });
    // Asked for again, it is fetched again.
    await ask({ id: 4, what: 'layout', urls: ['/gone'], uvSets: [0] });
    expect(fetched()).toBe(4);
    expect(await ask({ id: 5, what: 'layout', urls: ['/a'], uvSets: [3] })).toMatchObject({
      error: expect.stringContaining('UV') as string,
    });
  });
});
