import { problem, routes, type AnyContract } from '@orderly-glyph/schema';
import { z } from 'zod';

const shape = (schema: z.ZodType, io: 'input' | 'output'): object => {
  const { $schema: _, ...rest } = z.toJSONSchema(schema, { io, unrepresentable: 'any' }) as Record<string, unknown>;
  return rest;
};

function parameters(schema: z.ZodType, where: 'path' | 'query'): object[] {
  const { properties = {}, required = [] } = shape(schema, 'input') as { properties?: Record<string, object>; required?: string[] };
  return Object.entries(properties).map(([name, property]) => ({
    name,
    in: where,
    required: where === 'path' || required.includes(name),
    schema: property,
  }));
}

function content(contract: AnyContract): object {
  if (contract.carries === 'bytes') return { 'application/octet-stream': { schema: { type: 'string', format: 'binary' } } };
  if (contract.carries === 'events') return { 'text/event-stream': { schema: { type: 'string' } } };
  return { 'application/json': { schema: shape(contract.answer, 'output') } };
}

function requestBody(contract: AnyContract): object | undefined {
  if (contract.carries === 'upload')
    return { required: true, content: { 'application/octet-stream': { schema: { type: 'string', format: 'binary' } } } };
  if (contract.method === 'GET' || contract.method === 'DELETE') return undefined;
  const schema = shape(contract.body, 'input') as { properties?: object; type?: string };
  if (schema.type === 'object' && Object.keys(schema.properties ?? {}).length === 0) return undefined;
  return { required: true, content: { 'application/json': { schema } } };
}

/** The API in OpenAPI 3.1, made from the schemas that check every request and answer. */
export function openApi(): object {
  const paths: Record<string, Record<string, object>> = {};
  for (const [operationId, contract] of Object.entries(routes) as [string, AnyContract][]) {
    const path = contract.path.replace(/:(\w+)/g, '{$1}');
    const body = requestBody(contract);
    paths[path] ??= {};
    paths[path][contract.method.toLowerCase()] = {
      operationId,
      summary: contract.summary,
      'x-access': contract.access,
      security: contract.access === 'public' ? [] : [{ session: [] }],
      parameters: [...parameters(contract.params, 'path'), ...parameters(contract.query, 'query')],
      ...(body ? { requestBody: body } : {}),
      responses: {
        200: { description: 'Done', content: content(contract) },
        default: { description: 'What went wrong, in a sentence', content: { 'application/json': { schema: shape(problem, 'output') } } },
      },
    };
  }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Orderly Glyph',
      version: '1',
      description: 'Typefaces of a workspace: bringing them in, their licenses, and where they are installed.',
    },
    paths,
    components: { securitySchemes: { session: { type: 'apiKey', in: 'cookie', name: 'glyph_session' } } },
  };
}
