/** What the server says about sounds. */
import { z } from 'zod';

/** Where a render came from. */
export const lineageSchema = z.object({
  renderId: z.string(),
  sourceId: z.string(),
  sourceName: z.string(),
  chainId: z.string(),
  chainName: z.string(),
  version: z.string().describe('The version of the chain that made it, in words.'),
  versionNumber: z.number().int().nullable(),
});

export const soundSchema = z.object({
  id: z.string(),
  name: z.string(),
  kind: z.enum(['source', 'render', 'signal']).describe('signal: a test signal that is always there.'),
  sha256: z.string(),
  bytes: z.number().int(),
  frames: z.number().int(),
  sampleRate: z.number().int(),
  channels: z.number().int(),
  format: z.string(),
  timeReference: z.number().int().nullable().describe('Frames from midnight; null when the file does not say.'),
  originFrames: z.number().int().describe('Start relative to the source it was made from; 0 for sources.'),
  peak: z.number().nullable().describe('dBFS; null for silence.'),
  truePeak: z.number().nullable().describe('dBTP; null for silence.'),
  loudness: z.number().nullable().describe('LUFS; null for silence.'),
  createdAt: z.string(),
  lineage: lineageSchema.nullable(),
});

export type Sound = z.infer<typeof soundSchema>;
