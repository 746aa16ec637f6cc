/** What a chain file may hold for each kind of parameter. Apart from the parameters, so that the engine does without it. */
import { z } from 'zod';
import { once } from '../model/once.ts';
import { CURVE_UNITS, MOST_POINTS } from '../modulation/curve.ts';
import { MOST_NOTES } from '../modulation/notes.ts';
import { LIMITS } from '../model/limits.ts';
import { NOTE_PATTERN } from '../timing/tempo.ts';
import type { Param, Params, SettingValue } from './params.ts';

/** A length that follows the tempo. */
const musical = once(() => {
  const length = z.number().positive().max(100_000);
  return z
    .union([
      z.strictObject({
        note: z.string().regex(NOTE_PATTERN, 'write a note value as 1/4, 1/8d (dotted) or 1/8t (triplet)'),
      }),
      z.strictObject({ beats: length }),
      z.strictObject({ bars: length }),
    ])
    .meta({ id: 'musical' });
});
const counted = once(() => z.strictObject({ samples: z.number().int().nonnegative() }).meta({ id: 'samples' }));

/** Schema of a time: seconds within the range, or a musical or counted length. */
export const timeSchema = (min: number, max: number) => z.union([z.number().min(min).max(max), musical(), counted()]);

/** Of what stands for a sound in a chain. */
export const soundSchema = once(() =>
  z
    .strictObject({
      sound: z.string().max(LIMITS.nameLength).describe('Name of the sound; empty for none.'),
      sha256: z
        .string()
        .regex(/^[0-9a-f]{64}$/, 'is a SHA-256 in hexadecimal')
        .optional()
        .describe('Of the sound file; found by this where it is said, else by the name.'),
    })
    .meta({ id: 'sound' }),
);

/** The same, or an earlier branch instead. */
const soundOrBranchSchema = once(() =>
  soundSchema()
    .extend({ branch: z.string().max(40).optional().describe('Id of an earlier branch, instead of a sound.') })
    .meta({ id: 'soundOrBranch' }),
);

const pointSchema = (min: number, max: number) =>
  z.strictObject({
    at: z.number().min(0).max(LIMITS.soundSeconds).describe('Share of the clip, seconds or beats.'),
    value: z.number().min(min).max(max),
    bend: z.number().min(-1).max(1).default(0).describe('0 straight; above 0 it hurries at the end.'),
  });

/** Schema of a curve whose values lie in a range. */
export const curveSchema = (min: number, max: number) =>
  z
    .strictObject({
      over: z.enum(CURVE_UNITS).default('clip').describe('What the places of the points count.'),
      points: z.array(pointSchema(min, max)).min(1).max(MOST_POINTS),
    })
    .refine(
      ({ points }) => points.every(({ at }, n) => n === 0 || at >= points[n - 1].at),
      'its points go back in time',
    )
    .refine(({ over, points }) => over !== 'clip' || (points.at(-1)?.at ?? 0) <= 1, 'shares of the clip end at 1');

/** Of played notes. */
export const notesSchema = once(() => {
  const share = z.number().min(0).max(1);
  const note = z.strictObject({
    at: z.number().min(0).max(100_000).describe('Beats'),
    length: z.number().min(0).max(100_000).describe('Beats'),
    key: z.number().min(0).max(127),
    velocity: share.default(1),
    pressure: share.default(0),
  });
  return z.array(note).max(MOST_NOTES);
});

/** Schema of what a chain file may hold for this parameter. */
export function settingSchema(param: Param): z.ZodType<SettingValue> {
  switch (param.type) {
    case 'time':
      return timeSchema(param.min, param.max);
    case 'rate':
      return z.union([z.number().min(param.min).max(param.max), musical()]);
    case 'choice':
      return z.enum(param.options as [string, ...string[]]);
    case 'toggle':
      return z.boolean();
    case 'sound':
      return param.branches ? soundOrBranchSchema() : soundSchema();
    case 'curve':
      return curveSchema(param.min, param.max);
    case 'notes':
      return notesSchema();
    case 'list': {
      const entry = z.number().min(param.min).max(param.max);
      return z.array(param.unit === 'whole' ? entry.int() : entry).max(param.most);
    }
    default:
      return z.number().min(param.min).max(param.max);
  }
}

type Settings = Record<string, SettingValue>;
const known = new WeakMap<Params, z.ZodType<Settings>>();

/** What may be set for some parameters; what is left out has its default. Made once for each. */
export function settingsSchema(params: Params): z.ZodType<Settings> {
  const there = known.get(params);
  if (there) return there;
  const settings: Record<string, z.ZodType<SettingValue>> = {};
  for (const [key, param] of Object.entries(params))
    settings[key] = settingSchema(param).default(param.default).describe(param.doc);
  const made = z.strictObject(settings) as unknown as z.ZodType<Settings>;
  known.set(params, made);
  return made;
}
