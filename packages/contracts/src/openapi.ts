import { z } from 'zod';
import { ENDPOINTS, filesQuery } from './endpoints.ts';
import { apiError, coating, intakeResult, layeredFile } from './entities.ts';

type Json = Record<string, unknown>;

/** GET requests that are answered with bytes; `PATHS` makes their addresses. */
const BYTES: { path: string; summary: string; query?: string[] }[] = [
  { path: '/api/projects/:id/events', summary: 'Server-sent events of a project' },
  { path: '/api/blobs/:hash', summary: 'Bytes by their SHA-256' },
  { path: '/api/runs/:id/preview', summary: 'The picture of a run as it fills, PNG', query: ['v'] },
  { path: '/api/runs/:id/likeness', summary: 'The source beside the receiver with its maps, PNG' },
  { path: '/api/runs/:id/archive', summary: 'What a delivery made, ZIP' },
  {
    path: '/api/map-revisions/:id/:plane/:level/:column/:row',
    summary: 'The inflated samples of one tile of a map or of its texel states',
  },
  { path: '/api/map-revisions/:id/picture', summary: 'A map as 8-bit PNG, reduced to a given side', query: ['side'] },
  {
    path: '/api/map-revisions/:id/download',
    summary: 'A map as PNG, JPEG, WebP, TIFF, EXR or TGA',
    query: ['format', 'alpha', 'dither', 'background', 'view', 'exposure'],
  },
  {
    path: '/api/image-sets/:id/light',
    summary: 'All light of one tile of an image set as layers of one OpenEXR',
    query: ['tile', 'samples'],
  },
  {
    path: '/api/pictures/:id/samples',
    summary: 'The float samples of an image or of a map, reduced to a given side',
    query: ['side', 'from'],
  },
  { path: '/api/coatings/:id/file', summary: 'A coating with all that it is made of, ZIP' },
  { path: '/api/tickets/:id/stack', summary: 'The layers of a ticket with all that they are made of, ZIP' },
  { path: '/api/tickets/:id/file', summary: 'A ticket to run with the command line' },
  { path: '/api/assets/:id/original', summary: 'The file a mesh or image came in' },
  { path: '/api/mesh-file', summary: 'Meshes as GLB or PLY, or as a ZIP with OBJ', query: ['meshes', 'format'] },
  {
    path: '/api/mesh-file/worn',
    summary: 'The meshes of an image set as GLB, with its maps as their material',
    query: ['set', 'pictures'],
  },
  {
    path: '/api/guide',
    summary: 'A UV layout as PNG, TIFF, SVG, OpenRaster or PSD file',
    query: ['meshes', 'uvSets', 'width', 'height', 'tile', 'fill', 'inner', 'legend', 'format', 'set'],
  },
];

const jsonContent = (schema: z.ZodType): Json => ({
  'application/json': { schema: z.toJSONSchema(schema, { io: 'output', unrepresentable: 'any' }) },
});

const FAILURE = { description: 'What went wrong, why, and the way out', content: jsonContent(apiError) };

/** The API as an OpenAPI 3.1 document, made from the same schemas that check requests and answers. */
export function openApiDocument(): Json {
  const paths: Record<string, Json> = {};
  const add = (path: string, method: string, { query = [], ...operation }: Json & { query?: Json[] }): void => {
    const template = path.replace(/:(\w+)/g, '{$1}');
    const parameters = [...path.matchAll(/:(\w+)/g)].map(([, name]) => ({
      name,
      in: 'path',
      required: true,
      schema: { type: 'string' },
    }));
    (paths[template] ??= {})[method] = { parameters: [...parameters, ...query], ...operation };
  };
  for (const { method, path, summary, body, response } of Object.values(ENDPOINTS)) {
    add(path, method, {
      summary,
      ...(body instanceof z.ZodUndefined ? {} : { requestBody: { required: true, content: jsonContent(body) } }),
      responses: {
        200:
          response instanceof z.ZodUndefined
            ? { description: 'Done' }
            : { description: 'Done', content: jsonContent(response) },
        default: FAILURE,
      },
    });
  }
  add('/api/projects/:id/files', 'post', {
    summary: 'Takes in mesh and image files together with what they refer to',
    requestBody: { required: true, content: { 'multipart/form-data': {} } },
    query: [
      { name: 'existing', in: 'query', schema: z.toJSONSchema(filesQuery.shape.existing) },
      { name: 'upload', in: 'query', schema: z.toJSONSchema(filesQuery.shape.upload) },
    ],
    responses: {
      200: { description: 'What was taken in and what was not', content: jsonContent(intakeResult) },
      default: FAILURE,
    },
  });
  add('/api/projects/:id/layered-file', 'post', {
    summary: 'Makes images of the layers of an OpenRaster or PSD file; of one that is known, their next revisions',
    requestBody: { required: true, content: { 'multipart/form-data': {} } },
    query: [],
    responses: { 200: { description: 'What its layers became', content: jsonContent(layeredFile) }, default: FAILURE },
  });
  add('/api/coatings/files', 'post', {
    summary: 'Takes in coatings from their files',
    requestBody: { required: true, content: { 'multipart/form-data': {} } },
    query: [],
    responses: { 200: { description: 'The coatings', content: jsonContent(z.array(coating)) }, default: FAILURE },
  });
  for (const { path, summary, query = [] } of BYTES) {
    add(path, 'get', {
      summary,
      responses: {
        200: { description: 'Bytes' },
        default: FAILURE,
      },
      query: query.map((name) => ({ name, in: 'query', schema: { type: 'string' } })),
    });
  }
  return { openapi: '3.1.0', info: { title: 'Zographos', version: '0.1.0' }, paths };
}
