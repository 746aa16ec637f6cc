/** Settings on their row's scale: the value of a place in the kind of unit it is written in, and steps along it. */
import { REFERENCE_RATE } from '../timing/tempo.ts';
import { log } from '../dsp/portableMath.ts';
import type { Timing } from '../timing/tempo.ts';
import { toCanonical, toPlace } from './types/paramScale.ts';
import { resolveSetting, type ScaledParam, type SettingValue } from './params.ts';

/** The value in its canonical unit. */
export function canonical(param: ScaledParam, value: SettingValue, timing: Timing): number {
  return resolveSetting(param, value, timing, REFERENCE_RATE) as number;
}

const NOTES = [64, 32, 16, 8, 4, 2, 1].flatMap((part) => [`1/${part}t`, `1/${part}`, `1/${part}d`]);

/** The setting at a place, in the kind of unit that `like` is written in: beats stay beats, seconds stay seconds. */
export function settingAt(param: ScaledParam, place: number, like: SettingValue, timing: Timing): SettingValue {
  const target = toCanonical(param, place);
  if (typeof like === 'object') {
    const seconds = param.type === 'rate' ? 1 / target : target;
    const unit = (value: SettingValue) => {
      const resolved = canonical(param, value, timing);
      return param.type === 'rate' ? 1 / resolved : resolved;
    };
    if ('samples' in like) return { samples: Math.round(seconds * REFERENCE_RATE) };
    const inRange = (value: SettingValue) => {
      const resolved = canonical(param, value, timing);
      return resolved >= param.min && resolved <= param.max;
    };
    if ('note' in like) {
      const notes = NOTES.filter((note) => inRange({ note }));
      const nearest = notes.sort(
        (a, b) => distance(unit({ note: a }), seconds) - distance(unit({ note: b }), seconds),
      )[0];
      return nearest === undefined ? like : { note: nearest };
    }
    const key = 'beats' in like ? 'beats' : 'bars';
    const one = unit({ [key]: 1 } as SettingValue);
    const counted = { [key]: Math.max(0.25, Math.round((seconds / one) * 4) / 4) } as SettingValue;
    return inRange(counted) ? counted : like;
  }
  return Math.max(param.min, Math.min(param.max, roundForReading(param, target)));
}

function distance(a: number, b: number): number {
  return Math.abs(log(a / b));
}

function roundForReading(param: ScaledParam, value: number): number {
  if (param.type === 'ratio') return Math.round(value * 100) / 100;
  if (param.type === 'level' || param.type === 'semitones') return Math.round(value * 10) / 10;
  return Number(value.toPrecision(3));
}

/** One step up or down the scale: a hundredth of it, or the next neighbour where values are counted. */
export function stepped(param: ScaledParam, value: SettingValue, steps: number, timing: Timing): SettingValue {
  const place = toPlace(param, canonical(param, value, timing));
  for (let size = 1; size <= 40; size++) {
    const next = settingAt(param, place + (steps * size) / 100, value, timing);
    if (JSON.stringify(next) !== JSON.stringify(value)) return next;
  }
  return value;
}
