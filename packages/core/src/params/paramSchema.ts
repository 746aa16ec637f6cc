/** What a chain file may hold for each parameter. Apart from the parameters, so that the engine does without it. */
import { array, boolean, enum as choice, number, strictObject, string, union, type ZodType } from 'zod';
import type { Param, Params, Settings, SettingValue } from './params.ts';
import { curveSchemaOf } from './types/curve.ts';
import { typeOf } from './types/index.ts';
import { timeSchemaOf } from './types/musical.ts';
import { playedNotesSchema } from './types/notes.ts';
import { soundRefSchema } from './types/sound.ts';

// One by one: handed in as a whole, the library comes along with all its languages.
const SCHEMAS = { array, boolean, enum: choice, number, strictObject, string, union };

/** Seconds within the range, or a musical or counted length. */
export const timeSchema = (min: number, max: number) => timeSchemaOf(SCHEMAS, min, max);
/** A curve whose values lie in a range. */
export const curveSchema = (min: number, max: number) => curveSchemaOf(SCHEMAS, min, max);
/** What stands for a sound in a chain. */
export const soundSchema = () => soundRefSchema(SCHEMAS);
/** Played notes. */
export const notesSchema = () => playedNotesSchema(SCHEMAS);

/** Schema of what a chain file may hold for this parameter. */
export function settingSchema(param: Param): ZodType<SettingValue> {
  return typeOf(param).schema(param, SCHEMAS) as ZodType<SettingValue>;
}

const known = new WeakMap<Params, ZodType<Settings>>();

/** What may be set for some parameters; what is left out has its default. Made once for each. */
export function settingsSchema(params: Params): ZodType<Settings> {
  const there = known.get(params);
  if (there) return there;
  const settings: Record<string, ZodType<SettingValue>> = {};
  for (const [key, param] of Object.entries(params))
    settings[key] = settingSchema(param).default(param.default).describe(param.doc);
  const made = strictObject(settings) as unknown as ZodType<Settings>;
  known.set(params, made);
  return made;
}
