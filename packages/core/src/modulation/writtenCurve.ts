import { InputError, shortened } from '../model/errors.ts';
import { LIMITS } from '../model/limits.ts';
import { CURVE_UNITS, type Curve, type CurvePoint } from './curve.ts';

/** `clip 0:24 0.5:0~0.3 1:-24`: what the places count, then place:value and, where a segment is bent, ~bend. */
export function printCurve({ over, points }: Curve): string {
  const written = points.map(({ at, value, bend }) => `${at}:${value}${bend === 0 ? '' : `~${bend}`}`);
  return [over, ...written].join(' ');
}

const NUMBER = String.raw`[+-]?(?:\d+(?:\.\d*)?|\.\d+)(?:e[+-]?\d+)?`;
const POINT = new RegExp(`^(${NUMBER}):(${NUMBER})(?:~(${NUMBER}))?$`, 'i');

/** InputError for a written curve, list or row of notes that is longer than any can be. */
export function refuseLong(text: string): void {
  if (text.length > LIMITS.writtenLength)
    throw new InputError(
      `"${shortened(text)}" has ${text.length} characters; at most ${LIMITS.writtenLength} are allowed.`,
    );
}

/** Reads what `printCurve` writes; without a unit the places are shares of the clip. */
export function parseCurve(text: string): Curve {
  refuseLong(text);
  const words = text.replaceAll('\u2212', '-').trim().split(/\s+/);
  const named = CURVE_UNITS.find((unit) => unit === words[0].toLowerCase());
  const points = words.slice(named ? 1 : 0).map((word): CurvePoint => {
    const match = POINT.exec(word);
    if (!match)
      throw new InputError(
        `"${shortened(word)}" is not a breakpoint; write place:value with spaces between, such as "clip 0:24 1:-24", over clip, seconds or beats.`,
      );
    return { at: Number(match[1]), value: Number(match[2]), bend: Number(match[3] ?? 0) };
  });
  if (points.length === 0) throw new InputError('A curve needs a breakpoint, such as "clip 0:24 1:-24".');
  return { over: named ?? 'clip', points: points.sort((a, b) => a.at - b.at) };
}
