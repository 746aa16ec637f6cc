/** What the server says about chains. */
import { once } from '../model/once.ts';
import * as z from 'zod';
import { describedChain } from '../chain/jsonSchema.ts';

export const versionSchema = once(() =>
  z.object({
    number: z.number().int(),
    why: z.string(),
    createdAt: z.string(),
  }),
);

/** What a chain is named by. */
export const chainNameSchema = once(() => z.object({ id: z.string(), name: z.string() }));
export type ChainName = z.infer<ReturnType<typeof chainNameSchema>>;

export const chainEntrySchema = once(() =>
  z.object({
    id: z.string(),
    name: z.string(),
    summary: z.string(),
    kind: z.string(),
    character: z.array(z.string()),
    tags: z.array(z.string()),
    rating: z.number().int(),
    tempo: z.number(),
    stages: z.array(z.string()).describe('Titles of the stages in order.'),
    contains: z
      .array(z.string())
      .describe(
        'What every stage is called, those in branches and loops too: by the designer, as a stage, and its kind.',
      ),
    version: z.number().int().nullable().describe('Newest kept version.'),
    unsaved: z.boolean().describe('True when there is a draft newer than the newest version.'),
    updatedAt: z.string(),
    fault: z.string().nullable().describe('Why the chain cannot be read; what it is about is left empty then.'),
  }),
);
export type ChainEntry = z.infer<ReturnType<typeof chainEntrySchema>>;

export const chainStateSchema = once(() =>
  z.object({
    id: z.string(),
    revision: z.number().int().describe('Grows with every save; a save names the one it is based on.'),
    document: describedChain(),
    unsaved: z.boolean(),
    versions: z.array(versionSchema()),
  }),
);
export type ChainState = z.infer<ReturnType<typeof chainStateSchema>>;
