/** The published JSON Schema (2020-12) of a chain file. */
import { z } from 'zod';
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
  return z.toJSONSchema(schema, { io: 'input', override: describeOpen }) as Json;
}
