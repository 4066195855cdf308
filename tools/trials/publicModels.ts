// npx tsx tools/trials/publicModels.ts FOLDER: reads every OBJ, glTF, GLB, PLY and STL below a folder, and compares the number of
// triangles with that of assimp (Debian packages assimp-testmodels and assimp-utils), which counts those of an STL that it
// writes, so that each node of a scene counts. Exit code 1 where both read a file of triangles alone and counts differ. What
// one of both refuses is listed with our reason.
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { readBeside } from '../../apps/cli/src/files/readBeside.ts';
import { ZographosError } from '@zographos/core/errors';
import { DEFAULT_LIMITS, meshFormatOf, readMeshFile } from '@zographos/formats/meshes';

const folder = process.argv[2] ?? '/usr/share/assimp/models';
const scratch = path.join(mkdtempSync(path.join(os.tmpdir(), 'zographos-models-')), 'model.stl');
const files = readdirSync(folder, { recursive: true, withFileTypes: true })
  .filter((entry) => entry.isFile() && meshFormatOf(entry.name) !== null)
  .map((entry) => path.relative(folder, path.join(entry.parentPath, entry.name)));
const sums: Record<string, number> = {};
for (const file of files.sort()) {
  const [ours, theirs] = [await ourCount(path.join(folder, file)), theirCount(path.join(folder, file))];
  const isRefused = typeof ours === 'string';
  const verdict =
    isRefused && theirs === 'refused'
      ? 'refused by both'
      : isRefused || theirs === 'refused'
        ? 'refused by one'
        : theirs === 'not of triangles alone'
          ? 'not compared'
          : ours === theirs
            ? 'same'
            : 'OTHER COUNT';
  sums[verdict] = (sums[verdict] ?? 0) + 1;
  process.stdout.write(`${verdict}: ${file}: ${ours} (assimp: ${theirs})\n`);
}
process.stdout.write(`${files.length} files: ${JSON.stringify(sums)}\n`);
process.exit(sums['OTHER COUNT'] ? 1 : 0);

/** Triangles, those among them that were left out since their values are no numbers; or why it was refused. */
async function ourCount(file: string): Promise<number | string> {
  const limits = DEFAULT_LIMITS;
  const companion = (part: string) => readBeside(file, part, limits);
  try {
    const { objects } = await readMeshFile({ name: path.basename(file), bytes: readFileSync(file), limits, companion });
    const counts = objects.map(({ mesh, droppedTriangles }) => mesh.indices.length / 3 + droppedTriangles);
    return counts.reduce((sum, count) => sum + count, 0);
  } catch (error) {
    if (error instanceof ZographosError) return `refused: ${error.message}`;
    throw error;
  }
}

function theirCount(file: string): number | string {
  const run = (...args: string[]): string =>
    execFileSync('assimp', args, { encoding: 'utf8', stdio: ['ignore', 'pipe', 'ignore'], timeout: 60_000 });
  try {
    const primitives = /Primitive Types:\s*(\w+)/.exec(run('info', file))?.[1];
    if (primitives !== 'triangles') return 'not of triangles alone';
    run('export', file, scratch, '-fstlb');
    return readFileSync(scratch).readUInt32LE(80);
  } catch {
    return 'refused';
  }
}
