import { ENDPOINTS, type Ticket } from '@zographos/contracts';
import { DEFAULT_BAKE, type BakeOperationSettings } from '@zographos/operations';
import type { ApiClient } from './apiClient.ts';

/** A square over −1 … 1 that carries UVs. */
export const PLANE_OBJ =
  'o plane\nv -1 -1 0\nv 1 -1 0\nv 1 1 0\nv -1 1 0\nvt 0 0\nvt 1 0\nvt 1 1\nvt 0 1\nvn 0 0 1\nf 1/1/1 2/2/1 3/3/1 4/4/1\n';

/** A relief over the same square of cells × cells × 2 triangles. */
export function reliefObj(cells = 24, height = 0.05): string {
  const lines = ['o relief'];
  for (let j = 0; j <= cells; j++) {
    for (let i = 0; i <= cells; i++) {
      const [x, y] = [(i / cells) * 2 - 1, (j / cells) * 2 - 1];
      lines.push(`v ${x} ${y} ${height * Math.sin(5 * x) * Math.cos(4 * y)}`);
    }
  }
  for (let j = 0; j < cells; j++) {
    for (let i = 0; i < cells; i++) {
      const a = j * (cells + 1) + i + 1;
      lines.push(`f ${a} ${a + 1} ${a + cells + 2} ${a + cells + 1}`);
    }
  }
  return `${lines.join('\n')}\n`;
}

export interface ReliefProject {
  projectId: string;
  plane: string;
  relief: string;
  ticket: Ticket;
}

let reliefs = 0;

/**
 * A project with both meshes and a ticket that bakes the one onto the other. Each relief is a little different
 * unless one is given, since a result that is known already is not computed again.
 */
export async function reliefProject(
  server: ApiClient,
  settings: Partial<BakeOperationSettings> = {},
  relief = reliefObj(24, 0.05 - 1e-6 * ++reliefs),
): Promise<ReliefProject> {
  const { id: projectId } = await server.call(ENDPOINTS.createProject, {}, { name: 'Tide board' });
  const { assets } = await server.send(projectId, { 'plane.obj': PLANE_OBJ, 'relief.obj': relief });
  const named = (name: string): string => assets.find((asset) => asset.name === name)!.id;
  const [receiver, source] = [named('plane'), named('relief')];
  const ticket = await server.call(
    ENDPOINTS.createTicket,
    { id: projectId },
    {
      name: 'Tide board normal',
      operation: 'bake',
      settings: {
        ...DEFAULT_BAKE,
        size: { width: 64, height: 64 },
        samples: 1,
        reach: { out: 0.1, in: 0.1 },
        ...settings,
      },
      inputs: { receivers: [receiver], sources: [source] },
    },
  );
  return { projectId, plane: receiver, relief: source, ticket };
}
