/**
 * Value between samples by the four-point Lagrange polynomial (Laakso et al., "Splitting the unit delay", 1996), in
 * Horner's form. Its gain never exceeds 1 between the two middle points, so a loop around it cannot grow.
 *
 * The samples lie in a ring of `mask` + 1 values that begins at `base` of `memory`; `place` ≥ 0 counts round the ring.
 */
export function readCubic(memory: Float32Array, base: number, mask: number, place: number): number {
  const whole = place | 0;
  const t = place - whole;
  const before = memory[base + ((whole - 1) & mask)];
  const at = memory[base + (whole & mask)];
  const next = memory[base + ((whole + 1) & mask)];
  const after = memory[base + ((whole + 2) & mask)];
  const cubic = (after - before) * (1 / 6) + (at - next) * 0.5;
  const square = (before + next) * 0.5 - at;
  const slope = next - before * (1 / 3) - at * 0.5 - after * (1 / 6);
  return ((cubic * t + square) * t + slope) * t + at;
}

/**
 * The same close to the `newest` sample, where there is none on the far side: between the newest two the cubic through
 * the newest four, whose gain there comes up to 1.2, or, `steady`, a straight line, whose gain never exceeds 1. Writes to
 * place `slot` of `into`: a returned double would be put in a box. Places count round the ring and are not negative.
 */
export function readNear(
  into: Float64Array,
  slot: number,
  memory: Float32Array,
  mask: number,
  place: number,
  newest: number,
  steady: boolean,
): void {
  let whole = place | 0;
  if (whole > newest - 2) {
    if (steady) {
      const last = memory[(newest - 1) & mask];
      into[slot] = last + (place - newest + 1) * (memory[newest & mask] - last);
      return;
    }
    whole = newest - 2;
  }
  const t = place - whole;
  const before = memory[(whole - 1) & mask];
  const at = memory[whole & mask];
  const next = memory[(whole + 1) & mask];
  const after = memory[(whole + 2) & mask];
  const cubic = (after - before) * (1 / 6) + (at - next) * 0.5;
  const square = (before + next) * 0.5 - at;
  const slope = next - before * (1 / 3) - at * 0.5 - after * (1 / 6);
  into[slot] = ((cubic * t + square) * t + slope) * t + at;
}

/**
 * Weights of seven neighbouring samples x₋₂ … x₄ that give the value at `place` (0 ≤ place < 2) between x₀ and x₂ by the
 * six-point polynomial; written to `into` from `offset` on. Its gain never exceeds 1 either, and at a sixth of the sample
 * rate it loses 0.03 dB on the average where the four-point one loses 0.14.
 */
export function quinticWeights(place: number, into: Float64Array, offset: number): void {
  const shift = place >= 1 ? 1 : 0;
  const t = place - shift;
  const a = t + 2;
  const b = t + 1;
  const d = t - 1;
  const e = t - 2;
  const f = t - 3;
  const inner = d * e;
  const outer = a * b;
  into[offset + 6] = 0;
  into[offset] = 0;
  into[offset + shift] = (-b * t * inner * f) / 120;
  into[offset + shift + 1] = (a * t * inner * f) / 24;
  into[offset + shift + 2] = (-outer * inner * f) / 12;
  into[offset + shift + 3] = (outer * t * e * f) / 12;
  into[offset + shift + 4] = (-outer * t * d * f) / 24;
  into[offset + shift + 5] = (outer * t * inner) / 120;
}

/** Size of a ring that holds `frames`: the next power of two. */
export function ringSize(frames: number): number {
  let size = 8;
  while (size < frames) size *= 2;
  return size;
}
