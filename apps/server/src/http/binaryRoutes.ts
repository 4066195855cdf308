import { pipeline } from 'node:stream/promises';
import { Readable } from 'node:stream';
import { Router } from 'express';
import { ZographosError } from '@zographos/core/errors';
import { exported, isLight, parseBackground } from '@zographos/core/image';
import { forScreen } from '@zographos/core/light';
import {
  encodeImage,
  encodeThumbnail,
  IMAGE_FORMAT_NAMES,
  IMAGE_FORMATS,
  isFloatFormat,
} from '@zographos/formats/images';
import { filesQuery, PATHS, type Coating } from '@zographos/contracts';
import { stackAsFile, takeInCoating } from '../coatings/coatings.ts';
import { coatings, imageSets, mapRevisions, maps, runs, type MapRevisionRow } from '../data/entities.ts';
import { notFound, readAsset, readProjectSummary } from '../data/readProject.ts';
import { announce } from '../events/channel.ts';
import { takeIn, type Reading } from '../intake/takeIn.ts';
import { takeInLayeredFile } from '../intake/takeInLayeredFile.ts';
import { levelFor, loadMapImage, loadMapStates } from '../data/mapImages.ts';
import { ticketAsFile } from '../tickets/tickets.ts';
import { mapFileName } from './mapFileName.ts';
import { parseRequest, plain } from './answer.ts';
import { attach, fileName, FOR_EVER } from './attach.ts';
import { lightLayers, viewOf } from './lightFiles.ts';
import type { Services } from '../services.ts';
import { receiveFiles } from './uploads.ts';

/** The side of the API that carries bytes: files in, pictures, tiles and files out. */
export function binaryRoutes(services: Services): Router {
  const { database, blobs, config } = services;
  const router = Router();

  router.post(
    '/api/projects/:id/files',
    plain(async ({ id }, request, response) => {
      await readProjectSummary(database, id!);
      const { existing, upload } = parseRequest(filesQuery, request.query);
      const files = await receiveFiles(request, blobs, config.limits.bytes);
      const leaving = new AbortController();
      response.on('close', () => leaving.abort());
      let shown = 0;
      const onReading = async (reading: Reading): Promise<void> => {
        if (upload) await announce(database, { type: 'reading', projectId: id!, upload, ...reading });
        if (reading.done > shown) await announce(database, { type: 'changed', projectId: id! });
        shown = Math.max(shown, reading.done);
      };
      response.json(await takeIn(services, id!, files, { existing, signal: leaving.signal, onReading }));
    }),
  );

  router.get(
    '/api/blobs/:hash',
    plain(async ({ hash }, _request, response) => {
      const size = await blobs.size(hash!);
      response.setHeader('Content-Type', 'application/octet-stream');
      response.setHeader('Content-Length', size);
      response.setHeader('Cache-Control', FOR_EVER);
      await pipeline(Readable.from(blobs.read(hash!)), response);
    }),
  );

  router.get(
    '/api/assets/:id/original',
    plain(async ({ id }, _request, response) => {
      const asset = await readAsset(database, id!);
      response.setHeader('Content-Length', await blobs.size(asset.originalHash));
      attach(response, asset.fileName, 'application/octet-stream');
      await pipeline(Readable.from(blobs.read(asset.originalHash)), response);
    }),
  );

  router.get(
    '/api/runs/:id/preview',
    plain(async ({ id }, _request, response) => {
      const row = await database
        .getRepository(runs)
        .findOne({ where: { id: id! }, select: { id: true, preview: true } });
      if (!row?.preview) return notFound('preview');
      response.type('png').setHeader('Cache-Control', 'private, max-age=60');
      response.end(row.preview);
    }),
  );

  router.get(
    '/api/runs/:id/likeness',
    plain(async ({ id }, _request, response) => {
      const row = await database
        .getRepository(runs)
        .findOne({ where: { id: id! }, select: { id: true, likeness: true } });
      if (!row?.likeness) return notFound('picture');
      response.type('png').setHeader('Cache-Control', FOR_EVER);
      response.end(row.likeness);
    }),
  );

  router.get(
    '/api/tickets/:id/file',
    plain(async ({ id }, _request, response) => {
      const ticket = await ticketAsFile(database, id!);
      attach(response, `${fileName(ticket.name)}.ticket.json`, 'application/json');
      response.end(`${JSON.stringify(ticket, null, 2)}\n`);
    }),
  );

  router.post(
    '/api/projects/:id/layered-file',
    plain(async ({ id }, request, response) => {
      await readProjectSummary(database, id!);
      const [file] = await receiveFiles(request, blobs, config.limits.bytes);
      response.json(await takeInLayeredFile(services, id!, file ?? notFound('file')));
    }),
  );

  router.post(
    PATHS.coatingFiles,
    plain(async (_params, request, response) => {
      const files = await receiveFiles(request, blobs, config.limits.bytes);
      const taken: Coating[] = [];
      for (const file of files) taken.push(await takeInCoating(services, file));
      response.json(taken);
    }),
  );

  router.get(
    '/api/coatings/:id/file',
    plain(async ({ id }, _request, response) => {
      const row = (await database.getRepository(coatings).findOneBy({ id: id! })) ?? notFound('coating');
      attach(response, `${fileName(row.name)}.coating.zip`, 'application/zip');
      await pipeline(Readable.from(blobs.read(row.hash)), response);
    }),
  );

  router.get(
    '/api/tickets/:id/stack',
    plain(async ({ id }, _request, response) => {
      const { name, blob } = await stackAsFile(services, id!);
      attach(response, `${fileName(name)}.stack.zip`, 'application/zip');
      await pipeline(Readable.from(blobs.read(blob.hash)), response);
    }),
  );

  const revisionOf = async (id: string): Promise<MapRevisionRow> =>
    (await database.getRepository(mapRevisions).findOneBy({ id })) ?? notFound('map');

  router.get(
    '/api/map-revisions/:id/picture',
    plain(async ({ id }, request, response) => {
      const side = Math.min(4096, Math.max(16, Number(request.query['side']) || 1024));
      const revision = await revisionOf(id!);
      const image = await loadMapImage(blobs, revision, levelFor(revision.directory, side));
      response.type('png').setHeader('Cache-Control', FOR_EVER);
      response.end(await encodeThumbnail(image, side));
    }),
  );

  router.get(
    '/api/map-revisions/:id/download',
    plain(async ({ id }, request, response) => {
      const format = IMAGE_FORMAT_NAMES.find((known) => known === request.query['format']);
      if (!format) {
        throw new ZographosError('input/bad-request', `Choose a format: ${IMAGE_FORMAT_NAMES.join(', ')}.`);
      }
      const revision = await revisionOf(id!);
      const { kind, imageSetId, tile } = await database.getRepository(maps).findOneByOrFail({ id: revision.mapId });
      const { name, namePattern } = await database.getRepository(imageSets).findOneByOrFail({ id: imageSetId });
      const stored = await loadMapImage(blobs, revision);
      const image = isLight(kind) && !isFloatFormat(format) ? forScreen(stored, ...viewOf(request.query)) : stored;
      const alpha = request.query['alpha'] === '1';
      const wanted = request.query['background'];
      const background = parseBackground(typeof wanted === 'string' ? wanted : 'neutral');
      const states = alpha || background ? await loadMapStates(blobs, revision) : new Uint8Array(0);
      const dither = request.query['dither'] === '1';
      const bytes = await encodeImage(exported(image, states, { alpha, background }), format, { dither });
      const { ending, mime } = IMAGE_FORMATS[format];
      attach(response, `${fileName(mapFileName(namePattern, name, kind, tile))}.${ending}`, mime);
      response.end(bytes);
    }),
  );

  router.get(
    '/api/image-sets/:id/light',
    plain(async ({ id }, request, response) => {
      const set = (await database.getRepository(imageSets).findOneBy({ id: id!, lit: true })) ?? notFound('image set');
      const tile = Number(request.query['tile']);
      const bytes = await lightLayers(services, set, tile, request.query['samples'] === 'half' ? 'half' : 'float');
      const { ending, mime } = IMAGE_FORMATS.exr;
      attach(response, `${fileName(mapFileName(set.namePattern, set.name, 'light', tile))}.${ending}`, mime);
      response.end(bytes);
    }),
  );

  // After the named ones: a plane is either the map or its texel states.
  router.get(
    '/api/map-revisions/:id/:plane/:level/:column/:row',
    plain(async ({ id, plane, level, column, row }, _request, response) => {
      const revision = await revisionOf(id!);
      const directory = plane === 'states' ? revision.statesDirectory : revision.directory;
      const { columns, rows, offsets } = directory.levels[Number(level)] ?? notFound('tile');
      const [x, y] = [Number(column), Number(row)];
      if (!(Number.isInteger(x) && Number.isInteger(y) && x >= 0 && y >= 0 && x < columns && y < rows))
        notFound('tile');
      const from = offsets[y * columns + x]!;
      const hash = plane === 'states' ? revision.statesHash : revision.dataHash;
      const bytes = await blobs.readBytes(hash, from, offsets[y * columns + x + 1]! - from);
      // Tiles are zlib streams already, which is just what this encoding means.
      response.setHeader('Content-Encoding', 'deflate');
      response.setHeader('Content-Type', 'application/octet-stream');
      response.setHeader('Cache-Control', FOR_EVER);
      response.end(bytes);
    }),
  );
  return router;
}
