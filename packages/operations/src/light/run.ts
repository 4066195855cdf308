import { ZographosError } from '@zographos/core/errors';
import type { Image } from '@zographos/core/image';
import type { Mesh } from '@zographos/core/mesh';
import { imageOfTicket } from '../layers/imageOfTicket.ts';
import { secondsSince, type Run, type RunContext } from '../runContext.ts';
import { wearing, type WornMap } from '../scene/wornMaps.ts';
import { renderLight } from './render/renderLight.ts';
import type { LightReport } from './report.ts';
import type { LightSettings } from './settings.ts';

/**
 * Bakes the light of a ticket.
 * @throws missing/not-found for an image that is not there any more; as `renderLight`
 */
export const run: Run<LightSettings, LightReport> = async (context) => {
  const { settings, put, loadSeconds = 0, ...resources } = context;
  const since = performance.now();
  const isPicture = settings.environment.kind === 'picture';
  const environment = isPicture ? await pictureOf(context, 0, 'The environment') : null;
  const { receivers, sources } = await wornMeshes(context);
  const report = await renderLight({
    ...resources,
    ...{ settings, receivers, sources, environment },
    loadSeconds: loadSeconds + secondsSince(since),
    onPass: ({ kind, tile, image, states }) => put({ what: 'map', kind, tile, image, states }),
  });
  return { report };
};

/** The meshes of a run in what they are lit in: their maps, where the settings say so. */
async function wornMeshes(context: RunContext<LightSettings>): Promise<{ receivers: Mesh[]; sources: Mesh[] }> {
  const { settings, inputs } = context;
  const meshes = [...inputs.receivers, ...inputs.sources].map(({ mesh }) => mesh);
  const read = new Map<number, Promise<Image>>();
  const worn = await Promise.all(
    meshes.map(async (mesh, number) => {
      const own = settings.materials === 'maps' ? settings.worn.filter((map) => map.mesh === number) : [];
      const maps = await Promise.all(
        own.map(async ({ kind, tile, picture }): Promise<WornMap> => {
          const image = read.get(picture) ?? pictureOf(context, picture, `A map that “${mesh.name}” wears`);
          read.set(picture, image);
          return { kind, tile, image: await image };
        }),
      );
      return wearing(mesh, own[0]?.uvSet ?? 0, maps);
    }),
  );
  return { receivers: worn.slice(0, inputs.receivers.length), sources: worn.slice(inputs.receivers.length) };
}

/** @throws missing/not-found */
async function pictureOf({ pictures = [] }: RunContext<LightSettings>, number: number, what: string): Promise<Image> {
  const picture = pictures[number];
  if (picture) return imageOfTicket(picture);
  throw new ZographosError(
    'missing/not-found',
    `${what} is not there any more. Choose another image in the ticket, or leave it out.`,
  );
}
