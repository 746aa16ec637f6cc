/** Panel, modulators, routes and lanes of a chain document. */
import * as z from 'zod';
import { LIMITS } from '../model/limits.ts';
import { once } from '../model/once.ts';
import type { DeepReadonly } from '../model/readonly.ts';
import { curveSchema, timeSchema } from '../params/paramSchema.ts';
import type { SettingValue } from '../params/params.ts';
import { openObject } from './openObject.ts';

/** What a stage, branch, modulator, route or control goes by in a chain. */
export const idSchema = once(() =>
  z
    .string()
    .regex(/^[A-Za-z][A-Za-z0-9_-]{0,39}$/, 'starts with a letter and has up to 40 letters, digits, - or _')
    .describe('Unique in the chain; names the stage in --set and in messages.'),
);

/** Names a setting: whose it is, and which. */
export const targetSchema = once(() =>
  z
    .string()
    .regex(/^[A-Za-z][A-Za-z0-9_-]{0,39}\.[A-Za-z][A-Za-z0-9]{0,39}$/, 'names a setting, such as hall.decay')
    .describe('Id of a stage, branch or modulator, a point, and the parameter.'),
);

const bend = () => z.number().min(-1).max(1).default(0).describe('0 straight; above 0 it hurries at the end.');

/** What stands in `settings` before their definition is asked. */
export const looseSettings = () => z.record(z.string(), z.unknown()).default({});

export const modulatorSchema = once(() =>
  openObject(
    {
      id: idSchema(),
      kind: z.string().max(80),
      name: z.string().max(80).default('').describe('The designer’s own name for it; empty: what its kind is called.'),
      on: z.boolean().default(true),
      note: z.string().max(2000).default(''),
      settings: looseSettings(),
    },
    'modulator',
  ),
);

export type Settings = Readonly<Record<string, SettingValue>>;

export type ModulatorDocument = Omit<DeepReadonly<z.output<ReturnType<typeof modulatorSchema>>>, 'settings'> & {
  readonly settings: Settings;
};

export const routeSchema = once(() =>
  openObject({
    id: idSchema(),
    from: z.string().max(40).describe('Id of a modulator, or of a control of the panel.'),
    to: targetSchema().describe('What is moved: `hall.decay`.'),
    on: z.boolean().default(true),
    depth: z.number().min(-1).max(1).default(0.25).describe('Shares of the scale of what is moved.'),
    polarity: z.enum(['both', 'up']).default('both').describe('Around the setting, or up from it.'),
    bend: bend(),
    smoothing: timeSchema(0, 10).default(0),
  }),
);

/** A modulator, or a control of the panel, moves something. */
export type Route = DeepReadonly<z.output<ReturnType<typeof routeSchema>>>;

export const laneSchema = once(() =>
  openObject({
    target: targetSchema(),
    on: z.boolean().default(true),
    curve: curveSchema(-1e6, 1e6).describe('In the canonical unit of its target; a switch is on from 0.5 on.'),
  }),
);

/** A breakpoint curve in place of a setting. */
export type LaneDocument = DeepReadonly<z.output<ReturnType<typeof laneSchema>>>;

const drivenSchema = once(() =>
  openObject({
    target: targetSchema(),
    from: z.unknown().describe('What the parameter is when the control stands at its least.'),
    to: z.unknown().describe('What it is at the most.'),
    bend: bend(),
  }),
);

/** What a control of the panel does to one parameter. */
export type Driven = Omit<DeepReadonly<z.output<ReturnType<typeof drivenSchema>>>, 'from' | 'to'> & {
  readonly from: SettingValue;
  readonly to: SettingValue;
};

export const controlSchema = once(() =>
  openObject({
    id: idSchema(),
    name: z.string().trim().min(1).max(40),
    group: z.string().max(40).default('').describe('Controls of one group stand together.'),
    note: z.string().max(2000).default('').describe('What it does, for those who use the chain.'),
    unit: z.string().max(12).default('%'),
    min: z.number().min(-1e6).max(1e6).default(0),
    max: z.number().min(-1e6).max(1e6).default(100),
    bend: bend().describe('How its numbers spread over its way, as the bend of a curve.'),
    step: z
      .number()
      .min(0)
      .max(1e6)
      .default(0)
      .describe('It stands on multiples of this, counted from its least; 0: anywhere.'),
    default: z.number(),
    value: z.number(),
    words: z
      .array(z.string().min(1).max(24))
      .max(24)
      .default([])
      .describe('Shown instead of the number, evenly spread.'),
    locked: z.boolean().default(false).describe('Kept as it is when settings are drawn at random.'),
    drives: z.array(drivenSchema()).max(LIMITS.driven).default([]),
  }),
);

/** One of the few controls that a chain shows to its users. */
export type ControlDocument = Omit<DeepReadonly<z.output<ReturnType<typeof controlSchema>>>, 'drives'> & {
  readonly drives: readonly Driven[];
};
