/** What a chain file may hold for each parameter. Apart from the parameters, so that the engine does without it. */
import { z } from 'zod';
import type { Param, Params, Settings, SettingValue } from './params.ts';
import { curveSchemaOf } from './types/curve.ts';
import { typeOf } from './types/index.ts';
import { timeSchemaOf } from './types/musical.ts';
import { playedNotesSchema } from './types/notes.ts';
import { soundRefSchema } from './types/sound.ts';

/** Seconds within the range, or a musical or counted length. */
export const timeSchema = (min: number, max: number) => timeSchemaOf(z, min, max);
/** A curve whose values lie in a range. */
export const curveSchema = (min: number, max: number) => curveSchemaOf(z, min, max);
/** What stands for a sound in a chain. */
export const soundSchema = () => soundRefSchema(z);
/** Played notes. */
export const notesSchema = () => playedNotesSchema(z);

/** Schema of what a chain file may hold for this parameter. */
export function settingSchema(param: Param): z.ZodType<SettingValue> {
  return typeOf(param).schema(param, z) as z.ZodType<SettingValue>;
}

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
