/** No stage makes a sound louder than it says. */
import { BUILT_INS } from '../../catalogue/builtIns.ts';
import fc from 'fast-check';
import { describe, test } from 'vitest';
import { integratedLoudness } from '../../analysis/loudness.ts';
import { frameCount, type Clip } from '../../model/clip.ts';
import { InputError } from '../../model/errors.ts';
import type { ChainDocument } from '../../chain/schema.ts';
import { planStages } from '../../engine/plan/plan.ts';
import { chainOf, renderOf } from '../../testing/chains.ts';
import { runs } from '../../testing/long.ts';
import { TRIED_SOUNDS, tried } from '../../testing/music.ts';
import { TRIAL_BANK } from '../../testing/trialSounds.ts';
import type { ResolvedValues, Stage } from '../contract.ts';
import { toCanonical } from '../../params/types/paramScale.ts';
import { isScaled, type Param, type Params } from '../../params/params.ts';

const LUFS = -18;
/** LU by which a sound may be louder than a stage says. */
const SLACK = 2;

/** Results longer than this are not tried. */
const MOST_SECONDS = 60;
const SOUNDS = ['Rattle', 'Hum', 'Deeper hum'];

function anySetting(param: Param): fc.Arbitrary<unknown> {
  if (param.type === 'toggle') return fc.boolean();
  if (param.type === 'choice') return fc.constantFrom(...param.options);
  if (param.type === 'sound') return fc.constantFrom(...SOUNDS).map((sound) => ({ sound }));
  if (!isScaled(param)) return fc.constant(param.default);
  const place = fc.oneof(
    { arbitrary: fc.constantFrom(0, 1), weight: 1 },
    { arbitrary: fc.integer({ min: 0, max: 1000 }).map((thousandths) => thousandths / 1000), weight: 3 },
  );
  return place.map((at) => toCanonical(param, at));
}

const tries = fc.record({
  sound: fc.constantFrom(...TRIED_SOUNDS),
  rate: fc.constantFrom(44100, 48000, 96000),
  sides: fc.constantFrom('mono', 'the same', 'apart'),
});

const heard = new Map<string, Clip>();

/** As it is heard: a mono sound comes out of both speakers. */
const loudness = (clip: Clip) =>
  integratedLoudness(clip.channels.length === 1 ? { ...clip, channels: [clip.channels[0], clip.channels[0]] } : clip);

/** One of the sounds at −18 LUFS; the right side, where there is one, the same or 7 ms late. */
function soundFor({ sound, rate, sides }: { sound: (typeof TRIED_SOUNDS)[number]; rate: number; sides: string }): Clip {
  const key = `${sound} ${rate} ${sides}`;
  const known = heard.get(key);
  if (known) return known;
  const mono = tried(sound, 2, rate, LUFS);
  const [left] = mono.channels;
  const late = Math.round(0.007 * rate);
  const right = sides === 'apart' ? left.map((_, i) => (i < late ? 0 : left[i - late])) : left;
  const both = { ...mono, channels: sides === 'mono' ? [left] : [left, right] };
  const gain = 10 ** ((LUFS - loudness(both)) / 20);
  const clip = { ...both, channels: both.channels.map((side) => side.map((x) => x * gain)) };
  heard.set(key, clip);
  return clip;
}

/** What comes out; undefined where the stage refuses to do that on a sound as short as this, or what comes is too long. */
function rendered(stage: Stage, chain: ChainDocument, clip: Clip, values: ResolvedValues<Params>): Clip | undefined {
  try {
    const frames = stage.runs === 'offline' ? stage.estimate?.(frameCount(clip), values, clip.sampleRate).frames : 0;
    return (frames ?? 0) > MOST_SECONDS * clip.sampleRate ? undefined : renderOf(chain, clip);
  } catch (error) {
    if (error instanceof InputError) return undefined;
    throw error;
  }
}

describe('no louder than it says', () => {
  test.each(BUILT_INS.stages.map((stage) => [stage.kind, stage] as const))('%s', (kind, stage) => {
    const settings = fc.record(
      Object.fromEntries(Object.entries(stage.params).map(([key, param]) => [key, anySetting(param)])),
    );
    fc.assert(
      fc.property(settings, tries, (set, drawn) => {
        const clip = soundFor(drawn);
        const chain = chainOf([{ kind, settings: set }]);
        const [planned] = planStages(BUILT_INS, chain, drawn.rate, TRIAL_BANK);
        const says = stage.mayRise?.most(planned.values, planned.sounds) ?? 0;
        const out = rendered(stage, chain, clip, planned.values);
        fc.pre(out !== undefined);
        const rise = loudness(out!) - LUFS;
        if (rise > says + SLACK)
          throw new Error(
            `${rise.toFixed(2)} LU louder, and says ${says.toFixed(2)}: ${JSON.stringify(planned.values)}`,
          );
      }),
      { numRuns: runs(4, 200), endOnFailure: true },
    );
  });
});
