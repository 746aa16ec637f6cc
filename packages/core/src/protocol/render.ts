/** What the server says about renders. */
import { z } from 'zod';
import { regionRenderSchema } from './sound.ts';
import { chainSchema } from '../chain/schema.ts';

export const JOB_STATUSES = ['queued', 'running', 'done', 'failed', 'cancelled'] as const;

export const renderSchema = z.object({
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
  region: regionRenderSchema.nullable().describe('The stretch of the source that is rendered; null: all of it.'),
  version: z.string(),
  createdAt: z.string(),
  finishedAt: z.string().nullable(),
});
export type Render = z.infer<typeof renderSchema>;

export const renderWithChainSchema = renderSchema.extend({ document: chainSchema });
