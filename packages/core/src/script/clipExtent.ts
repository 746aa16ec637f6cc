import { InputError } from '../model/errors.ts';
import type { Params } from '../params/params.ts';
import type { ResolvedValues } from '../stages/contract.ts';
import type { ScriptHeader } from './header.ts';
import { valueOf } from './headerValue.ts';

/** Seconds of a clip that comes out at the most. */
const LONGEST = 600;
/** What is known of a clip before it is worked on: `sound.frames` and the like. */
export type SoundFacts = Readonly<
  Record<'sound.frames' | 'sound.sides' | 'sound.start' | 'sound.end' | 'sampleRate', number>
>;

/** How many frames come out of a script, and where they begin. InputError for what is too long, or nothing. */
export function clipExtent(
  { title, frames, origin }: ScriptHeader,
  values: ResolvedValues<Params>,
  facts: SoundFacts,
): { readonly frames: number; readonly origin: number } {
  const known = { ...values, ...facts };
  const count = frames === undefined ? facts['sound.frames'] : Math.round(Number(valueOf(frames, known)));
  const most = LONGEST * facts.sampleRate;
  if (!(count >= 1 && count <= most))
    throw new InputError(
      `“${title}” would make a clip of ${count} frames; allowed is 1 to ${most} (${LONGEST / 60} minutes).`,
    );
  const begins = origin === undefined ? 0 : Math.round(Number(valueOf(origin, known)));
  if (!Number.isFinite(begins)) throw new InputError(`“${title}” would begin nowhere: its origin is ${begins}.`);
  return { frames: count, origin: begins };
}
