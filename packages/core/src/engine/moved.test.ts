/** Every setting of every stage that can be moved, moved at 20 Hz over all of its scale. */
import { BUILT_INS } from '../catalogue/builtIns.ts';
import { describe, expect, test } from 'vitest';
import { targetsOf, type Target } from '../chain/targets.ts';
import { isScaled } from '../params/params.ts';
import { toCanonical } from '../params/types/paramScale.ts';
import { chainOf, renderOf } from '../testing/chains.ts';
import { noise, sine } from '../testing/signals.ts';
import { exemptionOf } from '../stages/contract.ts';
import { LONG } from '../testing/long.ts';
import { aboveBoth, decibels } from '../testing/spectrum.ts';
import { soundSettings } from '../testing/trialSounds.ts';

const RATE = 48000;
const TONE = sine(200, 0.5, 0.6, RATE, 2);
/** Moving through what a stage makes up there adds side bands of its own to it, dB. */
const SIDE_BANDS = 6;
/** How far from the ends its own edges are heard in the measuring filter. */
const EDGE = 4096;

/** Of parameters that are numbered and alike the first is tried; all when it may take long. */
const ALIKE = LONG ? /$^/ : /\D([2-9]|[1-3]\d)$/;

/** The stage with one setting as it is given. */
const withValue = (kind: string, key: string, value: unknown) => {
  const sounds = soundSettings(BUILT_INS.of({ kind }).params, 'Hum');
  return key === 'mix' || key === 'level'
    ? { kind, [key]: value, settings: sounds }
    : { kind, settings: { ...sounds, [key]: value } };
};

/** Highest sample above 8 kHz in dBFS, or below the peak where that is over full scale. */
function highsOf(chain: ReturnType<typeof chainOf>): number {
  const { channels } = renderOf(chain, TONE);
  const most = (side: ArrayLike<number>) => Array.from(side).reduce((size, x) => Math.max(size, Math.abs(x)), 0);
  const highs = aboveBoth([channels[0], channels[1]], 8000, RATE).map((side) =>
    side.subarray(EDGE, side.length - EDGE),
  );
  return decibels(Math.max(1e-12, ...highs.map(most)) / Math.max(1, ...channels.map(most)));
}

/** The most that the stage makes up there by itself, somewhere on the scale; looked for until it is `enough`. */
function ownHighs(kind: string, { key, param }: Target, enough: number): number {
  const places = Array.from({ length: 17 }, (_, n) => ((n * 7) % 17) / 16);
  const values = isScaled(param) ? places.map((place) => toCanonical(param, place)) : [false, true];
  let most = -Infinity;
  for (const value of values) {
    most = Math.max(most, highsOf(chainOf([withValue(kind, key, value)])));
    if (most + SIDE_BANDS > enough) break;
  }
  return most;
}

for (const { kind } of BUILT_INS.stages.filter(({ runs }) => runs === 'live')) {
  const targets = targetsOf(
    BUILT_INS,
    chainOf([{ kind, settings: soundSettings(BUILT_INS.of({ kind }).params, 'Hum') }]),
  ).filter(({ of, movable, key }) => of === 'stage' && movable && !ALIKE.test(key));
  test(`${kind}: moved at 20 Hz over their scales, ${targets.length} settings make no click`, () => {
    for (const target of targets) {
      const { key, param } = target;
      if (exemptionOf(BUILT_INS.of({ kind }), 'move', key)) continue;
      const scaled = isScaled(param);
      const chain = chainOf([withValue(kind, key, scaled ? toCanonical(param, 0.5) : false)], {
        modulators: [{ id: 'wave', kind: 'lfo', settings: { rate: 20 } }],
        routes: [{ id: 'r', from: 'wave', to: target.target, depth: 0.5, polarity: scaled ? 'both' : 'up' }],
      });
      const found = highsOf(chain);
      expect(Number.isFinite(found), `${key} is finite`).toBe(true);
      if (found > -60) expect(found, key).toBeLessThan(ownHighs(kind, target, found) + SIDE_BANDS);
    }
  });
}

describe('stages whose sides do not touch each other', () => {
  const [left, right] = noise(RATE / 10, RATE, 2).channels;
  for (const stage of BUILT_INS.stages)
    if (stage.runs === 'live' && stage.sidesApart)
      test(`${stage.kind}: one by one they give the same`, () => {
        const words = Object.entries(stage.params).flatMap(([key, param]) =>
          param.type === 'choice' ? param.options.map((option) => ({ [key]: option })) : [],
        );
        for (const settings of [{}, ...words]) {
          const chain = chainOf([
            { kind: stage.kind, settings: { ...soundSettings(stage.params, 'Rattle'), ...settings } },
          ]);
          const of = (...channels: Float32Array[]) =>
            renderOf(chain, { sampleRate: RATE, origin: 0, channels }).channels;
          expect(of(left, right)).toEqual([...of(left), ...of(right)]);
        }
      });
});
