import { limitsFrom, readMeshFile, writeGlb, writeObj, writePly } from '@zographos/formats/meshes';
import { bestSeconds, type Figures } from './figures.ts';
import { wavySphere } from './workloads.ts';

/** Mesh files of a million triangles: how fast they are written and read. */
export async function benchFiles(say: (line: string) => void): Promise<Figures> {
  const mesh = wavySphere(707);
  const figures: Figures = {};
  const tell = (name: string, bytes: number, time: number): void => {
    figures[name] = bytes / time;
    say(`${name}: ${(bytes / time / 1e6).toFixed(0)} MB/s (${(bytes / 1e6).toFixed(0)} MB in ${time.toFixed(2)} s)`);
  };
  for (const [format, write] of [
    ['obj', () => Promise.resolve(writeObj([mesh]))],
    ['ply', () => Promise.resolve(writePly(mesh))],
    ['glb', () => writeGlb([mesh])],
  ] as const) {
    const bytes = await write();
    tell(`${format} written`, bytes.length, await bestSeconds(3, write));
    const source = { name: `Sphere.${format}`, bytes, companion: () => Promise.resolve(null), limits: limitsFrom({}) };
    tell(`${format} read`, bytes.length, await bestSeconds(3, () => readMeshFile(source)));
  }
  return figures;
}
