/** What the server says about sounds. */
import { once } from '../model/once.ts';
import * as z from 'zod';
import { BEYONDS, REGION_TIMES, SPLICE_TAILS } from '../chain/schema.ts';
import type { RegionRender } from '../engine/offline/region.ts';
import { soundMarksSchema } from '../formats/common/soundMarksSchema.ts';
import { LIMITS } from '../model/limits.ts';
import { TEMPO_RANGE } from '../timing/tempo.ts';
import { mixedSchema } from './mix.ts';

const frame = once(() =>
  z
    .number()
    .int()
    .min(0)
    .max(LIMITS.soundSeconds * LIMITS.sampleRate.max),
);

/** A stretch of a sound to be rendered, in frames of the sound. */
export const regionRenderSchema = once(
  () =>
    z.object({
      region: z.object({ start: frame(), end: frame() }),
      beyond: z.enum(BEYONDS).default('auto').describe('What follows the region.'),
      time: z
        .enum(REGION_TIMES)
        .default('region')
        .describe('What everything that moves counts from: the first frame of the region, or of the sound.'),
      splice: z
        .object({ fade: frame().describe('Frames of the crossfade inside the region.'), tail: z.enum(SPLICE_TAILS) })
        .optional()
        .describe('Present: the result is a copy of the sound with the region in its place.'),
    }) as unknown as z.ZodType<RegionRender>,
);

/** Where a render came from. */
export const lineageSchema = once(() =>
  z.object({
    renderId: z.string(),
    sourceId: z.string(),
    sourceName: z.string(),
    chainId: z.string(),
    chainName: z.string(),
    version: z.string().describe('The version of the chain that made it, in words.'),
    versionNumber: z.number().int().nullable(),
    region: regionRenderSchema().nullable().describe('The region of the source that was rendered; null: all of it.'),
    leftOut: z
      .object({ loops: frame(), markers: frame(), root: z.boolean() })
      .nullable()
      .describe('What of the source’s marks had no place in the render; null when nobody noted it.'),
  }),
);

const tempoSchema = once(() => z.number().min(TEMPO_RANGE.min).max(TEMPO_RANGE.max));

export const tagsSchema = once(() => z.array(z.string().trim().min(1).max(40)).max(40));

export const SOUND_KINDS = ['source', 'render', 'signal'] as const;

/** What a sound is named by. */
export const soundNameSchema = once(() =>
  z.object({
    id: z.string(),
    name: z.string(),
    kind: z.enum(SOUND_KINDS).describe('signal: a test signal that is always there.'),
    sha256: z.string(),
  }),
);
export type SoundName = z.infer<ReturnType<typeof soundNameSchema>>;

export const soundSchema = once(() =>
  soundNameSchema().extend({
    bytes: z.number().int(),
    frames: z.number().int(),
    sampleRate: z.number().int(),
    channels: z.number().int(),
    format: z.string().describe('How its samples are kept.'),
    sourceFormat: z.string().describe('What kind of file it came as.'),
    timeReference: z.number().int().nullable().describe('Frames from midnight; null when the file does not say.'),
    originFrames: z.number().int().describe('Start relative to the source it was made from; 0 for sources.'),
    touched: z
      .object({ start: z.number().int(), end: z.number().int() })
      .nullable()
      .describe('In a copy of a sound with a region of it rendered, the frames that may differ; null: all of them.'),
    peak: z.number().nullable().describe('dBFS; null for silence.'),
    truePeak: z.number().nullable().describe('dBTP; null for silence.'),
    loudness: z.number().nullable().describe('LUFS; null for silence.'),
    marks: soundMarksSchema(),
    tempo: tempoSchema()
      .nullable()
      .describe('Quarter notes a minute, as found or put right; null when nobody has said.'),
    tags: tagsSchema(),
    sealed: z.boolean().describe('True for a render that is final: it is not rendered again.'),
    missing: z.boolean().describe('True when its audio is not on disk any more.'),
    createdAt: z.string(),
    lineage: lineageSchema().nullable(),
    mixed: mixedSchema().nullable().describe('The sounds that it was mixed from; null: it is no mix.'),
  }),
);
/** A sound that has just come in, and what was wrong with its file and did not keep it from being read. */
export const takenSoundSchema = once(() => soundSchema().extend({ warning: z.string().optional() }));
export type TakenSound = z.infer<ReturnType<typeof takenSoundSchema>>;
export type Sound = z.infer<ReturnType<typeof soundSchema>>;

/** What a user can change of a sound; its samples never change. */
export const soundChangeSchema = once(() =>
  z
    .object({
      name: z.string(),
      tags: tagsSchema(),
      sealed: z.boolean(),
      marks: soundMarksSchema(),
      tempo: tempoSchema().nullable(),
    })
    .partial(),
);
export type SoundChange = z.infer<ReturnType<typeof soundChangeSchema>>;

/** What needs a sound: as long as there is any, it cannot be deleted. */
export const soundNeedsSchema = once(() =>
  z.object({
    renders: z
      .array(z.object({ soundId: z.string().nullable(), name: z.string() }))
      .describe('Made from it, or under way.'),
    mixes: z.array(z.object({ soundId: z.string(), name: z.string() })).describe('Mixed from it and others.'),
    chains: z.array(z.object({ id: z.string(), name: z.string() })).describe('Chains of which a stage names it.'),
    signal: z.boolean().describe('True for a test signal, which always stays.'),
  }),
);
export type SoundNeeds = z.infer<ReturnType<typeof soundNeedsSchema>>;

export const storageSchema = once(() =>
  z.object({
    sounds: z.number().int(),
    bytes: z.number().int().describe('Of all audio that is kept.'),
    freeBytes: z.number().int().describe('Free on the disk.'),
    restorable: z.boolean().describe('True while nothing was done yet: a backup can be put in its place.'),
    unneededSounds: z.number().int().describe('How many renders nobody needs.'),
    unneeded: z
      .array(z.object({ id: z.string(), name: z.string(), bytes: z.number().int() }))
      .describe('The largest of them: not sealed, tagged, marked, on a shelf, named by a chain or rendered further.'),
  }),
);
export type Storage = z.infer<ReturnType<typeof storageSchema>>;

export const SOUND_FILE_KINDS = ['wav', 'flac'] as const;
export type SoundFileKind = (typeof SOUND_FILE_KINDS)[number];
/** How sounds are written for other programs. */
export const soundExportSchema = once(() =>
  z.object({
    kind: z.enum(SOUND_FILE_KINDS).default('wav'),
    depth: z.enum(['16', '24', '32f']).default('24'),
    rate: z.coerce.number().int().min(LIMITS.sampleRate.min).max(LIMITS.sampleRate.max).optional(),
  }),
);

/** Where a written file has dither; the rest holds each sample as it is. */
export const ditherSchema = once(() =>
  z.object({
    frames: z.number().int().describe('Frames of the file.'),
    sampleRate: z.number().int(),
    dithered: z.array(z.object({ start: z.number().int(), end: z.number().int() })),
  }),
);
export type Dither = z.infer<ReturnType<typeof ditherSchema>>;
