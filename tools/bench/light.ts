import type { Image } from '@zographos/core/image';
import { environmentOf, skyPicture, type Environment, type LightScene } from '@zographos/core/light';
import { PLAIN_MATERIAL, type Mesh } from '@zographos/core/mesh';
import { randomNumbers, reliefPlane } from '@zographos/core/testing';
import { bellBuoyDense, bellBuoyLight, quayScenes } from '@zographos/demo';
import { parseWith } from '@zographos/operations';
import {
  inOtherLight,
  lightSettings,
  litScene,
  measured,
  renderLight,
  tileWork,
  traceTile,
  type LightReport,
  type LitScene,
} from '@zographos/operations/light';
import { tracersOn, wearing } from '@zographos/operations/scene';
import { bestSeconds, millions, seconds, type Figures } from './figures.ts';
import { occlusionRays, rayMeshes } from './workloads.ts';

const SIZE = { width: 256, height: 256 };

/**
 * Light: paths and rays a second in a closed room, for the demo's buoy in the harbour with its dense original, and beside
 * a scanned dragon; and the time to a given noise with and without sampling of lights and of the environment.
 */
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
  let dragon: Mesh | null = null;
  for await (const mesh of rayMeshes()) if (mesh.name === 'dragon') dragon = mesh;
  const [quay] = quayScenes();
  const room = { receivers: [floor!], sources: [...walls, lamp], sky: 'none' };
  const scenes = [
    { name: 'a closed room with a lamp', ...room },
    { name: 'the buoy in the harbour', receivers: [bellBuoyLight()], sources: [quay!, beside], sky: 'overcast' },
    {
      name: 'the buoy beside a scanned dragon',
      receivers: [bellBuoyLight()],
      sources: [asLarge(dragon!)],
      sky: 'clear',
    },
  ];
  for (const { name, receivers, sources, sky } of scenes) {
    for (const threads of [1, 2]) {
      const { rays, paths, noise, seconds: took } = await light(receivers, sources, sky, threads);
      figures[`${name}, ${threads}`] = { raysPerSecond: rays / took.trace, pathsPerSecond: paths / took.trace };
      say(
        `${name}, threads ${threads}: ${millions(rays / took.trace)} million rays/s, ` +
          `${millions(paths / took.trace)} million paths/s, noise ${(noise * 100).toFixed(1)} %`,
      );
    }
  }
  const { rays, occlusion } = await worn(bellBuoyLight(), beside);
  figures['with pictures'] = { raysPerSecond: rays, ofOcclusion: rays / occlusion };
  say(
    `the buoy in four pictures of 2048 px beside a million triangles, thread 1: ${millions(rays)} million rays/s, ` +
      `${(rays / occlusion).toFixed(2)} of the occlusion rays that the kernel casts there`,
  );
  const { sampled, plain } = await gain(room.receivers, room.sources, 'none', (light) => ({
    ...light,
    emitters: light.emitters && { ...light.emitters, power: 0 },
  }));
  figures['lights sampled'] = plain / sampled;
  say(`sampling lights: the same noise ${(plain / sampled).toFixed(1)} × as soon as by chance, in the closed room`);
  const sky = await gain([bellBuoyLight()], [beside], 'studio', (light) => ({
    ...light,
    environment: evenly(light.environment!),
  }));
  figures['environment sampled'] = sky.plain / sky.sampled;
  say(
    `sampling the environment by its light: the same noise ${(sky.plain / sky.sampled).toFixed(1)} × as soon as evenly`,
  );
  return figures;
}

const settingsFor = (sky: string) =>
  parseWith(lightSettings, { size: SIZE, passes: ['combined'], samples: 64, environment: { kind: sky } });

async function light(receivers: Mesh[], sources: Mesh[], sky: string, threads: number): Promise<LightReport> {
  return renderLight({
    ...{ settings: settingsFor(sky), threads, memoryLimitBytes: Infinity, cancelFlag: noCancel() },
    ...{ onProgress: () => {}, environment: skyPicture('uniform') },
    ...{ receivers, sources, onPass: () => Promise.resolve() },
  });
}

/** Rays a second of a mesh that wears pictures, beside another, and occlusion rays a second from it. */
async function worn(mesh: Mesh, beside: Mesh): Promise<{ rays: number; occlusion: number }> {
  const random = randomNumbers(3);
  const size = { width: 2048, height: 2048 };
  const picture = (channels: number): Image => ({
    ...{ ...size, channels },
    data: Float32Array.from({ length: size.width * size.height * channels }, () => 0.3 + 0.4 * random()),
  });
  const maps = (['basecolor', 'normal', 'roughness', 'metallic'] as const).map((kind) => ({
    ...{ kind, tile: 1001 },
    image: picture(kind === 'basecolor' || kind === 'normal' ? 3 : 1),
  }));
  const settings = settingsFor('overcast');
  const scene = await litScene(settings, [wearing(mesh, 0, maps)], [beside], null, 1, () => {});
  const work = tileWork(scene, scene.receiver, SIZE, settings);
  let cast = 0;
  const took = await seconds(async () => {
    cast = (await traceTile(work, scene.tree, settings, { threads: 1, cancelFlag: noCancel() })).rays;
  });
  const rays = occlusionRays(mesh, 512 * 1024);
  const blocked = new Uint8Array(rays.count);
  const tracer = tracersOn({ kind: 'kernel', tree: scene.tree }, 0)[0]!;
  return {
    rays: cast / took,
    occlusion: rays.count / (await bestSeconds(3, () => tracer.anyHits(rays, blocked, 'accept'))),
  };
}

/** Seconds to a noise of 1 % as light is sampled, and in a light that is sampled plainly: error falls as 1 / √n. */
async function gain(
  receivers: Mesh[],
  sources: Mesh[],
  sky: string,
  plainly: (light: LightScene) => LightScene,
): Promise<{ sampled: number; plain: number }> {
  const settings = settingsFor(sky);
  const scene = await litScene(settings, receivers, sources, null, 1, () => {});
  const secondsTo = async (lit: LitScene): Promise<number> => {
    const work = tileWork(lit, lit.receiver, SIZE, settings);
    const options = { threads: 1, cancelFlag: noCancel() };
    const took = await seconds(() => traceTile(work, lit.tree, settings, options));
    return took * (measured(work, settings.samples).noise / 0.01) ** 2;
  };
  const sampled = await secondsTo(scene);
  return { sampled, plain: await secondsTo(inOtherLight(scene, plainly(scene.light))) };
}

/** The same environment, sampled as if it were the same all about. */
function evenly(environment: Environment): Environment {
  const { width, height, radiance, mean } = environment;
  const white = { width, height, channels: 3, data: new Float32Array(width * height * 3).fill(1) };
  return { ...environmentOf(white), axes: environment.axes, radiance, mean };
}

const noCancel = (): Int32Array => new Int32Array(new SharedArrayBuffer(4));

/** About as large as the buoy, and beside it. */
function asLarge(mesh: Mesh): Mesh {
  let [low, high] = [Infinity, -Infinity];
  for (const value of mesh.positions) [low, high] = [Math.min(low, value), Math.max(high, value)];
  const scale = 1200 / (high - low);
  return { ...mesh, positions: mesh.positions.map((value, i) => (value - low) * scale + (i % 3 === 0 ? 600 : 0)) };
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
