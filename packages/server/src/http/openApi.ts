import { BUILT_INS } from '@hexenkessel/core/stages';
import { chainJsonSchema } from '@hexenkessel/core/chain';
import {
  chainEntrySchema,
  chainNameSchema,
  chainStateSchema,
  deskSchema,
  ditherSchema,
  mixOrderSchema,
  renderOrderSchema,
  renderSchema,
  renderWithChainSchema,
  scriptEntrySchema,
  soundChangeSchema,
  soundNameSchema,
  soundNeedsSchema,
  soundSchema,
  storageSchema,
  takenSoundSchema,
} from '@hexenkessel/core/protocol';
import * as z from 'zod';
import { problemSchema } from './problem.ts';
import type { AnsweredFile, Route } from './route.ts';

type Json = Record<string, unknown>;

/** What has a name of its own in the document, and is referred to by it. */
const ANSWERED: Readonly<Record<string, z.ZodType>> = {
  Problem: problemSchema,
  Sound: soundSchema(),
  SoundName: soundNameSchema(),
  TakenSound: takenSoundSchema(),
  SoundNeeds: soundNeedsSchema(),
  Dither: ditherSchema(),
  Storage: storageSchema(),
  ChainEntry: chainEntrySchema(),
  ChainName: chainNameSchema(),
  ChainState: chainStateSchema(),
  Desk: deskSchema(),
  Render: renderSchema(),
  RenderWithChain: renderWithChainSchema(),
  Script: scriptEntrySchema(),
};
const TAKEN: Readonly<Record<string, z.ZodType>> = {
  SoundChange: soundChangeSchema(),
  MixOrder: mixOrderSchema(),
  RenderOrder: renderOrderSchema(),
};
const NAMES = new Map<unknown, string>(
  [...Object.entries(ANSWERED), ...Object.entries(TAKEN)].map(([name, schema]) => [schema, name]),
);

/**
 * The OpenAPI 3.1 document of the routes, made from the same schemas that check the requests. A chain is described once,
 * by its published schema, and referred to by that one's `$id`.
 */
export function openApiDocument(routes: readonly Route[]): Json {
  const paths: Record<string, Json> = {};
  for (const route of routes) (paths[`/api${route.path}`] ??= {})[route.method] = operation(route);
  const described = (schemas: Readonly<Record<string, z.ZodType>>, io: 'input' | 'output') =>
    Object.entries(schemas).map(([name, schema]) => [name, jsonSchema(schema, io, 'whole')]);
  return {
    openapi: '3.1.0',
    info: {
      title: 'Hexenkessel',
      version: '0.1.0',
      description: 'Sounds, chains, versions and renders.',
      license: { name: 'MIT', identifier: 'MIT' },
    },
    security: [{}, { token: [] }],
    paths,
    components: {
      schemas: {
        ...Object.fromEntries([...described(ANSWERED, 'output'), ...described(TAKEN, 'input')]),
        Chain: chainJsonSchema(BUILT_INS),
      },
      securitySchemes: {
        token: { type: 'http', scheme: 'bearer', description: 'Only where the server has a token.' },
      },
    },
  };
}

const PAGE_HEADERS: Json = {
  'X-Total-Count': { description: 'Entries on all pages.', schema: { type: 'integer' } },
  Link: { description: 'The next page, as rel="next" (RFC 8288); left out on the last.', schema: { type: 'string' } },
};

function operation(route: Route): Json {
  return {
    operationId: route.id,
    summary: route.summary,
    parameters: [...parameters(route.params, 'path'), ...parameters(route.query, 'query')],
    ...requestBody(route),
    responses: {
      [route.status]: {
        description: route.file?.description ?? 'Done.',
        ...(route.paged ? { headers: PAGE_HEADERS } : {}),
        ...(route.file ? { content: mediaTypes(route.file.types) } : {}),
        ...(route.response ? { content: json(jsonSchema(route.response, 'output')) } : {}),
      },
      ...(route.file?.inParts ? answersInParts(route.file) : {}),
      default: {
        description: 'A problem (RFC 9457).',
        content: { 'application/problem+json': { schema: reference('Problem') } },
      },
    },
  };
}

function requestBody({ upload, body }: Route): Json {
  if (upload) return { requestBody: { required: true, content: mediaTypes(upload) } };
  return body ? { requestBody: { required: true, content: json(jsonSchema(body, 'input')) } } : {};
}

function answersInParts({ types }: AnsweredFile): Json {
  return {
    206: { description: 'The part that the Range header names.', content: mediaTypes(types) },
    304: { description: 'The file that the If-None-Match header names is still what it was.' },
    416: {
      description: 'The part lies outside of the file.',
      content: { 'application/problem+json': { schema: reference('Problem') } },
    },
  };
}

function parameters(schema: z.ZodType | undefined, place: 'path' | 'query'): Json[] {
  if (!schema) return [];
  const { properties = {}, required = [] } = jsonSchema(schema, 'input') as { properties?: Json; required?: string[] };
  return Object.entries(properties).map(([name, property]) => ({
    name,
    in: place,
    required: place === 'path' || required.includes(name),
    schema: property,
  }));
}

const reference = (name: string): Json => ({ $ref: `#/components/schemas/${name}` });

/** By Zod's own converter; what has a name is referred to, but for the schema itself where it is wanted whole. */
function jsonSchema(schema: z.ZodType, io: 'input' | 'output', as: 'whole' | 'referred' = 'referred'): Json {
  const { $schema: _, ...rest } = z.toJSONSchema(schema, {
    io,
    unrepresentable: 'any',
    override: ({ zodSchema, jsonSchema: made }) => {
      const name = NAMES.get(zodSchema);
      if (name === undefined || (as === 'whole' && zodSchema === (schema as unknown))) return;
      for (const key of Object.keys(made)) delete (made as Json)[key];
      Object.assign(made, reference(name));
    },
  }) as Json;
  return rest;
}

const json = (schema: Json): Json => ({ 'application/json': { schema } });

/** Files, of which no schema says anything. */
const mediaTypes = (types: readonly string[]): Json => Object.fromEntries(types.map((type) => [type, {}]));
