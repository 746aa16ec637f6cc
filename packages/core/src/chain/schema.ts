/**
 * The chain document, version 2: one schema for its type, its validation and its JSON Schema. What may stand in the
 * settings of a stage, a modulator or the head, their definitions say (`validate.ts`, `jsonSchema.ts`).
 */
import * as z from 'zod';
import { LIMITS } from '../model/limits.ts';
import { once } from '../model/once.ts';
import type { DeepReadonly } from '../model/readonly.ts';
import { notesSchema, soundSchema, timeSchema } from '../params/paramSchema.ts';
import { TEMPO_RANGE } from '../timing/tempo.ts';
import {
  controlSchema,
  idSchema,
  laneSchema,
  looseSettings,
  modulatorSchema,
  routeSchema,
  targetSchema,
  type ControlDocument,
  type ModulatorDocument,
  type Settings,
} from './movementSchema.ts';
import { DEFAULT_NAME_TEMPLATE } from './nameTemplate.ts';
import { openObject } from './openObject.ts';

export type { ControlDocument, Driven, LaneDocument, ModulatorDocument, Route } from './movementSchema.ts';

export const CHAIN_FORMAT = 'hexenkessel.chain';
export const CHAIN_VERSION = 2;

/** What a chain hears behind a region: the sound as it goes on, or nothing, so that its tail can ring. */
export const BEYONDS = ['auto', 'sound', 'nothing'] as const;
export type Beyond = (typeof BEYONDS)[number];

/** Whether what a spliced render adds around its region sounds over the copy, or ends with the region. */
export const SPLICE_TAILS = ['overlap', 'cut'] as const;
export type SpliceTail = (typeof SPLICE_TAILS)[number];

/** Whose time counts in a region: one that begins with it, so that a preset does the same anywhere, or that of the sound. */
export const REGION_TIMES = ['region', 'sound'] as const;
export type RegionTime = (typeof REGION_TIMES)[number];

/** Whose tempo counts: the chain's, or the sound's where it has one. */
export const FOLLOWED = ['chain', 'sound'] as const;

export const ANCHORS = ['source', 'start', 'end'] as const;
export type Anchor = (typeof ANCHORS)[number];

export const CHANNELS = ['as they come', 'mono', 'stereo'] as const;
/** How many channels a render has. As they come: two as soon as a stage widens. */
export type RenderChannels = (typeof CHANNELS)[number];

/** A branch but for the stages in it. */
export const branchFields = once(() => ({
  id: idSchema(),
  name: z.string().max(80).default('').describe('The designer’s own name for it; empty: what the stage calls it.'),
  level: z.number().min(-96).max(24).default(0).describe('dB'),
  pan: z.number().min(-1).max(1).default(0).describe('−1 left … 1 right'),
  muted: z.boolean().default(false),
  inverted: z.boolean().default(false).describe('Polarity inverted.'),
}));

/** A stage but for its branches. */
export const stageFields = once(() => ({
  id: idSchema(),
  kind: z.string().max(80),
  script: idSchema().optional().describe('Id of the script that a stage of kind “script” is made from.'),
  name: z.string().max(80).default('').describe('The designer’s own name for it; empty: the stage’s title.'),
  on: z.boolean().default(true),
  mix: z.number().min(0).max(1).default(1).describe('Dry 0 … wet 1.'),
  level: z.number().min(-96).max(24).default(0).describe('dB after the mix.'),
  note: z.string().max(2000).default(''),
  settings: looseSettings(),
}));

/** How many branches a stage may have at most, whatever it is. */
export const MOST_BRANCHES = 8;

type Fields<T extends () => z.ZodRawShape> = DeepReadonly<z.output<z.ZodObject<ReturnType<T>, z.core.$strict>>>;

export interface StageDocument extends Omit<Fields<typeof stageFields>, 'settings'> {
  readonly settings: Settings;
  /** Present in stages that hold stages. */
  readonly branches?: readonly BranchDocument[];
}

export interface BranchDocument extends Fields<typeof branchFields> {
  readonly stages: readonly StageDocument[];
}

/** A stage, with those inside it. */
const stageSchema: () => z.ZodType = once(() => {
  const branches = z.array(z.lazy(() => branchSchema())).max(MOST_BRANCHES);
  return openObject({ ...stageFields(), branches: branches.optional() }, 'stage');
});
const branchSchema: () => z.ZodType = once(() =>
  openObject({ ...branchFields(), stages: z.array(stageSchema()).max(LIST_LIMITS.stages).default([]) }, 'branch'),
);

const overhang = () => timeSchema(0, LIMITS.overhangSeconds);

const timing = once(() =>
  openObject({
    tempo: z.number().min(TEMPO_RANGE.min).max(TEMPO_RANGE.max).default(120).describe('Quarter notes a minute.'),
    meter: z
      .tuple([z.number().int().min(1).max(32), z.union([1, 2, 4, 8, 16].map((n) => z.literal(n)))])
      .default([4, 4]),
    follows: z
      .enum(FOLLOWED)
      .default('chain')
      .describe('Whose tempo counts: this one, or that of the sound if it has one.'),
  }),
);

const region = once(() =>
  openObject({
    beyond: z.enum(BEYONDS).default('auto').describe('What follows a region.'),
    time: z
      .enum(REGION_TIMES)
      .default('region')
      .describe('What lanes, modulators and stages that wait count from: the region’s first frame, or the sound’s.'),
    splice: z.boolean().default(true).describe('Put back into a copy of the sound, or a clip of its own.'),
    fade: timeSchema(0, 60).default(0.005),
    tail: z.enum(SPLICE_TAILS).default('overlap'),
  }),
);

const render = once(() =>
  openObject({
    tail: z
      .discriminatedUnion('mode', [
        z.strictObject({ mode: z.literal('fixed'), length: overhang() }),
        z.strictObject({ mode: z.literal('auto'), below: z.number().min(-120).max(-20).default(-80) }),
        z.strictObject({ mode: z.literal('none') }),
      ])
      .default({ mode: 'auto', below: -80 }),
    leadIn: z
      .discriminatedUnion('mode', [
        z.strictObject({ mode: z.literal('auto') }),
        z.strictObject({ mode: z.literal('fixed'), length: overhang() }),
        z.strictObject({ mode: z.literal('none') }),
      ])
      .default({ mode: 'auto' }),
    anchor: z.enum(ANCHORS).default('source'),
    channels: z.enum(CHANNELS).default('as they come'),
    level: z
      .discriminatedUnion('mode', [
        z.strictObject({ mode: z.literal('none') }),
        z.strictObject({
          mode: z.literal('peak'),
          to: z.number().min(-60).max(0).describe('dBFS of the highest sample.'),
        }),
        z.strictObject({
          mode: z.literal('loudness'),
          to: z.number().min(-60).max(-6).describe('LUFS, integrated; never past a peak of 0 dBFS.'),
        }),
      ])
      .default({ mode: 'none' }),
    region: region().prefault({}),
    name: z.string().min(1).max(LIMITS.nameLength).default(DEFAULT_NAME_TEMPLATE),
    seed: z.number().int().min(0).max(4294967295).default(1),
  }),
);

const about = once(() => {
  const words = z.array(z.string().min(1).max(40)).max(40).default([]);
  return openObject({
    summary: z.string().max(300).default(''),
    notes: z.string().max(100_000).default('').describe('Markdown.'),
    kind: z.string().max(40).default(''),
    character: words,
    tags: words,
    rating: z.number().int().min(0).max(5).default(0),
    author: z.string().max(120).default(''),
    licence: z.string().max(120).default(''),
    sound: soundSchema().optional().describe('The sound that it was made on.'),
  });
});

/** A script that stages of the chain are made from. */
const script = once(() =>
  openObject({
    id: idSchema(),
    language: z.string().min(1).max(40),
    text: z.string().max(LIMITS.scriptBytes),
  }),
);

/** The lists of a chain, and how much may stand in each. */
export const LIST_LIMITS = {
  stages: LIMITS.stages,
  panel: LIMITS.controls,
  modulators: LIMITS.modulators,
  routes: LIMITS.routes,
  lanes: LIMITS.lanes,
  locked: 512,
  scripts: LIMITS.scripts,
} as const;

/** A chain document, every default filled in, but for the settings of what has a definition. */
export const documentSchema = once(() =>
  openObject({
    $schema: z.string().max(400).optional().describe('Where this schema is to be found, for editors.'),
    format: z.literal(CHAIN_FORMAT),
    version: z.literal(CHAIN_VERSION),
    name: z.string().trim().min(1).max(80),
    head: openObject({ kind: z.string().max(80).default('clip'), settings: looseSettings() })
      .prefault({})
      .describe('What the chain begins with.'),
    stages: z.array(stageSchema()).max(LIMITS.stages).default([]),
    panel: z.array(controlSchema()).max(LIST_LIMITS.panel).default([]),
    modulators: z.array(modulatorSchema()).max(LIST_LIMITS.modulators).default([]),
    routes: z.array(routeSchema()).max(LIST_LIMITS.routes).default([]),
    lanes: z.array(laneSchema()).max(LIST_LIMITS.lanes).default([]),
    locked: z
      .array(targetSchema())
      .max(LIST_LIMITS.locked)
      .default([])
      .describe('Kept as they are when settings are drawn at random.'),
    scripts: z
      .array(script())
      .max(LIST_LIMITS.scripts)
      .default([])
      .describe('What stages of kind “script” are made from.'),
    notes: notesSchema().default([]).describe('What a head that is played plays, in beats.'),
    timing: timing().prefault({}),
    render: render().prefault({}),
    about: about().prefault({}),
  }),
);

type Parsed = DeepReadonly<z.output<ReturnType<typeof documentSchema>>>;

export interface HeadDocument extends Omit<Parsed['head'], 'settings'> {
  readonly settings: Settings;
}

export interface ChainDocument extends Omit<Parsed, 'head' | 'stages' | 'panel' | 'modulators'> {
  readonly head: HeadDocument;
  readonly stages: readonly StageDocument[];
  readonly panel: readonly ControlDocument[];
  readonly modulators: readonly ModulatorDocument[];
}

export type ScriptDocument = Parsed['scripts'][number];
export type ChainTiming = Parsed['timing'];
export type RenderSettings = Parsed['render'];
export type Tail = RenderSettings['tail'];
export type LeadIn = RenderSettings['leadIn'];
/** What a render is brought to. */
export type RenderLevel = RenderSettings['level'];
/** What is done with a region of a sound, where nothing else is asked for. */
export type RegionSettings = RenderSettings['region'];
export type About = Parsed['about'];
