import { z } from 'zod';
import { ENDPOINTS } from './endpoints.ts';
import { apiError, intakeResult } from './entities.ts';

type Json = Record<string, unknown>;

/** The API as an OpenAPI 3.1 document, made from the same schemas that check requests and answers. */
export function openApiDocument(): Json {
  const paths: Record<string, Json> = {};
  const add = (path: string, method: string, operation: Json): void => {
    const template = path.replace(/:(\w+)/g, '{$1}');
    const parameters = [...path.matchAll(/:(\w+)/g)].map(([, name]) => ({
      name,
      in: 'path',
      required: true,
      schema: { type: 'string' },
    }));
    (paths[template] ??= {})[method] = { parameters, ...operation };
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
        default: { description: 'What went wrong, why, and the way out', content: jsonContent(apiError) },
      },
    });
  }
  add('/api/projects/:id/files', 'post', {
    summary: 'Takes in mesh and image files together with what they refer to',
    requestBody: { required: true, content: { 'multipart/form-data': {} } },
    responses: { 200: { description: 'What was taken in and what was not', content: jsonContent(intakeResult) } },
  });
  const binary: [string, string][] = [
    ['/api/projects/:id/events', 'Server-sent events of a project'],
    ['/api/blobs/:hash', 'Bytes by their SHA-256'],
    ['/api/runs/:id/preview', 'The picture of a run as it fills, PNG'],
    ['/api/map-revisions/:id/:plane/:level/:column/:row', 'One tile of a map or of its texel states'],
    ['/api/map-revisions/:id/picture', 'A map as 8-bit PNG, reduced to a given side'],
    ['/api/map-revisions/:id/download', 'A map as PNG, TIFF, EXR or TGA'],
    ['/api/tickets/:id/file', 'A ticket to run with the command line'],
    ['/api/assets/:id/original', 'The file a mesh or image came in'],
  ];
  for (const [path, summary] of binary) add(path, 'get', { summary, responses: { 200: { description: 'Bytes' } } });
  return { openapi: '3.1.0', info: { title: 'Zographos', version: '0.1.0' }, paths };
}

const jsonContent = (schema: z.ZodType): Json => ({
  'application/json': { schema: z.toJSONSchema(schema, { io: 'output', unrepresentable: 'any' }) },
});
