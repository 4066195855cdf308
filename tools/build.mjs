// Builds what runs outside the tests: server, worker, command line and their threads as JavaScript, and the
// studio. Does nothing when no source has changed since the last build.
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { ROOT } from './paths.mjs';

const BUILD = path.join(ROOT, 'build');
const KERNEL = path.join(BUILD, 'kernel.wasm');

const NODE_PROGRAMS = {
  cli: 'apps/cli/src/cli.ts',
  server: 'apps/server/src/server.ts',
  worker: 'apps/server/src/workerProcess.ts',
  bench: 'tools/bench/bench.ts',
  lightThread: 'packages/operations/src/light/render/lightThread.ts',
  bakeThread: 'packages/operations/src/bake/blocks/bakeThread.ts',
  treeThread: 'packages/operations/src/scene/treeThread.ts',
  layoutThread: 'packages/operations/src/layout/layoutThread.ts',
  kernelHelper: 'packages/operations/src/kernel/kernelHelper.ts',
  fieldThread: 'packages/operations/src/field/fieldThread.ts',
  composeThread: 'packages/operations/src/layers/composeThread.ts',
  readThread: 'apps/cli/src/files/readThread.ts',
  operationThread: 'apps/server/src/worker/operationThread.ts',
  measureThread: 'apps/server/src/tickets/measureThread.ts',
  meshThread: 'apps/server/src/meshes/meshThread.ts',
  intakeThread: 'apps/server/src/intake/intakeThread.ts',
};

/** Compiles the kernel to WebAssembly. */
function buildKernel() {
  const sources = ['packages/core/kernel', 'package-lock.json'];
  if (existsSync(KERNEL) && !isStale('kernel', sources)) return;
  mkdirSync(BUILD, { recursive: true });
  // As a program of its own: its types are those of another language and would spill over into ours.
  execFileSync(process.execPath, [
    path.join(ROOT, 'node_modules/assemblyscript/bin/asc.js'),
    path.join(ROOT, 'packages/core/kernel/index.ts'),
    ...['--outFile', KERNEL, '-O3', '--noAssert', '--runtime', 'stub', '--enable', 'simd,threads,bulk-memory'],
    // Vectors go from function to function within the kernel, and never out of it.
    ...[
      '--disableWarning',
      '112',
      '--importMemory',
      '--sharedMemory',
      '--initialMemory',
      '1',
      '--maximumMemory',
      '65536',
    ],
  ]);
  markFresh('kernel', sources);
}

/** Builds the programs that run in Node, and the kernel they compute with. */
export async function buildNode() {
  buildKernel();
  if (!isStale('node', ['packages', 'apps/server', 'apps/cli', 'tools', 'package-lock.json'])) return;
  const { build } = await import('esbuild');
  rmSync(path.join(BUILD, 'node'), { recursive: true, force: true });
  await build({
    entryPoints: Object.fromEntries(Object.entries(NODE_PROGRAMS).map(([name, file]) => [name, path.join(ROOT, file)])),
    outdir: path.join(BUILD, 'node'),
    bundle: true,
    splitting: true,
    format: 'esm',
    platform: 'node',
    target: 'node20',
    sourcemap: true,
    logLevel: 'warning',
    plugins: [
      {
        name: 'own-packages-in-others-out',
        setup(bundler) {
          bundler.onResolve({ filter: /^[^./]/ }, ({ path: name, kind }) =>
            kind === 'entry-point' || name.startsWith('@zographos/') || name.startsWith('#run/')
              ? undefined
              : { path: name, external: true },
          );
        },
      },
    ],
  });
  markFresh('node', ['packages', 'apps/server', 'apps/cli', 'tools', 'package-lock.json']);
}

/** Builds the studio. */
export async function buildStudio() {
  buildKernel();
  const sources = ['packages', 'apps/studio', 'package-lock.json'];
  if (!isStale('studio', sources)) return;
  const { build } = await import('vite');
  await build({ root: path.join(ROOT, 'apps/studio'), logLevel: 'warn' });
  markFresh('studio', sources);
}

export const STUDIO_FOLDER = path.join(BUILD, 'studio');
/** @param {string} name one of the programs built for Node */
export const nodeProgram = (name) => path.join(BUILD, 'node', `${name}.js`);

/** @param {string} what @param {string[]} sources */
function isStale(what, sources) {
  const stamp = path.join(BUILD, `${what}.stamp`);
  return !existsSync(stamp) || readFileSync(stamp, 'utf8') !== fingerprint(sources);
}

/** @param {string} what @param {string[]} sources */
function markFresh(what, sources) {
  mkdirSync(BUILD, { recursive: true });
  writeFileSync(path.join(BUILD, `${what}.stamp`), fingerprint(sources));
}

/**
 * Names, sizes and times of all sources: cheap, and different whenever one was touched.
 * @param {string[]} sources
 */
function fingerprint(sources) {
  const hash = createHash('sha256');
  const visit = (/** @type {string} */ file) => {
    const info = statSync(file);
    if (!info.isDirectory()) hash.update(`${file}:${info.size}:${info.mtimeMs}\n`);
    else for (const name of readdirSync(file).sort()) if (name !== 'node_modules') visit(path.join(file, name));
  };
  for (const source of sources) visit(path.join(ROOT, source));
  return hash.digest('hex');
}

if (process.argv[1] === import.meta.filename) {
  await buildNode();
  await buildStudio();
}
