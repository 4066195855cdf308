import type { KernelTeam } from '../../kernel/kernelTeam.ts';
import type { Places } from '../domain.ts';
import { NOISE_STYLES, type OctaveSum } from './octave.ts';

/** Places of a task, and bytes of an octave and of a coordinate of four places: mirrored from kernel/picture/noise.ts. */
const TASK_PLACES = 256;
const OCTAVE_BYTES = 24;
const AXIS_BYTES = 96;

/** `octavesOf` in the kernel. */
export function octavesInKernel(team: KernelTeam, sum: OctaveSum, places: Places, out: Float32Array): void {
  const { kind, dimensions, style, octaves, hidden, scale } = sum;
  team.within(() => {
    const table = new DataView(new ArrayBuffer(octaves.length * OCTAVE_BYTES));
    octaves.forEach(({ cells, weight, shown, mean, table: permutation }, k) => {
      const at = k * OCTAVE_BYTES;
      table.setFloat64(at, cells, true);
      table.setFloat32(at + 8, weight, true);
      table.setFloat32(at + 12, shown, true);
      table.setFloat32(at + 16, mean, true);
      table.setUint32(at + 20, team.lay(permutation), true);
    });
    const result = team.take(out.byteLength);
    const numbers = [
      ...places.map((axis, k) => (k < dimensions ? team.lay(axis) : 0)),
      ...[out.length, dimensions, kind === 'simplex-noise' ? 1 : 0, NOISE_STYLES.indexOf(style)],
      ...[team.lay(new Uint8Array(table.buffer)), octaves.length, hidden, scale, result],
    ];
    team.run('noiseOfPlaces', Math.ceil(out.length / TASK_PLACES), dimensions * AXIS_BYTES, numbers);
    out.set(team.floats(result, out.length));
  });
}
