/** Doubles by their bits (IEEE 754). */
const float64 = new Float64Array(1);
const words = new Uint32Array(float64.buffer); // [low, high] on the little-endian machines that run JavaScript

/** Sign, exponent and the upper 20 bits of the fraction, as a whole number of 32 bits. */
export function highBits(x: number): number {
  float64[0] = x;
  return words[1] | 0;
}

/** `x` with other upper 32 bits. */
export function withHighBits(x: number, high: number): number {
  float64[0] = x;
  words[1] = high;
  return float64[0];
}
