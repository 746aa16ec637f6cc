/** The published JSON Schema (2020-12) of a chain file. */
import * as z from 'zod';
import type { Catalogue } from '../catalogue/catalogue.ts';
import { MODULATORS } from '../modulation/modulators/index.ts';
import { settingsSchema } from '../params/paramSchema.ts';
import type { Params } from '../params/params.ts';
import { describeOpen } from './openObject.ts';
import { CHAIN_VERSION, documentSchema, type ChainDocument } from './schema.ts';

/** What the schema goes by. */
export const CHAIN_SCHEMA_ID = `urn:hexenkessel:chain:${CHAIN_VERSION}`;

/** A chain inside of something else that is described. It is checked by `parseChain`, whose messages name stage and field. */
export const describedChain = (): z.ZodType<ChainDocument> =>
  z.unknown().meta({ $ref: CHAIN_SCHEMA_ID }) as unknown as z.ZodType<ChainDocument>;

type Json = Record<string, unknown>;

/**
 * The settings of a stage or modulator hang on its kind by `if` and `then`, so that one wrong field is one error, and not
 * one for each kind that it might have been.
 */
export function chainJsonSchema(catalogue: Catalogue): Json {
  const { $defs = {}, ...document } = jsonSchema(documentSchema());
  const defs = $defs as Record<string, Json>;
  addKinds(defs, 'stage', catalogue.stages);
  addKinds(defs, 'modulator', MODULATORS);
  return { $id: CHAIN_SCHEMA_ID, title: `Hexenkessel chain, version ${CHAIN_VERSION}`, ...document, $defs: defs };
}

interface Kind {
  readonly kind: string;
  readonly summary: string;
  readonly params: Params;
}

function addKinds(defs: Record<string, Json>, owner: string, kinds: readonly Kind[]): void {
  const choices = kinds.map(({ kind, summary, params }) => {
    const { $defs = {}, $schema: _, ...settings } = jsonSchema(settingsSchema(params));
    Object.assign(defs, $defs, { [`${owner}.${kind}`]: { description: summary, ...settings } });
    return {
      if: { properties: { kind: { const: kind } } },
      then: { properties: { settings: { $ref: `#/$defs/${owner}.${kind}` } } },
    };
  });
  const own = defs[owner];
  const known = owner === 'stage' ? [...kinds.map(({ kind }) => kind), 'script'] : kinds.map(({ kind }) => kind);
  Object.assign(own['properties'] as Json, { kind: { type: 'string', enum: known } });
  own['allOf'] = choices;
}

function jsonSchema(schema: z.ZodType): Json {
  return told(z.toJSONSchema(schema, { io: 'input', override: describeOpen })) as Json;
}

/** What the definitions of lengths that follow the tempo, or count samples, are called where they are generated. */
const MUSICAL = { $ref: '#/$defs/musical' };
const COUNTED = { $ref: '#/$defs/samples' };

/**
 * The same without choices of forms, of which a validator names every one that does not fit: lengths – a number, or an
 * object of one of four fields – are told in one piece, and what has a mode by `if` and `then`. So a wrong one is one error.
 */
function told(json: unknown): unknown {
  if (Array.isArray(json)) return json.map(told);
  if (typeof json !== 'object' || json === null) return json;
  const { anyOf, oneOf, $defs, ...rest } = json as Json & {
    anyOf?: Json[];
    oneOf?: Json[];
    $defs?: Record<string, Json>;
  };
  const inside = Object.fromEntries(Object.entries(rest).map(([key, value]) => [key, told(value)]));
  if ($defs) inside['$defs'] = lengthDefinitions($defs);
  if (oneOf) return { ...inside, ...byMode(oneOf.map(told) as Json[]) };
  if (!anyOf) return inside;
  const isLength = anyOf.some((form) => form['$ref'] === MUSICAL.$ref);
  if (!isLength) return { ...inside, anyOf: anyOf.map(told) };
  const [number] = anyOf;
  const counted = anyOf.some((form) => form['$ref'] === COUNTED.$ref);
  return { ...inside, ...number, type: ['number', 'object'], $ref: counted ? '#/$defs/length' : MUSICAL.$ref };
}

function byMode(forms: readonly Json[]): Json {
  const modes = forms.map((form) => ((form['properties'] as Json)['mode'] as Json)['const']);
  return {
    type: 'object',
    properties: { mode: { enum: modes } },
    required: ['mode'],
    allOf: forms.map((form, n) => ({ if: { properties: { mode: { const: modes[n] } } }, then: form })),
  };
}

function lengthDefinitions({ musical, samples, ...others }: Record<string, Json>): Json {
  const definitions = Object.fromEntries(Object.entries(others).map(([key, value]) => [key, told(value)]));
  if (!musical) return definitions;
  const fields = (forms: readonly Json[]) => Object.assign({}, ...forms.map((form) => form['properties'])) as Json;
  const oneOf = (properties: Json) => ({
    minProperties: 1,
    maxProperties: 1,
    properties,
    additionalProperties: false,
  });
  const follows = fields(musical['anyOf'] as Json[]);
  definitions['musical'] = oneOf(follows);
  if (samples) definitions['length'] = oneOf({ ...follows, ...fields([samples]) });
  return definitions;
}
