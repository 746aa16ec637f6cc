import { InputError, shortened } from '../model/errors.ts';
import { LIMITS } from '../model/limits.ts';
import { CURVE_UNITS, type Curve, type CurvePoint } from './curve.ts';
import { MOST_CYCLES, SHAPES, type Shape, type Stamp } from './stamp.ts';

/**
 * `clip 0:24 0.5:0~0.3 1:-24`: what the places count, then place:value and, where a segment is bent, ~bend. A shape is
 * written by its name: `sine(0,0.5,0,-12,4,1)` goes from place 0 to 0.5, from 0 to −12, in four cycles, by seed 1.
 */
export function printCurve({ over, points, shapes = [] }: Curve): string {
  const drawn = shapes.map(({ shape, start, end, from, to, cycles, seed }): readonly [number, string] => [
    start,
    `${shape}(${[start, end, from, to, cycles, seed].join()})`,
  ]);
  const written = points.map(({ at, value, bend }): readonly [number, string] => [
    at,
    `${at}:${value}${bend === 0 ? '' : `~${bend}`}`,
  ]);
  const inOrder = [...written, ...drawn].sort(([a], [b]) => a - b);
  return [over, ...inOrder.map(([, text]) => text)].join(' ');
}

const NUMBER = String.raw`[+-]?(?:\d+(?:\.\d*)?|\.\d+)(?:e[+-]?\d+)?`;
const SHAPE = new RegExp(`^(${SHAPES.join('|')})\\((${NUMBER}(?:,${NUMBER}){3,5})\\)$`, 'i');
const POINT = new RegExp(`^(${NUMBER}):(${NUMBER})(?:~(${NUMBER}))?$`, 'i');

/** InputError for a written curve, list or row of notes that is longer than any can be. */
export function refuseLong(text: string): void {
  if (text.length > LIMITS.writtenLength)
    throw new InputError(
      `"${shortened(text)}" has ${text.length} characters; at most ${LIMITS.writtenLength} are allowed.`,
    );
}

function refuseShape(stamp: Stamp, before: Stamp | undefined): void {
  const written = printCurve({ over: 'clip', points: [], shapes: [stamp] }).replace('clip ', '');
  if (stamp.end <= stamp.start)
    throw new InputError(`${written} ends before it begins; write where it begins, then where it ends.`);
  if (before && stamp.start < before.end)
    throw new InputError(
      `${written} begins before the ${before.shape} ends, at ${before.end}; shapes lie beside each other.`,
    );
  if (!Number.isInteger(stamp.cycles) || stamp.cycles < 1 || stamp.cycles > MOST_CYCLES)
    throw new InputError(`${written} goes ${stamp.cycles} times; write a whole number from 1 to ${MOST_CYCLES}.`);
}

/** Reads what `printCurve` writes; without a unit the places are shares of the clip. */
export function parseCurve(text: string): Curve {
  refuseLong(text);
  const words = text.replaceAll('\u2212', '-').trim().split(/\s+/);
  const named = CURVE_UNITS.find((unit) => unit === words[0].toLowerCase());
  const shapes: Stamp[] = [];
  const points = words.slice(named ? 1 : 0).flatMap((word): CurvePoint[] => {
    const drawn = SHAPE.exec(word);
    if (drawn) {
      const [start, end, from, to, cycles = 1, seed = 1] = drawn[2].split(',').map(Number);
      shapes.push({ shape: drawn[1].toLowerCase() as Shape, start, end, from, to, cycles, seed });
      return [];
    }
    const match = POINT.exec(word);
    if (!match)
      throw new InputError(
        `"${shortened(word)}" is not a breakpoint; write place:value with spaces between, such as "clip 0:24 1:-24", over clip, seconds or beats, or a shape such as sine(0,1,0,12,4).`,
      );
    return [{ at: Number(match[1]), value: Number(match[2]), bend: Number(match[3] ?? 0) }];
  });
  if (points.length + shapes.length === 0)
    throw new InputError('A curve needs a breakpoint, such as "clip 0:24 1:-24".');
  const over = named ?? 'clip';
  points.sort((a, b) => a.at - b.at);
  shapes.sort((a, b) => a.start - b.start);
  shapes.forEach((stamp, n) => refuseShape(stamp, shapes[n - 1]));
  return shapes.length === 0 ? { over, points } : { over, points, shapes };
}
