/** Panel, modulators, routes and lanes of a chain document. */
import { z } from 'zod';
import { LIMITS } from '../model/limits.ts';
import type { Curve } from '../modulation/curve.ts';
import type { Modulator, Polarity } from '../modulation/modulators/contract.ts';
import { MODULATORS } from '../modulation/modulators/index.ts';
import { curveSchema, settingSchema, timeSchema } from '../params/paramSchema.ts';
import type { Params, SettingValue } from '../params/params.ts';
import type { TimeValue } from '../timing/tempo.ts';

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

/** What a stage, branch, modulator, route or control goes by in a chain. */
export const idSchema = z
  .string()
  .regex(/^[A-Za-z][A-Za-z0-9_-]{0,39}$/, 'starts with a letter and has up to 40 letters, digits, - or _')
  .describe('Unique in the chain; names the stage in --set and in messages.');

/** What may be set for some parameters; what is left out is as it is at first. */
export function settingsSchema(params: Params) {
  const settings: Record<string, z.ZodType<SettingValue>> = {};
  for (const [key, param] of Object.entries(params)) {
    settings[key] = settingSchema(param).default(param.default).describe(param.doc);
  }
  return z.strictObject(settings).prefault({});
}

/** Names a setting: whose it is, and which. */
export const targetSchema = z
  .string()
  .regex(/^[A-Za-z][A-Za-z0-9_-]{0,39}\.[A-Za-z][A-Za-z0-9]{0,39}$/, 'names a setting, such as hall.decay')
  .describe('Id of a stage, branch or modulator, a point, and the parameter.');
const bend = z.number().min(-1).max(1).default(0).describe('0 straight; above 0 it hurries at the end.');

function schemaOfModulator(modulator: Modulator) {
  return z
    .strictObject({
      id: idSchema,
      kind: z.literal(modulator.kind),
      name: z.string().max(80).default(''),
      on: z.boolean().default(true),
      note: z.string().max(2000).default(''),
      settings: settingsSchema(modulator.params),
    })
    .describe(modulator.summary);
}

export const routeSchema = z.strictObject({
  id: idSchema,
  from: z.string().max(40).describe('Id of a modulator, or of a control of the panel.'),
  to: targetSchema,
  on: z.boolean().default(true),
  depth: z.number().min(-1).max(1).default(0.25).describe('Shares of the scale of what is moved.'),
  polarity: z.enum(['both', 'up']).default('both').describe('Around the setting, or up from it.'),
  bend,
  smoothing: timeSchema(0, 10).default(0),
});

export const laneSchema = z.strictObject({
  target: targetSchema,
  on: z.boolean().default(true),
  curve: curveSchema(-1e6, 1e6).describe('In the canonical unit of its target; a switch is on from 0.5 on.'),
});

export const controlSchema = z.strictObject({
  id: idSchema,
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
    .array(z.strictObject({ target: targetSchema, from: z.unknown(), to: z.unknown(), bend }))
    .max(LIMITS.driven)
    .default([])
    .describe('From and to: what the parameter is at the least and the most.'),
});

type KindSchema = z.ZodObject<{ kind: z.ZodLiteral<string> }>;
export const modulatorSchema = z.discriminatedUnion(
  'kind',
  MODULATORS.map(schemaOfModulator) as unknown as [KindSchema, ...KindSchema[]],
);
