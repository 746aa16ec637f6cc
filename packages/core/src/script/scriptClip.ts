import { InputError } from '../model/errors.ts';
import type { Clip, Span } from '../model/clip.ts';
import type { Params } from '../params/params.ts';
import type { Random } from '../dsp/random.ts';
import type { ClipWork, ResolvedValues } from '../stages/contract.ts';
import type { ScriptHeader } from './header.ts';
import { clipExtent } from './clipExtent.ts';
import type { PreparedScript } from './scriptRuntime.ts';
import { instanceOf } from './scriptInstance.ts';

/** Steps for each frame of each channel that comes in or goes out, and those that are there for all. */
const STEPS_A_FRAME = 10_000;
const STEPS_FOR_ALL = 1e7;
const PAGE = 65_536;
/** Steps between two rests, and those that functions of a script may take from one rest to the next: they do not rest. */
const STEPS_A_REST = 2e7;
const STEPS_AT_ONCE = 2e9;
/** What comes out is held within it. */
const MOST = 64;

/**
 * What a script makes of a whole clip; what it says is done is the share of the samples that were written, or of the steps that
 * were taken, whichever is more. InputError where it works too long, where what comes out is no number, and as for
 * `clipExtent`.
 */
export function* transformClip(
  prepared: PreparedScript,
  header: ScriptHeader,
  clip: Clip,
  values: ResolvedValues<Params>,
  { span, random, onHeld }: { readonly span: Span; readonly random: Random; readonly onHeld?: () => void },
): ClipWork {
  const { facts } = prepared;
  const { sampleRate, channels } = clip;
  const frames = channels[0].length;
  const sides = channels.length;
  const sound = {
    'sound.frames': frames,
    'sound.sides': sides,
    'sound.start': span.start - clip.origin,
    'sound.end': span.end - clip.origin,
    sampleRate,
  };
  const extent = clipExtent(header, values, sound);
  const places = facts.clip!;
  const exports = instanceOf(prepared);
  const begins = facts.bytesOfMemory;
  const outBegins = begins + 4 * sides * frames;
  const needed = outBegins + 4 * sides * extent.frames;
  const there = exports.memory.buffer.byteLength;
  if (needed > there) exports.memory.grow(Math.ceil((needed - there) / PAGE));
  const { buffer } = exports.memory;
  const set = (address: number, value: number) => (new Float64Array(buffer, address, 1)[0] = value);
  set(places.frames, frames);
  set(places.sides, sides);
  set(places.start, sound['sound.start']);
  set(places.end, sound['sound.end']);
  set(places.outFrames, extent.frames);
  for (const [key, address] of Object.entries(facts.settings)) set(address, settingOf(header.params, key, values[key]));
  [exports.base.value] = facts.bases;
  if (facts.noise !== undefined) set(facts.bases[0] + facts.noise, 1 + Math.floor(random() * 4294967294));
  exports.sound.value = begins | 0;
  exports.out.value = outBegins | 0;
  channels.forEach((samples, side) => new Float32Array(buffer, begins + 4 * side * frames, frames).set(samples));
  const allowed = STEPS_FOR_ALL + STEPS_A_FRAME * sides * Math.max(frames, extent.frames);
  const samples = sides * extent.frames;
  exports.steps.value = allowed;
  do {
    const left = exports.steps.value;
    if (left < allowed) yield Math.min(0.99, Math.max(exports.written.value / samples, 1 - left / allowed));
    exports.rest.value = Math.max(0, left - STEPS_A_REST);
    exports.limit.value = Math.max(0, left - STEPS_AT_ONCE);
    exports.clip();
  } while (exports.resting.value !== 0);
  if (exports.late.value !== 0)
    throw new InputError(
      `“${header.title}” works too long (line ${exports.late.value} of its text): more than ${
        exports.steps.value < 0
          ? `${STEPS_A_FRAME.toLocaleString('en')} steps for each frame of each channel`
          : `${STEPS_AT_ONCE / 1e9} billion steps in a function; what takes longer stands in clip itself`
      }.`,
    );
  const made = channels.map((_, side) =>
    new Float32Array(buffer, outBegins + 4 * side * extent.frames, extent.frames).slice(),
  );
  let held = false;
  for (const samples of made)
    for (let n = 0; n < samples.length; n++) {
      if (!Number.isFinite(samples[n]))
        throw new InputError(`“${header.title}” came to a value that is no number, at frame ${n}.`);
      if (Math.abs(samples[n]) <= MOST) continue;
      samples[n] = Math.max(-MOST, Math.min(MOST, samples[n]));
      held = true;
    }
  if (held) onHeld?.();
  return { sampleRate, origin: clip.origin + extent.origin, channels: made };
}

function settingOf(params: Params, key: string, value: unknown): number {
  const param = params[key];
  if (param.type === 'choice') return param.options.indexOf(value as string);
  return Number(value);
}
