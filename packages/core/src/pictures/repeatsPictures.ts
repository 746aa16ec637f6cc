/** Repeats over the beat. */
import { decibelsToGain, exp, log } from '../dsp/portableMath.ts';
import { allStages } from '../chain/branches.ts';
import { type StageDocument } from '../chain/schema.ts';
import { resolveTime } from '../timing/tempo.ts';
import { type Timing } from '../timing/tempo.ts';
import type { Repeat, StagePicture } from './model.ts';
import type { Numbers, Words } from './values.ts';
import { RATE } from './values.ts';

const MOST_REPEATS = 48;

const QUIETEST_REPEAT = 0.004;

export function echoPicture(values: Numbers & Words, stage: StageDocument, timing: Timing): StagePicture {
  const beat = resolveTime({ beats: 1 }, timing, RATE);
  const first = values['time'];
  const second = values['layout'] === 'single' ? first : values['secondTime'];
  // What the stages in the loop transpose by adds up with every pass.
  const inside = (stage.branches ?? []).flatMap((branch) => allStages(branch.stages).map((placed) => placed.stage));
  const step = inside
    .filter(({ kind, on }) => kind === 'transpose' && on)
    .reduce((sum, { settings }) => sum + Number(settings['interval']) + Number(settings['cents']) / 100, 0);
  const repeats: Repeat[] = [];
  const add = (at: number, n: number, pan: number) =>
    repeats.push({
      at,
      level: Math.min(1.5, exp(log(Math.max(1e-6, values['feedback'])) * (n - 1))),
      pan,
      pitch: step * n,
    });
  const apart = values['layout'] === 'single' ? 0 : values['layout'] === 'middle/sides' ? 0.4 : 1;
  for (let n = 1; n <= MOST_REPEATS; n++) {
    if (n > 1 && exp(log(Math.max(1e-6, values['feedback'])) * (n - 1)) < QUIETEST_REPEAT) break;
    if (values['layout'] === 'single') add(n * first, n, 0);
    else if (values['layout'] === 'crossed') {
      // From side to side: each way round takes one time and then the other.
      const pair = Math.floor(n / 2) * (first + second);
      add(pair + (n % 2) * first, n, n % 2 === 1 ? -apart : apart);
      add(pair + (n % 2) * second, n, n % 2 === 1 ? apart : -apart);
    } else {
      add(n * first, n, -apart);
      add(n * second, n, apart);
    }
  }
  return repeatsPicture('Repeats over the beat', repeats, beat, values['ducking'], values['recovery']);
}

export function repeatsPicture(
  title: string,
  repeats: readonly Repeat[],
  beat: number,
  ducking: number,
  recovery: number,
): StagePicture {
  const last = Math.max(beat, ...repeats.filter(({ level }) => level > 0.02).map(({ at }) => at));
  const seconds = Math.ceil(Math.min(last * 1.05, 16 * beat) / beat) * beat;
  return {
    type: 'repeats',
    title,
    repeats: repeats.filter(({ at }) => at <= seconds),
    seconds,
    beat,
    ducking,
    recovery,
  };
}

export function pitchEchoPicture(values: Numbers, timing: Timing): StagePicture {
  const repeats: Repeat[] = [];
  for (let n = 1; n <= MOST_REPEATS; n++) {
    const level = n === 1 ? 1 : exp(log(Math.max(1e-6, values['feedback'])) * (n - 1));
    if (level < QUIETEST_REPEAT) break;
    repeats.push({ at: n * values['time'], level, pan: 0, pitch: n * (values['interval'] + values['cents'] / 100) });
  }
  return repeatsPicture('Repeats over the beat, by pitch', repeats, resolveTime({ beats: 1 }, timing, RATE), 0, 0);
}

export function stutterPicture(values: Numbers, timing: Timing): StagePicture {
  const beat = resolveTime({ beats: 1 }, timing, RATE);
  const repeats = Array.from({ length: Math.round(values['repeats']) }, (_, n): Repeat => ({
    at: (n + 1) * values['slice'],
    level: decibelsToGain((n + 1) * values['levelStep']),
    pan: 0,
    pitch: (n + 1) * values['pitchStep'],
  }));
  return repeatsPicture('A slice and its repeats over the beat', repeats, beat, 0, 0);
}
