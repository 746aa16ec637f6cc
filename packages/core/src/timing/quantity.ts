/**
 * The grammar of what is typed into a value field, a sheet and the command line: one or more numbers, each with its unit
 * behind it. `docs/values.md` is this grammar as a table, with what is refused. Reading takes linear time.
 */
import { InputError, shortened } from '../model/errors.ts';
import { LIMITS } from '../model/limits.ts';

export interface Quantity {
  readonly amount: number;
  /** In lower case; empty where none was written. */
  readonly unit: string;
}

// One way to read each digit, so that a number that is none is refused in one pass over it. A comma is a decimal point
// only alone between digits; a fraction is of whole numbers.
const QUANTITY = /\s*([+-]?)(?:(\d+)\/(\d+)|((?:\d+(?:\.\d*|,\d+)?|\.\d+)(?:e[+-]?\d+)?))\s*(:1|\/s|[a-z%°×]*)/iy;

/** InputError for what is longer than any value; a message does not repeat it. */
export function refuseLong(text: string): void {
  if (text.length > LIMITS.valueLength)
    throw new InputError(
      `"${shortened(text)}" has ${text.length} characters; a value has at most ${LIMITS.valueLength}.`,
    );
}

/** `1 octave 20 ct`: a quantity and what is added to it. One without a sign of its own has that of the first. */
export function readQuantities(text: string): readonly Quantity[] | undefined {
  refuseLong(text);
  const written = text.replaceAll('\u2212', '-').trim();
  const found: Quantity[] = [];
  let first = '';
  QUANTITY.lastIndex = 0;
  for (let end = 0; end < written.length; end = QUANTITY.lastIndex) {
    const match = QUANTITY.exec(written);
    if (!match) return undefined;
    const [, sign, over, under, number, unit] = match;
    first = found.length === 0 ? sign : first;
    const size = over === undefined ? Number(number.replace(',', '.')) : Number(over) / Number(under);
    if (!Number.isFinite(size)) return undefined;
    // A fraction without a unit is a factor, as in "1/2" of something.
    const factor = over !== undefined && unit === '';
    found.push({ amount: (sign || first) === '-' ? -size : size, unit: factor ? '×' : unit.toLowerCase() });
  }
  return found.length > 0 ? found : undefined;
}

/** The amount of all quantities together, in the unit whose words `units` counts; undefined where one has another unit. */
export function readAmount(text: string, units: Readonly<Record<string, number>>): number | undefined {
  const found = readQuantities(text);
  // A sum needs its units: "3 4" may be anything.
  if (!found || (found.length > 1 && found.some(({ unit }) => unit === ''))) return undefined;
  if (!found.every(({ unit }) => Object.hasOwn(units, unit))) return undefined;
  return found.reduce((sum, { amount, unit }) => sum + scaled(amount, units[unit]), 0);
}

/** Times `factor`; a factor below 1 divides, so that what was printed in a small unit is read to the same bit. */
function scaled(amount: number, factor: number): number {
  return factor < 1 ? amount / Math.round(1 / factor) : amount * factor;
}

/** A number as it is shown: with a minus sign, not a hyphen. */
export function written(value: number): string {
  return value < 0 ? `\u2212${-value}` : String(value);
}
