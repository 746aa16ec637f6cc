/** Measuring instruments of the tests, written apart from the core's own. */

/** In-place radix-2 transform, for tests alone: slow and plain. */
export function transform(re: Float64Array, im: Float64Array): void {
  const n = re.length;
  for (let i = 1, j = 0; i < n; i++) {
    let bit = n >> 1;
    for (; j & bit; bit >>= 1) j ^= bit;
    j ^= bit;
    if (i < j) {
      const [x, y] = [re[i], im[i]];
      re[i] = re[j];
      im[i] = im[j];
      re[j] = x;
      im[j] = y;
    }
  }
  const { cosines, sines } = circle(n);
  for (let size = 2; size <= n; size *= 2) {
    const half = size / 2;
    const stride = n / size;
    for (let start = 0; start < n; start += size) {
      for (let k = 0; k < half; k++) {
        const c = cosines[k * stride];
        const s = sines[k * stride];
        const a = start + k;
        const b = a + half;
        const tr = re[b] * c - im[b] * s;
        const ti = re[b] * s + im[b] * c;
        re[b] = re[a] - tr;
        im[b] = im[a] - ti;
        re[a] += tr;
        im[a] += ti;
      }
    }
  }
}

const circles = new Map<number, { readonly cosines: Float64Array; readonly sines: Float64Array }>();

function circle(n: number) {
  let found = circles.get(n);
  if (!found) {
    found = {
      cosines: Float64Array.from({ length: n / 2 }, (_, k) => Math.cos((2 * Math.PI * k) / n)),
      sines: Float64Array.from({ length: n / 2 }, (_, k) => -Math.sin((2 * Math.PI * k) / n)),
    };
    circles.set(n, found);
  }
  return found;
}

/** Magnitude response of an impulse response at a frequency in Hz, by direct summation. */
export function responseAt(samples: Float32Array, frequency: number, sampleRate: number): number {
  let re = 0;
  let im = 0;
  for (let i = 0; i < samples.length; i++) {
    const angle = (2 * Math.PI * frequency * i) / sampleRate;
    re += samples[i] * Math.cos(angle);
    im -= samples[i] * Math.sin(angle);
  }
  return Math.hypot(re, im);
}

export const decibels = (amplitude: number): number => 20 * Math.log10(amplitude);

/** The part of a sound inside an octave band, cut out in the spectrum. */
export function octaveBand(samples: Float32Array, centre: number, sampleRate: number): Float64Array {
  let n = 1;
  while (n < samples.length * 2) n *= 2;
  const re = new Float64Array(n);
  const im = new Float64Array(n);
  re.set(samples);
  transform(re, im);
  for (let k = 0; k <= n / 2; k++) {
    const octaves = Math.log2((k * sampleRate) / n / centre);
    // Raised-cosine edges a third of an octave wide, so that the band itself hardly rings.
    const beyond = Math.abs(octaves) - 0.5 + 1 / 6;
    const gain = beyond <= 0 ? 1 : beyond >= 1 / 3 ? 0 : 0.5 + 0.5 * Math.cos(3 * Math.PI * beyond);
    for (const at of k === 0 || k === n / 2 ? [k] : [k, n - k]) {
      re[at] *= gain;
      im[at] *= -gain; // conjugated for the way back
    }
  }
  transform(re, im);
  return re.subarray(0, samples.length).map((value) => value / n);
}

/** Reverberation time in seconds: backward integration (Schroeder 1965), a line through −5…−35 dB, drawn on to −60. */
export function decayTime(samples: Float64Array | Float32Array, sampleRate: number): number {
  const energy = new Float64Array(samples.length);
  let sum = 0;
  for (let i = samples.length - 1; i >= 0; i--) energy[i] = sum += samples[i] * samples[i];
  const points: [number, number][] = [];
  for (let i = 0; i < samples.length; i += 32) {
    const level = 10 * Math.log10(energy[i] / sum);
    if (level < -5 && level > -35) points.push([i / sampleRate, level]);
  }
  const meanX = points.reduce((total, [x]) => total + x, 0) / points.length;
  const meanY = points.reduce((total, [, y]) => total + y, 0) / points.length;
  const slope =
    points.reduce((total, [x, y]) => total + (x - meanX) * (y - meanY), 0) /
    points.reduce((total, [x]) => total + (x - meanX) ** 2, 0);
  return -60 / slope;
}

/** Room for the measuring filter to ring in, so that the end is not heard at the beginning. */
const RINGING = 8192;

/**
 * The parts of two sounds of the same length above a frequency, cut out in the spectrum; the edge is 500 Hz wide. Both go
 * through one transform, as its real and its imaginary part.
 */
export function aboveBoth(
  [left, right]: readonly [ArrayLike<number>, ArrayLike<number>],
  frequency: number,
  sampleRate: number,
): [Float64Array, Float64Array] {
  let n = 1;
  while (n < left.length + RINGING) n *= 2;
  const re = new Float64Array(n);
  const im = new Float64Array(n);
  re.set(left);
  im.set(right);
  transform(re, im);
  for (let k = 0; k < n; k++) {
    const place = ((Math.min(k, n - k) * sampleRate) / n - frequency) / 500;
    const gain = place <= 0 ? 0 : place >= 1 ? 1 : 0.5 - 0.5 * Math.cos(Math.PI * place);
    re[k] *= gain / n;
    im[k] *= -gain / n; // conjugated for the way back
  }
  transform(re, im);
  return [re.slice(0, left.length), im.subarray(0, left.length).map((value) => -value)];
}

/** The part of a sound above a frequency. */
export function above(samples: ArrayLike<number>, frequency: number, sampleRate: number): Float64Array {
  return aboveBoth([samples, samples], frequency, sampleRate)[0];
}

/** Magnitudes of the bins of a stretch (a power of two long) under a four-term Blackman–Harris window; 1 for a sine of 1. */
export function spectrumOf(samples: ArrayLike<number>, sampleRate: number): { bins: Float64Array; hertz: number } {
  const n = samples.length;
  const re = new Float64Array(n);
  const im = new Float64Array(n);
  const angle = (2 * Math.PI) / n;
  for (let i = 0; i < n; i++) {
    const window =
      0.35875 - 0.48829 * Math.cos(angle * i) + 0.14128 * Math.cos(2 * angle * i) - 0.01168 * Math.cos(3 * angle * i);
    re[i] = samples[i] * window;
  }
  transform(re, im);
  const bins = Float64Array.from({ length: n / 2 }, (_, k) => (2 * Math.hypot(re[k], im[k])) / (0.35875 * n));
  return { bins, hertz: sampleRate / n };
}
