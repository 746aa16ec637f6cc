/** What a chain file may hold for each kind of parameter. Apart from the parameters, so that the engine does without it. */
import { z } from 'zod';
import { LIMITS } from '../limits.ts';
import { NOTE_PATTERN } from '../timing/tempo.ts';
import type { Param, SettingValue } from './params.ts';

const length = z.number().positive().max(100_000);
const note = z.string().regex(NOTE_PATTERN, 'write a note value as 1/4, 1/8d (dotted) or 1/8t (triplet)');
const musical = [
  z.strictObject({ note }),
  z.strictObject({ beats: length }),
  z.strictObject({ bars: length }),
] as const;

/** Schema of a time: seconds within the range, or a musical or counted length. */
export const timeSchema = (min: number, max: number) =>
  z.union([z.number().min(min).max(max), ...musical, z.strictObject({ samples: z.number().int().nonnegative() })]);

const soundSchema = z.strictObject({
  sound: z.string().max(LIMITS.nameLength).describe('Name of the sound; empty for none.'),
  sha256: z
    .string()
    .regex(/^[0-9a-f]{64}$/, 'is a SHA-256 in hexadecimal')
    .optional()
    .describe('Of the sound file; found by this where it is said, else by the name.'),
});
const branchId = z.string().max(40).optional().describe('Id of an earlier branch, instead of a sound.');

/** Schema of what a chain file may hold for this parameter. */
export function settingSchema(param: Param): z.ZodType<SettingValue> {
  switch (param.type) {
    case 'time':
      return timeSchema(param.min, param.max);
    case 'rate':
      return z.union([z.number().min(param.min).max(param.max), ...musical]);
    case 'choice':
      return z.enum(param.options as [string, ...string[]]);
    case 'toggle':
      return z.boolean();
    case 'sound':
      return param.branches ? soundSchema.extend({ branch: branchId }) : soundSchema;
    default:
      return z.number().min(param.min).max(param.max);
  }
}
