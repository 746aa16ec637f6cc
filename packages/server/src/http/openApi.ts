import { BUILT_INS } from '@hexenkessel/core/stages';
import { chainJsonSchema } from '@hexenkessel/core/chain';
import { z } from 'zod';
import { problemSchema } from './problem.ts';
import type { Route } from './route.ts';

/** The OpenAPI 3.1 document of the routes, made from the same schemas that check the requests. */
export function openApiDocument(routes: readonly Route[]): Record<string, unknown> {
  const paths: Record<string, Record<string, unknown>> = {};
  for (const route of routes) {
    const path = `/api${route.path}`;
    paths[path] ??= {};
    paths[path][route.method] = operation(route);
  }
  return {
    openapi: '3.1.0',
    info: { title: 'Hexenkessel', version: '0.1.0', description: 'Sounds, chains, versions and renders.' },
    paths,
    components: { schemas: { Problem: jsonSchema(problemSchema, 'output'), Chain: chainJsonSchema(BUILT_INS) } },
  };
}

function operation(route: Route): Record<string, unknown> {
  return {
    summary: route.summary,
    parameters: [...parameters(route.params, 'path'), ...parameters(route.query, 'query')],
    ...(route.body ? { requestBody: { required: true, content: json(jsonSchema(route.body, 'input')) } } : {}),
    responses: {
      [route.status]: {
        description: 'Done',
        ...(route.response ? { content: json(jsonSchema(route.response, 'output')) } : {}),
      },
      default: {
        description: 'A problem (RFC 9457)',
        content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
      },
    },
  };
}

function parameters(schema: z.ZodType | undefined, place: 'path' | 'query'): Record<string, unknown>[] {
  if (!schema) return [];
  const { properties = {}, required = [] } = jsonSchema(schema, 'input') as {
    properties?: Record<string, unknown>;
    required?: string[];
  };
  return Object.entries(properties).map(([name, property]) => ({
    name,
    in: place,
    required: place === 'path' || required.includes(name),
    schema: property,
  }));
}

function jsonSchema(schema: z.ZodType, io: 'input' | 'output'): Record<string, unknown> {
  const { $schema: _, ...rest } = z.toJSONSchema(schema, { io, unrepresentable: 'any' }) as Record<string, unknown>;
  return rest;
}

function json(schema: Record<string, unknown>): Record<string, unknown> {
  return { 'application/json': { schema } };
}
