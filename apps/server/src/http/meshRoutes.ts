import { Router } from 'express';
import { z } from 'zod';
import { MESH_OUT_FORMATS } from '@zographos/formats/meshes';
import { mapSize, tileNumber } from '@zographos/operations';
import { guideMaps } from '../meshes/guideMaps.ts';
import type { GuideFormat } from '../meshes/layeredGuide.ts';
import { fileFrom } from '../meshes/meshDesk.ts';
import { namedMeshes, readWornMaps } from '../meshes/wornMaps.ts';
import type { Services } from '../services.ts';
import { parseRequest, plain } from './answer.ts';
import { attach, fileName } from './attach.ts';

const list = z.string().transform((text) => text.split(','));
const flag = z
  .literal('1')
  .optional()
  .transform((value) => value === '1');
const meshes = list.pipe(z.array(z.uuid()).min(1).max(1000));
const fileQuery = z.object({ meshes, format: z.enum(MESH_OUT_FORMATS) });
const wornQuery = z.object({ set: z.uuid(), pictures: z.enum(['inside', 'beside']) });
const guideQuery = z.object({
  meshes,
  uvSets: list.transform((items) => items.map(Number)).pipe(z.array(z.int().min(0).max(63))),
  width: z.coerce.number().pipe(mapSize.shape.width),
  height: z.coerce.number().pipe(mapSize.shape.height),
  tile: z.coerce.number().pipe(tileNumber),
  fill: flag,
  inner: flag,
  legend: flag,
  format: z.enum(['png', 'tif', 'svg', 'ora', 'psd']),
  /** The image set whose maps lie beneath a layered guide. */
  set: z.uuid().optional(),
  /** A small picture to look at, in place of the file. */
  look: flag,
});

const LOOK_SIDE = 384;
const GUIDE_TYPES: Readonly<Record<GuideFormat, string>> = {
  png: 'image/png',
  tif: 'image/tiff',
  svg: 'image/svg+xml',
  ora: 'image/openraster',
  psd: 'image/vnd.adobe.photoshop',
};

/** Meshes as files, and their layouts as guides. */
export function meshRoutes({ database, blobs }: Services): Router {
  const router = Router();

  const named = (ids: readonly string[]) => namedMeshes(database, blobs, ids);

  router.get(
    '/api/mesh-file',
    plain(async (_params, request, response) => {
      const { meshes: ids, format } = parseRequest(fileQuery, request.query);
      const given = await named(ids);
      const { name, bytes } = await fileFrom({
        ...{ what: 'file', meshes: given, name: fileName(given[0]!.name), format },
        ...{ worn: null, beside: false },
      });
      attach(response, name, 'application/octet-stream');
      response.end(bytes);
    }),
  );

  router.get(
    '/api/mesh-file/worn',
    plain(async (_params, request, response) => {
      const { set, pictures } = parseRequest(wornQuery, request.query);
      const { worn, meshIds } = await readWornMaps(database, blobs, set);
      const given = await named(meshIds);
      const { name, bytes } = await fileFrom({
        ...{ what: 'file', meshes: given, name: fileName(given[0]!.name), format: 'glb' },
        ...{ worn, beside: pictures === 'beside' },
      });
      attach(response, name, 'application/octet-stream');
      response.end(bytes);
    }),
  );

  router.get(
    '/api/guide',
    plain(async (_params, request, response) => {
      const asked = parseRequest(guideQuery, request.query);
      const { uvSets, width, height, tile, fill, inner: innerEdges, legend, look } = asked;
      const scale = look ? LOOK_SIDE / Math.max(width, height) : 1;
      const size = { width: Math.round(width * scale) || 1, height: Math.round(height * scale) || 1 };
      const options = { size, tile, fill, innerEdges, legend };
      const format = look ? 'png' : asked.format;
      const given = await named(asked.meshes);
      const isLayered = format === 'ora' || format === 'psd';
      const under = asked.set && isLayered ? await guideMaps(database, blobs, asked.set, tile, size) : [];
      const { name, bytes } = await fileFrom({ what: 'guide', meshes: given, uvSets, options, format, under });
      const mime = GUIDE_TYPES[format];
      if (look) response.type(mime);
      else attach(response, name, mime);
      response.end(bytes);
    }),
  );
  return router;
}
