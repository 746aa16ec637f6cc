/**
 * Elementary functions that give the same bits in every JavaScript engine.
 *
 * The language leaves the last bits of Math.sin, Math.exp and their kin to the engine, and engines differ between
 * versions. A chain must render to the same bytes in the page, a worker, the server and the command line, so the core
 * uses only operations that IEEE 754 defines exactly: + − × ÷ and square root. Lint forbids the others here.
 *
 * Ranges are reduced as Cody & Waite describe ("Software Manual for the Elementary Functions", 1980) and the remainder
 * is summed as a Taylor series long enough for double precision. Relative errors are a few units in the last place.
 *
 * It is written in the part of the language that scripts have, and is compiled for them from this very text
 * (`node scripts/write-math.mjs` after a change).
 */
import { highBits, withHighBits } from './doubleBits.ts';

export const PI = 3.141592653589793;
export const TAU = 6.283185307179586;

const HALF_PI_HIGH = 1.5707963267341256; // the first 33 bits of π/2, so that small multiples are exact
const HALF_PI_LOW = 6.077100506506192e-11;
const LN2_HIGH = 0.6931471803691238;
const LN2_LOW = 1.9082149292705877e-10;
const LN10 = 2.302585092994046;

function sineSeries(x: number): number {
  const z = x * x;
  return (
    x *
    (1 +
      z *
        (-1 / 6 +
          z *
            (1 / 120 +
              z * (-1 / 5040 + z * (1 / 362880 + z * (-1 / 39916800 + z * (1 / 6227020800 - z / 1307674368000)))))))
  );
}

function cosineSeries(x: number): number {
  const z = x * x;
  return (
    1 +
    z *
      (-1 / 2 +
        z *
          (1 / 24 +
            z *
              (-1 / 720 +
                z *
                  (1 / 40320 +
                    z * (-1 / 3628800 + z * (1 / 479001600 + z * (-1 / 87178291200 + z / 20922789888000)))))))
  );
}

function quarterTurn(x: number, quarter: number): number {
  const turns = Math.round(x / (PI / 2));
  const rest = x - turns * HALF_PI_HIGH - turns * HALF_PI_LOW;
  const side = (((turns + quarter) % 4) + 4) % 4;
  if (side === 0) return sineSeries(rest);
  if (side === 1) return cosineSeries(rest);
  return side === 2 ? -sineSeries(rest) : -cosineSeries(rest);
}

/** Sine of `x` radians; full precision for |x| below about a million. */
export function sin(x: number): number {
  return quarterTurn(x, 0);
}

/** Cosine of `x` radians; full precision for |x| below about a million. */
export function cos(x: number): number {
  return quarterTurn(x, 1);
}

/** Tangent of `x` radians. */
export function tan(x: number): number {
  return sin(x) / cos(x);
}

function powerOfTwo(exponent: number): number {
  return withHighBits(0, (exponent + 1023) << 20);
}

/** e to the power of `x`; 0 below −708, Infinity above 709. */
export function exp(x: number): number {
  if (x < -708) return 0;
  if (x > 709) return Infinity;
  const k = Math.round(x / (LN2_HIGH + LN2_LOW));
  const r = x - k * LN2_HIGH - k * LN2_LOW;
  let sum = 1;
  for (let n = 14; n >= 1; n--) sum = 1 + (r / n) * sum;
  return sum * powerOfTwo(k);
}

/** Natural logarithm of `x`; −Infinity at 0, NaN below. */
export function log(x: number): number {
  if (x === 0) return -Infinity;
  if (!(x > 0) || x === Infinity) return x > 0 ? Infinity : NaN;
  let exponent = 0;
  if (x < 2.2250738585072014e-308) {
    x *= 18014398509481984; // 2^54 lifts a subnormal into the normal range
    exponent = -54;
  }
  const high = highBits(x);
  exponent += (high >>> 20) - 1023;
  let mantissa = withHighBits(x, (high & 0x000fffff) | 0x3ff00000);
  if (mantissa > 1.4142135623730951) {
    mantissa /= 2;
    exponent += 1;
  }
  const s = (mantissa - 1) / (mantissa + 1);
  const z = s * s;
  let sum = 0;
  for (let n = 21; n >= 3; n -= 2) sum = (sum + 1 / n) * z;
  return exponent * LN2_HIGH + (exponent * LN2_LOW + 2 * s * (1 + sum));
}

/** `base` to the power of `exponent`, for a positive base. */
export function pow(base: number, exponent: number): number {
  return base === 0 ? 0 : exp(exponent * log(base));
}

/** Logarithm to base 10. */
export function log10(x: number): number {
  return log(x) / LN10;
}

/** Hyperbolic tangent. */
export function tanh(x: number): number {
  if (x > 20) return 1;
  if (x < -20) return -1;
  if (x < 1e-4 && x > -1e-4) return x - (x * x * x) / 3;
  const e = exp(2 * x);
  return (e - 1) / (e + 1);
}

/** Angle of the point (x, y) in radians, −π…π; 0 for the origin. Relative error below 1e-12. */
export function atan2(y: number, x: number): number {
  const width = x < 0 ? -x : x;
  const height = y < 0 ? -y : y;
  if (width === 0 && height === 0) return 0;
  const steep = height > width;
  let t = steep ? width / height : height / width;
  // Angles above 15 degrees are turned back by 30.
  const turned = t > 0.2679491924311227;
  if (turned) t = (t * SQRT3 - 1) / (SQRT3 + t);
  const z = t * t;
  let sum = 0;
  for (let n = 23; n >= 3; n -= 2) sum = -z * (1 / n + sum);
  let angle = t * (1 + sum) + (turned ? PI / 6 : 0);
  if (steep) angle = PI / 2 - angle;
  if (x < 0) angle = PI - angle;
  return y < 0 ? -angle : angle;
}

const SQRT3 = 1.7320508075688772;

/** Amplitude factor of a level in decibels. */
export function decibelsToGain(decibels: number): number {
  return exp((decibels * LN10) / 20);
}

/** Level in decibels of an amplitude factor; −Infinity for 0. */
export function gainToDecibels(gain: number): number {
  return (20 * log(gain)) / LN10;
}
