/** What the server says about renders. */
import { once } from '../model/once.ts';
import * as z from 'zod';
import { regionRenderSchema } from './sound.ts';
import { describedChain } from '../chain/jsonSchema.ts';

/**
 * What a render is asked for with: the chain by its id, and which state of it, so that nothing else is rendered than what
 * is kept.
 */
export const renderOrderSchema = once(() =>
  z
    .object({
      sourceId: z.string(),
      chainId: z.string(),
      revision: z.number().int().min(1).optional().describe('The chain as it is now; 409 when this is not its newest.'),
      version: z.number().int().min(1).optional().describe('A kept version of the chain, in place of the newest.'),
      region: regionRenderSchema().optional().describe('Region of the sound; omit for the whole sound.'),
    })
    .refine(({ revision, version }) => (revision === undefined) !== (version === undefined), {
      path: ['revision'],
      message: 'either the revision of the chain is needed or a version, and not both',
    }),
);
export type RenderOrder = z.infer<ReturnType<typeof renderOrderSchema>>;

export const JOB_STATUSES = ['queued', 'running', 'done', 'failed', 'cancelled'] as const;

export const renderSchema = once(() =>
  z.object({
    id: z.string(),
    status: z.enum(JOB_STATUSES),
    progress: z.number().describe('0…1'),
    error: z.string().nullable(),
    name: z.string(),
    sourceId: z.string(),
    sourceName: z.string(),
    soundId: z.string().nullable().describe('The new sound, once it is done.'),
    chainId: z.string(),
    chainName: z.string(),
    region: regionRenderSchema().nullable().describe('The region of the source that is rendered; null: all of it.'),
    version: z.string(),
    gaveUp: z
      .array(z.string())
      .describe('Stages that passed the sound on from somewhere, or were held within bounds, and why, in words.'),
    createdAt: z.string(),
    finishedAt: z.string().nullable(),
  }),
);
export type Render = z.infer<ReturnType<typeof renderSchema>>;

export const renderWithChainSchema = once(() => renderSchema().extend({ document: describedChain() }));
