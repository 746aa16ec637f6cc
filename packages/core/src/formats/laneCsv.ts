/** Lanes as comma-separated values (RFC 4180): one breakpoint a line, after a line of names. */
import Papa from 'papaparse';
import { breakpointsOf } from '../modulation/stampedShape.ts';
import { InputError, shortened } from '../model/errors.ts';
import { LIMITS } from '../model/limits.ts';
import { CURVE_UNITS, MOST_POINTS, type Curve, type CurvePoint } from '../modulation/curve.ts';

/** Of a chain. */
const MOST_LANES = 64;
const COLUMNS = ['target', 'over', 'at', 'value', 'bend'] as const;

export interface NamedCurve {
  readonly target: string;
  readonly curve: Curve;
}

export function lanesToCsv(lanes: readonly NamedCurve[]): string {
  const data = lanes.flatMap(({ target, curve }) =>
    breakpointsOf(curve).points.map(({ at, value, bend }) => [target, curve.over, at, value, bend]),
  );
  return `${Papa.unparse({ fields: [...COLUMNS], data }, { newline: '\r\n' })}\r\n`;
}

/** What stands in the columns of a line, by their names. */
type Cells = Readonly<Partial<Record<string, string>>>;

/**
 * Reads what `lanesToCsv` writes, and what spreadsheets make of it: commas, semicolons or tabs between the cells, cells in
 * quotes, decimal commas where no comma parts the cells; columns in any order, bend may be left out. InputError names the
 * line.
 */
export function lanesFromCsv(text: string): NamedCurve[] {
  if (text.length > LIMITS.csvBytes)
    throw new InputError(`The file has ${text.length} characters; at most ${LIMITS.csvBytes} (64 MiB) are allowed.`);
  const lanes = new ReadLanes();
  let line = 0;
  let names: readonly string[] | undefined;
  Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), {
    delimitersToGuess: [',', ';', '\t'],
    step: ({ data, errors }) => {
      line += 1;
      const [fault] = errors.filter(({ type }) => type === 'Quotes');
      if (fault) throw new InputError(`Line ${line}: a cell in quotes does not end where it should.`);
      const cells = data.map((cell) => cell.trim());
      if (cells.every((cell) => cell === '')) return;
      if (names) lanes.add(line, Object.fromEntries(names.map((name, n) => [name, cells[n]])));
      else names = columnsIn(cells);
    },
  });
  if (!names) columnsIn([]);
  return lanes.finish();
}

/** The names of the columns, in their order. InputError when one is missing. */
function columnsIn(cells: readonly string[]): readonly string[] {
  const names = cells.map((name) => name.toLowerCase());
  const missing = COLUMNS.filter((column) => column !== 'bend' && !names.includes(column));
  if (missing.length > 0)
    throw new InputError(
      `The first line has to name the columns ${COLUMNS.join(', ')}; ${missing.join(' and ')} ${missing.length > 1 ? 'are' : 'is'} missing.`,
    );
  return names;
}

/** The lanes that have been read so far. */
class ReadLanes {
  private readonly lanes = new Map<string, { over: Curve['over']; points: CurvePoint[] }>();
  private count = 0;

  add(line: number, cells: Cells): void {
    this.count += 1;
    if (this.count > MOST_POINTS * MOST_LANES)
      throw new InputError(
        `The file has more than ${MOST_POINTS * MOST_LANES} breakpoints; at most ${MOST_POINTS} a lane are allowed.`,
      );
    const overText = cells['over'] ?? '';
    const over = CURVE_UNITS.find((unit) => unit === overText.toLowerCase());
    if (!over)
      throw new InputError(`Line ${line}: over is "${shortened(overText)}"; allowed are ${CURVE_UNITS.join(', ')}.`);
    const target = cells['target'] ?? '';
    const lane = this.lanes.get(target) ?? { over, points: [] };
    if (lane.over !== over)
      throw new InputError(
        `Line ${line}: the lane of "${target}" counts ${lane.over} and here ${over}; one is allowed.`,
      );
    const bend = (cells['bend'] ?? '') === '' ? 0 : numberIn(line, 'bend', cells);
    const at = numberIn(line, 'at', cells);
    if (at < 0) throw new InputError(`Line ${line}: at is ${at}; a lane begins at 0.`);
    if (bend < -1 || bend > 1) throw new InputError(`Line ${line}: bend is ${bend}; allowed is −1 to 1.`);
    lane.points.push({ at, value: numberIn(line, 'value', cells), bend });
    if (lane.points.length > MOST_POINTS)
      throw new InputError(`The lane of "${target}" has more than ${MOST_POINTS} breakpoints.`);
    this.lanes.set(target, lane);
  }

  finish(): NamedCurve[] {
    if (this.lanes.size === 0) throw new InputError('The file names its columns and has no breakpoint.');
    return [...this.lanes].map(([target, { over, points }]) => ({
      target,
      curve: { over, points: points.sort((a, b) => a.at - b.at) },
    }));
  }
}

/** A number with a decimal point or, alone between digits, a decimal comma, and either sign for minus. InputError. */
function numberIn(line: number, column: string, cells: Cells): number {
  const text = cells[column] ?? '';
  const read = Number(text.replace(/^\u2212/, '-').replace(/^([+-]?\d*),(\d+)$/, '$1.$2'));
  if (text === '' || !Number.isFinite(read))
    throw new InputError(`Line ${line}: ${column} is "${shortened(text)}"; a number is needed.`);
  return read;
}
