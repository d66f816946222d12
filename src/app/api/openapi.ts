import type Joi from 'joi';
import parse from 'joi-to-json';
import type { Operation } from './operation';
import { OPERATIONS } from './operations';

type Schema = { readonly properties?: Readonly<Record<string, Record<string, unknown>>>; readonly required?: readonly string[] };

const schemaOf = (schema: Joi.Schema): Schema => parse(schema, 'open-api-3.1') as Schema;

/** The interface as an OpenAPI 3.1 document, made from the schemas that check the requests. */
export function openApi(url: string): Record<string, unknown> {
  const paths: Record<string, Record<string, unknown>> = {};
  for (const operation of OPERATIONS) (paths[operation.path] ??= {})[operation.method.toLowerCase()] = describe(operation);
  return {
    openapi: '3.1.0',
    info: { title: 'Leadline', version: '1', description: 'Documents in, runs, desk and lists. Errors are problem details (RFC 9457). Moments are ISO 8601 in UTC.' },
    servers: [{ url: `${url}/api/v1` }],
    paths,
    components: { schemas: { Problem: { type: 'object', required: ['type', 'title', 'status', 'detail'], properties: { type: { type: 'string' }, title: { type: 'string' }, status: { type: 'integer' }, detail: { type: 'string' } } } } },
  };
}

function describe(operation: Operation): Record<string, unknown> {
  const answers = Object.entries(operation.answers).map(([status, description]) => [status, { description }]);
  return {
    operationId: operationId(operation),
    summary: operation.summary,
    parameters: [...parameters(operation.params, 'path'), ...parameters(operation.query, 'query'), ...Object.entries(operation.headers ?? {}).map(([name, description]) => ({ name, in: 'header', description, schema: { type: 'string' } }))],
    ...(operation.body || operation.bodyTypes ? { requestBody: { required: true, content: bodyContent(operation) } } : {}),
    responses: { ...Object.fromEntries(answers), default: { description: 'What went wrong', content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } } } },
  };
}

function bodyContent(operation: Operation): Record<string, unknown> {
  if (operation.body) return { 'application/json': { schema: schemaOf(operation.body) } };
  return Object.fromEntries((operation.bodyTypes ?? []).map((type) => [type, { schema: type === 'multipart/form-data' ? { type: 'object', properties: { file: { type: 'array', items: { type: 'string', format: 'binary' } } } } : { type: 'string', format: 'binary' } }]));
}

function parameters(schema: Joi.ObjectSchema | undefined, place: 'path' | 'query'): Record<string, unknown>[] {
  if (!schema) return [];
  const { properties = {}, required = [] } = schemaOf(schema);
  return Object.entries(properties).map(([name, { description, ...rest }]) => ({ name, in: place, required: place === 'path' || required.includes(name), ...(description ? { description } : {}), schema: rest }));
}

const operationId = ({ method, path }: Operation): string => `${method.toLowerCase()}${path.split('/').slice(1).map((part) => part.replace(/[{}]/g, '').replace(/\W+(\w)?/g, (_, letter: string | undefined) => (letter ?? '').toUpperCase())).map((part) => part.charAt(0).toUpperCase() + part.slice(1)).join('')}`;
