/** The chain document, version 1. The schema is the single source of its type, its validation and its JSON Schema. */
import { z } from 'zod';
import { LIMITS } from '../model/limits.ts';
import { STAGES } from '../stages/builtin/index.ts';
import type { Stage } from '../stages/contract.ts';
import { timeSchema } from '../params/paramSchema.ts';
import type { SettingValue } from '../params/params.ts';
import { TEMPO_RANGE, type Timing, type TimeValue } from '../timing/tempo.ts';
import {
  controlSchema,
  idSchema as id,
  laneSchema,
  modulatorSchema,
  routeSchema,
  settingsSchema,
  targetSchema,
  type ControlDocument,
  type LaneDocument,
  type ModulatorDocument,
  type Route,
} from './movementSchema.ts';
import { DEFAULT_NAME_TEMPLATE } from './nameTemplate.ts';

export type { ControlDocument, Driven, LaneDocument, ModulatorDocument, Route } from './movementSchema.ts';

export const CHAIN_FORMAT = 'hexenkessel.chain';
export const CHAIN_VERSION = 1;

export interface StageDocument {
  readonly id: string;
  readonly kind: string;
  /** The designer's own name for it; empty: the stage's title. */
  readonly name: string;
  readonly on: boolean;
  /** 0 dry … 1 wet. */
  readonly mix: number;
  /** dB after the mix. */
  readonly level: number;
  readonly note: string;
  readonly settings: Readonly<Record<string, SettingValue>>;
  /** Present in stages that hold stages. */
  readonly branches?: readonly BranchDocument[];
}

export interface BranchDocument {
  readonly id: string;
  /** The designer's own name for it; empty: what the stage calls it. */
  readonly name: string;
  /** dB. */
  readonly level: number;
  /** −1 left … 1 right. */
  readonly pan: number;
  readonly muted: boolean;
  /** Upside down. */
  readonly inverted: boolean;
  readonly stages: readonly StageDocument[];
}

export type Tail =
  | { readonly mode: 'fixed'; readonly length: TimeValue }
  | { readonly mode: 'auto'; readonly below: number }
  | { readonly mode: 'none' };

export type LeadIn =
  { readonly mode: 'auto' } | { readonly mode: 'fixed'; readonly length: TimeValue } | { readonly mode: 'none' };

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

export interface ChainTiming extends Timing {
  readonly follows: (typeof FOLLOWED)[number];
}

export const ANCHORS = ['source', 'start', 'end'] as const;
export type Anchor = (typeof ANCHORS)[number];

export const CHANNELS = ['as they come', 'mono', 'stereo'] as const;
/** How many channels a render has. As they come: two as soon as a stage widens. */
export type RenderChannels = (typeof CHANNELS)[number];

/** What a render is brought to. */
export type RenderLevel =
  | { readonly mode: 'none' }
  /** dBFS of the highest sample. */
  | { readonly mode: 'peak'; readonly to: number }
  /** LUFS, integrated; never past a peak of 0 dBFS. */
  | { readonly mode: 'loudness'; readonly to: number };

/** What is done with a region of a sound, where nothing else is asked for. */
export interface RegionSettings {
  readonly beyond: Beyond;
  readonly time: RegionTime;
  readonly splice: boolean;
  readonly fade: TimeValue;
  readonly tail: SpliceTail;
}

export interface RenderSettings {
  readonly tail: Tail;
  readonly leadIn: LeadIn;
  readonly anchor: Anchor;
  readonly channels: RenderChannels;
  readonly level: RenderLevel;
  readonly region: RegionSettings;
  readonly name: string;
  readonly seed: number;
}

export interface About {
  readonly summary: string;
  readonly notes: string;
  readonly kind: string;
  readonly character: readonly string[];
  readonly tags: readonly string[];
  readonly rating: number;
  readonly author: string;
  readonly licence: string;
}

export interface ChainDocument {
  readonly format: typeof CHAIN_FORMAT;
  readonly version: typeof CHAIN_VERSION;
  readonly name: string;
  readonly head: { readonly kind: 'clip' };
  readonly stages: readonly StageDocument[];
  readonly panel: readonly ControlDocument[];
  readonly modulators: readonly ModulatorDocument[];
  readonly routes: readonly Route[];
  readonly lanes: readonly LaneDocument[];
  /** Settings that are kept as they are when settings are drawn at random. */
  readonly locked: readonly string[];
  readonly timing: ChainTiming;
  readonly render: RenderSettings;
  readonly about: About;
}

const branch = z.strictObject({
  id,
  name: z.string().max(80).default(''),
  level: z.number().min(-96).max(24).default(0).describe('dB'),
  pan: z.number().min(-1).max(1).default(0).describe('−1 left … 1 right'),
  muted: z.boolean().default(false),
  inverted: z.boolean().default(false).describe('Upside down.'),
  get stages() {
    return z.array(liveStage).max(LIMITS.stages).default([]);
  },
});

/** A branch of a whole-clip stage: it may hold any stage. */
const clipBranch = branch.extend({
  get stages() {
    return z.array(anyStage).max(LIMITS.stages).default([]);
  },
});

function stageSchema(stage: Stage) {
  return z
    .strictObject({
      id,
      kind: z.literal(stage.kind),
      name: z.string().max(80).default(''),
      on: z.boolean().default(true),
      mix: z.number().min(0).max(1).default(1).describe(`Dry 0 … wet 1, ${stage.mixLaw}.`),
      level: z.number().min(-96).max(24).default(0).describe('dB after the mix.'),
      note: z.string().max(2000).default(''),
      settings: settingsSchema(stage.params),
      ...(stage.holds
        ? {
            branches: z
              .array(stage.runs === 'live' ? branch : clipBranch)
              .max(8)
              .default([]),
          }
        : {}),
    })
    .describe(stage.summary);
}

const overhang = timeSchema(0, LIMITS.overhangSeconds);

const timing = z.strictObject({
  tempo: z.number().min(TEMPO_RANGE.min).max(TEMPO_RANGE.max).default(120).describe('Quarter notes a minute.'),
  meter: z.tuple([z.number().int().min(1).max(32), z.union([1, 2, 4, 8, 16].map((n) => z.literal(n)))]).default([4, 4]),
  follows: z
    .enum(FOLLOWED)
    .default('chain')
    .describe('Whose tempo counts: this one, or that of the sound if it has one.'),
});

const render = z.strictObject({
  tail: z
    .discriminatedUnion('mode', [
      z.strictObject({ mode: z.literal('fixed'), length: overhang }),
      z.strictObject({ mode: z.literal('auto'), below: z.number().min(-120).max(-20).default(-80) }),
      z.strictObject({ mode: z.literal('none') }),
    ])
    .default({ mode: 'auto', below: -80 }),
  leadIn: z
    .discriminatedUnion('mode', [
      z.strictObject({ mode: z.literal('auto') }),
      z.strictObject({ mode: z.literal('fixed'), length: overhang }),
      z.strictObject({ mode: z.literal('none') }),
    ])
    .default({ mode: 'auto' }),
  anchor: z.enum(ANCHORS).default('source'),
  channels: z.enum(CHANNELS).default('as they come'),
  level: z
    .discriminatedUnion('mode', [
      z.strictObject({ mode: z.literal('none') }),
      z.strictObject({ mode: z.literal('peak'), to: z.number().min(-60).max(0).describe('dBFS') }),
      z.strictObject({ mode: z.literal('loudness'), to: z.number().min(-60).max(-6).describe('LUFS') }),
    ])
    .default({ mode: 'none' }),
  region: z
    .strictObject({
      beyond: z.enum(BEYONDS).default('auto').describe('What the chain hears behind a region.'),
      time: z
        .enum(REGION_TIMES)
        .default('region')
        .describe('What lanes, modulators and stages that wait count from: the region’s first frame, or the sound’s.'),
      splice: z.boolean().default(true).describe('Put back into a copy of the sound, or a clip of its own.'),
      fade: timeSchema(0, 60).default(0.005),
      tail: z.enum(SPLICE_TAILS).default('overlap'),
    })
    .prefault({}),
  name: z.string().min(1).max(LIMITS.nameLength).default(DEFAULT_NAME_TEMPLATE),
  seed: z.number().int().min(0).max(4294967295).default(1),
});

const words = z.array(z.string().min(1).max(40)).max(40).default([]);

const about = z.strictObject({
  summary: z.string().max(300).default(''),
  notes: z.string().max(100_000).default('').describe('Markdown.'),
  kind: z.string().max(40).default(''),
  character: words,
  tags: words,
  rating: z.number().int().min(0).max(5).default(0),
  author: z.string().max(120).default(''),
  licence: z.string().max(120).default(''),
});

type StageSchema = z.ZodObject<{ kind: z.ZodLiteral<string> }>;
const schemasOf = (stages: readonly Stage[]) => stages.map(stageSchema) as unknown as [StageSchema, ...StageSchema[]];
/** Stages inside others run live. */
const liveStage: z.ZodType = z.lazy(() => liveStages);
const liveStages = z.discriminatedUnion('kind', schemasOf(STAGES.filter(({ runs }) => runs === 'live')));
const anyStage: z.ZodType = z.lazy(() => anyStages);
const anyStages = z.discriminatedUnion('kind', schemasOf(STAGES));

/** Fills in every default, so a kept chain says all its settings and sounds the same when a default changes. */
export const chainSchema = z.strictObject({
  format: z.literal(CHAIN_FORMAT),
  version: z.literal(CHAIN_VERSION),
  name: z.string().trim().min(1).max(80),
  head: z.strictObject({ kind: z.literal('clip') }).default({ kind: 'clip' }),
  stages: z.array(anyStage).max(LIMITS.stages).default([]),
  panel: z.array(controlSchema).max(LIMITS.controls).default([]),
  modulators: z.array(modulatorSchema).max(LIMITS.modulators).default([]),
  routes: z.array(routeSchema).max(LIMITS.routes).default([]),
  lanes: z.array(laneSchema).max(LIMITS.lanes).default([]),
  locked: z.array(targetSchema).max(512).default([]).describe('Kept as they are when settings are drawn at random.'),
  timing: timing.prefault({}),
  render: render.prefault({}),
  about: about.prefault({}),
}) as unknown as z.ZodType<ChainDocument>;

/** The published JSON Schema of a chain file. */
export function chainJsonSchema(): Record<string, unknown> {
  return {
    title: 'Hexenkessel chain, version 1',
    ...(z.toJSONSchema(chainSchema, { io: 'input', reused: 'ref' }) as Record<string, unknown>),
  };
}
