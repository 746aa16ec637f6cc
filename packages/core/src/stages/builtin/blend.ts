import { exp, log } from '../../dsp/portableMath.ts';
import { noteInWholes, type Timing } from '../../timing/tempo.ts';
import { toCanonical, toPlace } from '../../params/paramScale.ts';
import { isScaled, resolveSetting, type Param, type SettingValue } from '../../params/params.ts';

const REFERENCE_RATE = 48000;
/** Digits that a value between two others is kept with: finer than is heard, and still read at a glance. */
const DIGITS = 4;

/**
 * A setting on the way from one to another, along the parameter's scale; 0 gives the first, 1 the second. Two musical
 * lengths stay musical. Words and switches change half-way, words through those that stand between them in the list.
 * What has no way between (sounds, curves, rows) changes half-way.
 */
export function blendSettings(
  param: Param,
  from: SettingValue,
  to: SettingValue,
  share: number,
  timing: Timing,
): SettingValue {
  if (share <= 0 || JSON.stringify(from) === JSON.stringify(to)) return from;
  if (share >= 1) return to;
  if (param.type === 'choice') {
    const first = param.options.indexOf(from as string);
    const last = param.options.indexOf(to as string);
    return param.options[Math.round(first + (last - first) * share)];
  }
  if (!isScaled(param)) return share < 0.5 ? from : to;
  const lengths = [wholeNotes(from, timing), wholeNotes(to, timing)];
  if (lengths[0] !== undefined && lengths[1] !== undefined) {
    const length = lengths[0] * exp(share * log(lengths[1] / lengths[0]));
    return { beats: Number((length * timing.meter[1]).toPrecision(DIGITS)) };
  }
  const place = (value: SettingValue) => toPlace(param, resolveSetting(param, value, timing, REFERENCE_RATE) as number);
  const start = place(from);
  const value = toCanonical(param, start + (place(to) - start) * share);
  return Number(value.toPrecision(DIGITS));
}

/** Length of a musical value in whole notes; undefined for one that does not follow the tempo. */
export function wholeNotes(value: SettingValue, { meter }: Timing): number | undefined {
  if (typeof value !== 'object') return undefined;
  if ('note' in value) return noteInWholes(value.note);
  if ('beats' in value) return value.beats / meter[1];
  if ('bars' in value) return (value.bars * meter[0]) / meter[1];
  return undefined;
}
