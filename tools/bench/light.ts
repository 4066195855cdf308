import { skyPicture } from '@zographos/core/light';
import { PLAIN_MATERIAL, type Mesh } from '@zographos/core/mesh';
import { reliefPlane } from '@zographos/core/testing';
import { bellBuoyDense, bellBuoyLight } from '@zographos/demo';
import { parseWith } from '@zographos/operations';
import { lightSettings, renderLight, type LightReport } from '@zographos/operations/light';
import { millions, type Figures } from './figures.ts';

/** Light: paths and rays a second in a closed room, and for the demo's buoy beside its dense original, under a sky. */
export async function benchLight(say: (line: string) => void): Promise<Figures> {
  const figures: Figures = {};
  const dense = bellBuoyDense();
  const beside = { ...dense, positions: dense.positions.map((x, i) => (i % 3 === 0 ? x + 700 : x)) };
  const [floor, ...walls] = [0, 1, 2, 3, 4, 5].map((side) => made(wall(side), 0.7, 0));
  const lamp = made(
    reliefPlane('lamp', 1, 0.25, () => 0.99),
    0,
    10,
  );
  const scenes = [
    { name: 'a closed room with a lamp', receivers: [floor!], sources: [...walls, lamp], sky: 'none' },
    { name: 'the buoy beside a million triangles', receivers: [bellBuoyLight()], sources: [beside], sky: 'overcast' },
  ];
  for (const { name, receivers, sources, sky } of scenes) {
    for (const threads of [1, 2]) {
      const { rays, paths, noise, seconds } = await light(receivers, sources, sky, threads);
      figures[`${name}, ${threads}`] = { raysPerSecond: rays / seconds.trace, pathsPerSecond: paths / seconds.trace };
      say(
        `${name}, threads ${threads}: ${millions(rays / seconds.trace)} million rays/s, ` +
          `${millions(paths / seconds.trace)} million paths/s, noise ${(noise * 100).toFixed(1)} %`,
      );
    }
  }
  return figures;
}

async function light(receivers: Mesh[], sources: Mesh[], sky: string, threads: number): Promise<LightReport> {
  const size = { width: 256, height: 256 };
  const settings = parseWith(lightSettings, { size, passes: ['combined'], samples: 64, environment: { kind: sky } });
  return renderLight({
    ...{ settings, threads, memoryLimitBytes: Infinity, cancelFlag: new Int32Array(new SharedArrayBuffer(4)) },
    ...{ onProgress: () => {}, environment: skyPicture('uniform') },
    ...{ receivers, sources, onPass: () => Promise.resolve() },
  });
}

/** One side of a room from −1 to 1, facing inwards. */
function wall(side: number): Mesh {
  const plane = reliefPlane(`wall ${side}`, 1, 1);
  const axis = side % 3;
  const end = side < 3 ? -1 : 1;
  const positions = plane.positions.slice();
  const normals = plane.normals.slice().fill(0);
  for (let v = 0; v < positions.length; v += 3) {
    positions[v + axis] = end;
    positions[v + ((axis + 1) % 3)] = plane.positions[v + (side < 3 ? 0 : 1)]!;
    positions[v + ((axis + 2) % 3)] = plane.positions[v + (side < 3 ? 1 : 0)]!;
    normals[v + axis] = -end;
  }
  return { ...plane, positions, normals };
}

/** A mesh that is diffuse alone. */
function made(mesh: Mesh, reflectance: number, radiance: number): Mesh {
  const grey = (value: number): [number, number, number] => [value, value, value];
  const lit = { reflectance: grey(reflectance), radiance: grey(radiance), isDiffuse: true };
  return { ...mesh, materials: [{ ...PLAIN_MATERIAL, lit }] };
}
