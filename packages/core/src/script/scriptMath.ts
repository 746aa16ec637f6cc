/**
 * What scripts have of `Math` beside the elementary functions, by the standard (ECMA-262), in the part of the language that
 * scripts have. It is compiled for them from this very text (`node scripts/write-math.mjs` after a change).
 */
import { highBits, withHighBits } from '../dsp/doubleBits.ts';
import { atan2, exp, log, PI } from '../dsp/portableMath.ts';

const LN2 = 0.6931471805599453;
const WRAP = 4294967296; // 2^32
const SAFE = 9007199254740992; // 2^53

/** To the nearest whole number; what lies between two goes up. */
export function round(x: number): number {
  const up = Math.ceil(x);
  return up - 0.5 > x ? up - 1 : up;
}

export function sign(x: number): number {
  return x > 0 ? 1 : x < 0 ? -1 : x;
}

/** The square root of the sum of two squares; nothing on the way overflows. */
export function hypot(x: number, y: number): number {
  const width = Math.abs(x);
  const height = Math.abs(y);
  if (width === Infinity || height === Infinity) return Infinity;
  const most = Math.max(width, height);
  if (most === 0) return 0;
  const a = width / most;
  const b = height / most;
  return most * Math.sqrt(a * a + b * b);
}

/** What `x % y` leaves, exactly: the multiple of y nearest below is taken off, doubled as often as it fits. */
export function remainder(x: number, y: number): number {
  const size = Math.abs(y);
  let rest = Math.abs(x);
  if (!(rest < Infinity) || !(size > 0)) return NaN;
  if (size === Infinity) return x;
  while (rest >= size) {
    let part = size;
    // As many binary places at once as the exponents differ by, then back by one if that was too far.
    const places = ((highBits(rest) >>> 20) & 2047) - ((highBits(part) >>> 20) & 2047);
    if (places > 1) part = doubled(part, places - 1);
    while (part * 2 <= rest) part *= 2;
    rest -= part;
  }
  // The sign is that of x, also of a zero.
  return x < 0 || 1 / x < 0 ? -rest : rest;
}

function doubled(x: number, places: number): number {
  const half = Math.floor(places / 2);
  return x * withHighBits(0, (half + 1023) << 20) * withHighBits(0, (places - half + 1023) << 20);
}

/** A number that has the same 32 bits and fits into 64 (ToInt32). */
export function wrapped(x: number): number {
  if (Math.abs(x) < SAFE) return x;
  if (!(Math.abs(x) < Infinity)) return 0;
  return remainder(Math.trunc(x), WRAP);
}

export function log2(x: number): number {
  const exponent = ((highBits(x) >>> 20) & 2047) - 1023;
  // Powers of two come out whole.
  if (x > 0 && x < Infinity && exponent > -1023 && x === withHighBits(0, (exponent + 1023) << 20)) return exponent;
  return log(x) / LN2;
}

export function atan(x: number): number {
  return x === 0 ? x : atan2(x, 1);
}

export function asin(x: number): number {
  if (!(Math.abs(x) <= 1)) return NaN;
  return x === 0 ? x : atan2(x, Math.sqrt((1 - x) * (1 + x)));
}

export function acos(x: number): number {
  if (!(Math.abs(x) <= 1)) return NaN;
  return x === -1 ? PI : atan2(Math.sqrt((1 - x) * (1 + x)), x);
}

/** `base` to the power of `exponent` as the standard has it: 1 for 0, whole powers of negative bases, NaN for others. */
export function power(base: number, exponent: number): number {
  if (exponent === 0) return 1;
  if (exponent !== exponent || base !== base) return NaN;
  const whole = Math.trunc(exponent) === exponent;
  const odd = whole && Math.abs(exponent) < SAFE && Math.abs(exponent - 2 * Math.trunc(exponent / 2)) === 1;
  const size = Math.abs(base);
  const negative = base < 0 || 1 / base < 0;
  if (size === 0 || size === Infinity) {
    const large = (size === 0) === exponent < 0;
    const value = large ? Infinity : 0;
    return negative && odd ? -value : value;
  }
  if (Math.abs(exponent) === Infinity) {
    if (size === 1) return NaN;
    return size > 1 === exponent > 0 ? Infinity : 0;
  }
  if (negative && !whole) return NaN;
  // Small whole powers are products, so that 2 ** 10 is 1024.
  const value = whole && Math.abs(exponent) <= 64 ? product(size, exponent) : exp(exponent * log(size));
  return negative && odd ? -value : value;
}

function product(base: number, exponent: number): number {
  let value = 1;
  for (let n = Math.abs(exponent); n > 0; n--) value *= base;
  return exponent < 0 ? 1 / value : value;
}
