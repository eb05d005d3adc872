import { VERSION } from '@oiseau/render';
import * as z from 'zod';
import { createDocument, type oas31, type ZodOpenApiPathsObject } from 'zod-openapi';
import { ENDPOINTS } from './contract.js';
import type { Endpoint } from './endpoint.js';
import { failure } from './failure.js';

/** `/albums/:id` → `/api/albums/{id}` */
const templateOf = ({ path }: Endpoint): string => `/api${path.replace(/:(\w+)/g, '{$1}')}`;

/** What an answer is on its way: what its reader takes in, before it gives a number its unit. */
function onTheWay(answer: z.ZodType): oas31.SchemaObject {
  const { $schema: _, ...schema } = z.toJSONSchema(answer, { io: 'input' });
  return schema as oas31.SchemaObject;
}

const bytes = { schema: { type: 'string', format: 'binary' } } as const;

function bodyOf({ body, takesFile }: Endpoint) {
  if (!body && !takesFile) return {};
  return {
    requestBody: {
      required: true,
      content: {
        ...(body ? { 'application/json': { schema: body } } : {}),
        ...(takesFile ? { 'application/octet-stream': bytes } : {}),
      },
    },
  };
}

/** What stands behind the path; of an operation that is two calls, only one asks for it. */
const queryOf = ({ query }: Endpoint, shared: boolean): z.ZodObject =>
  shared ? (query as z.ZodObject).partial() : (query as z.ZodObject);

function answersOf({ status, answer, file, does }: Endpoint) {
  const content = {
    ...(answer ? { 'application/json': { schema: onTheWay(answer) } } : {}),
    ...(file ? { [file]: bytes } : {}),
  };
  return {
    [String(status)]: { description: does, ...(answer || file ? { content } : {}) },
    default: {
      description: 'The reason, as one sentence.',
      content: { 'application/json': { schema: failure } },
    },
  };
}

/** The contract as OpenAPI 3.1. Two calls of one method and path, one with JSON and one with a file, are one operation. */
export function openApi(): object {
  const paths: ZodOpenApiPathsObject = {};
  for (const each of ENDPOINTS) {
    const path = templateOf(each);
    const method = each.method.toLowerCase() as 'get';
    const earlier = paths[path]?.[method];
    const names = [...each.path.matchAll(/:(\w+)/g)].map(([, name = '']) => name);
    const body = bodyOf(each);
    const merged = body.requestBody && {
      requestBody: {
        ...body.requestBody,
        content: { ...earlier?.requestBody?.content, ...body.requestBody.content },
      },
    };
    paths[path] = {
      ...paths[path],
      [method]: {
        summary: earlier?.summary ?? each.does,
        requestParams: {
          ...(names.length > 0
            ? { path: z.object(Object.fromEntries(names.map((name) => [name, z.string()]))) }
            : {}),
          ...(each.query ? { query: queryOf(each, earlier !== undefined) } : (earlier?.requestParams ?? {})),
        },
        ...merged,
        responses: answersOf(each),
      },
    };
  }
  return createDocument({
    openapi: '3.1.0',
    info: { title: 'Oiseau', version: VERSION },
    paths,
  });
}
