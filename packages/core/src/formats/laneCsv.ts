/** Lanes as comma-separated values (RFC 4180): one breakpoint a line, after a line of names. */
import { breakpointsOf } from '../modulation/stampedShape.ts';
import { InputError, shortened } from '../model/errors.ts';
import { LIMITS } from '../model/limits.ts';
import { CURVE_UNITS, MOST_POINTS, type Curve, type CurvePoint } from '../modulation/curve.ts';

const COLUMNS = ['target', 'over', 'at', 'value', 'bend'] as const;

export interface NamedCurve {
  readonly target: string;
  readonly curve: Curve;
}

export function lanesToCsv(lanes: readonly NamedCurve[]): string {
  const rows = lanes.flatMap(({ target, curve }) =>
    breakpointsOf(curve).points.map(({ at, value, bend }) => [target, curve.over, at, value, bend].join(',')),
  );
  return `${[COLUMNS.join(','), ...rows].join('\r\n')}\r\n`;
}

/** Reads what `lanesToCsv` writes; columns in any order, bend may be left out. InputError names the line. */
export function lanesFromCsv(text: string): NamedCurve[] {
  if (text.length > LIMITS.csvBytes)
    throw new InputError(`The file has ${text.length} characters; at most ${LIMITS.csvBytes} (64 MiB) are allowed.`);
  const lines = text
    .replace(/^\uFEFF/, '')
    .split(/\r\n|\n|\r/)
    .filter((line) => line.trim() !== '');
  const names = (lines[0] ?? '').split(',').map((name) => name.trim().replaceAll('"', '').toLowerCase());
  const missing = COLUMNS.filter((column) => column !== 'bend' && !names.includes(column));
  if (missing.length > 0)
    throw new InputError(
      `The first line has to name the columns ${COLUMNS.join(', ')}; ${missing.join(' and ')} ${missing.length > 1 ? 'are' : 'is'} missing.`,
    );
  if (lines.length - 1 > MOST_POINTS * 64)
    throw new InputError(`The file has ${lines.length - 1} breakpoints; at most ${MOST_POINTS} a lane are allowed.`);
  const lanes = new Map<string, { over: Curve['over']; points: CurvePoint[] }>();
  lines.slice(1).forEach((line, n) => {
    const cells = line.split(',').map((cell) => cell.trim().replaceAll('"', ''));
    const cell = (name: (typeof COLUMNS)[number]) => cells[names.indexOf(name)] ?? '';
    const number = (name: (typeof COLUMNS)[number]): number => {
      const read = Number(cell(name));
      if (cell(name) === '' || !Number.isFinite(read))
        throw new InputError(`Line ${n + 2}: ${name} is "${shortened(cell(name))}"; a number is needed.`);
      return read;
    };
    const over = CURVE_UNITS.find((unit) => unit === cell('over').toLowerCase());
    if (!over)
      throw new InputError(
        `Line ${n + 2}: over is "${shortened(cell('over'))}"; allowed are ${CURVE_UNITS.join(', ')}.`,
      );
    const target = cell('target');
    const lane = lanes.get(target) ?? { over, points: [] };
    if (lane.over !== over)
      throw new InputError(
        `Line ${n + 2}: the lane of "${target}" counts ${lane.over} and here ${over}; one is allowed.`,
      );
    const bend = names.includes('bend') && cell('bend') !== '' ? number('bend') : 0;
    const at = number('at');
    if (at < 0) throw new InputError(`Line ${n + 2}: at is ${at}; a lane begins at 0.`);
    if (bend < -1 || bend > 1) throw new InputError(`Line ${n + 2}: bend is ${bend}; allowed is −1 to 1.`);
    lane.points.push({ at, value: number('value'), bend });
    if (lane.points.length > MOST_POINTS)
      throw new InputError(`The lane of "${target}" has more than ${MOST_POINTS} breakpoints.`);
    lanes.set(target, lane);
  });
  if (lanes.size === 0) throw new InputError('The file names its columns and has no breakpoint.');
  return [...lanes].map(([target, { over, points }]) => ({
    target,
    curve: { over, points: points.sort((a, b) => a.at - b.at) },
  }));
}
