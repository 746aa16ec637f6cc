/** The chain document, version 1. The schema is the single source of its type, its validation and its JSON Schema. */
import { z } from 'zod';
import { LIMITS } from '../limits.ts';
import { STAGES } from '../stages/index.ts';
import type { Stage } from '../stages/contract.ts';
import { curveSchema, settingSchema, timeSchema } from '../stages/paramSchema.ts';
import type { Params, SettingValue } from '../stages/params.ts';
import type { Curve } from '../modulation/curve.ts';
import type { Modulator, Polarity } from '../modulation/modulators/contract.ts';
import { MODULATORS } from '../modulation/modulators/index.ts';
import { TEMPO_RANGE, type Timing, type TimeValue } from '../timing/tempo.ts';
import { DEFAULT_NAME_TEMPLATE } from './nameTemplate.ts';

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

export interface ModulatorDocument {
  readonly id: string;
  readonly kind: string;
  /** The designer's own name for it; empty: what its kind is called. */
  readonly name: string;
  readonly on: boolean;
  readonly note: string;
  readonly settings: Readonly<Record<string, SettingValue>>;
}

/** A modulator, or a control of the panel, moves something. */
export interface Route {
  readonly id: string;
  /** Id of what moves. */
  readonly from: string;
  /** What is moved: `hall.decay`. */
  readonly to: string;
  readonly on: boolean;
  /** Shares of the target's scale, −1…1. */
  readonly depth: number;
  /** Both ways around the setting, or up from it. */
  readonly polarity: Polarity;
  /** How the modulator's way is bent, as that of a curve. */
  readonly bend: number;
  readonly smoothing: TimeValue;
}

/** A breakpoint curve in place of a setting. */
export interface LaneDocument {
  readonly target: string;
  readonly on: boolean;
  /** In the target's canonical unit; a switch is on from a half on. */
  readonly curve: Curve;
}

/** What a control of the panel does to one parameter. */
export interface Driven {
  readonly target: string;
  /** What it is when the control stands at its least, and at its most. */
  readonly from: SettingValue;
  readonly to: SettingValue;
  readonly bend: number;
}

/** One of the few controls that a chain shows to its users. */
export interface ControlDocument {
  readonly id: string;
  readonly name: string;
  /** Controls of one group stand together. */
  readonly group: string;
  readonly note: string;
  readonly unit: string;
  readonly min: number;
  readonly max: number;
  /** How its numbers spread over its way, as the bend of a curve. */
  readonly bend: number;
  /** It stands on multiples of this, counted from its least; 0: anywhere. */
  readonly step: number;
  readonly default: number;
  readonly value: number;
  /** Words for its read-out, evenly spread, instead of the number. */
  readonly words: readonly string[];
  /** Kept as it is when settings are drawn at random. */
  readonly locked: boolean;
  readonly drives: readonly Driven[];
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

const id = z
  .string()
  .regex(/^[A-Za-z][A-Za-z0-9_-]{0,39}$/, 'starts with a letter and has up to 40 letters, digits, - or _')
  .describe('Unique in the chain; names the stage in --set and in messages.');

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

function settingsSchema(params: Params) {
  const settings: Record<string, z.ZodType<SettingValue>> = {};
  for (const [key, param] of Object.entries(params)) {
    settings[key] = settingSchema(param).default(param.default).describe(param.doc);
  }
  return z.strictObject(settings).prefault({});
}

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
              .array(stage.reach === 'live' ? branch : clipBranch)
              .max(8)
              .default([]),
          }
        : {}),
    })
    .describe(stage.summary);
}

const target = z
  .string()
  .regex(/^[A-Za-z][A-Za-z0-9_-]{0,39}\.[A-Za-z][A-Za-z0-9]{0,39}$/, 'names a setting, such as hall.decay')
  .describe('Id of a stage, branch or modulator, a point, and the parameter.');
const bend = z.number().min(-1).max(1).default(0).describe('0 straight; above 0 it hurries at the end.');

function modulatorSchema(modulator: Modulator) {
  return z
    .strictObject({
      id,
      kind: z.literal(modulator.kind),
      name: z.string().max(80).default(''),
      on: z.boolean().default(true),
      note: z.string().max(2000).default(''),
      settings: settingsSchema(modulator.params),
    })
    .describe(modulator.summary);
}

const route = z.strictObject({
  id,
  from: z.string().max(40).describe('Id of a modulator, or of a control of the panel.'),
  to: target,
  on: z.boolean().default(true),
  depth: z.number().min(-1).max(1).default(0.25).describe('Shares of the scale of what is moved.'),
  polarity: z.enum(['both', 'up']).default('both').describe('Around the setting, or up from it.'),
  bend,
  smoothing: timeSchema(0, 10).default(0),
});

const lane = z.strictObject({
  target,
  on: z.boolean().default(true),
  curve: curveSchema(-1e6, 1e6).describe('In the canonical unit of its target; a switch is on from 0.5 on.'),
});

const control = z.strictObject({
  id,
  name: z.string().trim().min(1).max(40),
  group: z.string().max(40).default(''),
  note: z.string().max(2000).default('').describe('What it does, for those who use the chain.'),
  unit: z.string().max(12).default('%'),
  min: z.number().min(-1e6).max(1e6).default(0),
  max: z.number().min(-1e6).max(1e6).default(100),
  bend,
  step: z.number().min(0).max(1e6).default(0).describe('0: it stands anywhere.'),
  default: z.number(),
  value: z.number(),
  words: z.array(z.string().min(1).max(24)).max(24).default([]).describe('Shown instead of the number.'),
  locked: z.boolean().default(false).describe('Kept as it is when settings are drawn at random.'),
  drives: z
    .array(z.strictObject({ target, from: z.unknown(), to: z.unknown(), bend }))
    .max(LIMITS.driven)
    .default([])
    .describe('From and to: what the parameter is at the least and the most.'),
});

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
const liveStages = z.discriminatedUnion('kind', schemasOf(STAGES.filter(({ reach }) => reach === 'live')));
const anyStage: z.ZodType = z.lazy(() => anyStages);
const anyStages = z.discriminatedUnion('kind', schemasOf(STAGES));

const anyModulator = z.discriminatedUnion(
  'kind',
  MODULATORS.map(modulatorSchema) as unknown as [StageSchema, ...StageSchema[]],
);

/** Fills in every default, so a kept chain says all its settings and sounds the same when a default changes. */
export const chainSchema = z.strictObject({
  format: z.literal(CHAIN_FORMAT),
  version: z.literal(CHAIN_VERSION),
  name: z.string().trim().min(1).max(80),
  head: z.strictObject({ kind: z.literal('clip') }).default({ kind: 'clip' }),
  stages: z.array(anyStage).max(LIMITS.stages).default([]),
  panel: z.array(control).max(LIMITS.controls).default([]),
  modulators: z.array(anyModulator).max(LIMITS.modulators).default([]),
  routes: z.array(route).max(LIMITS.routes).default([]),
  lanes: z.array(lane).max(LIMITS.lanes).default([]),
  locked: z.array(target).max(512).default([]).describe('Kept as they are when settings are drawn at random.'),
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
