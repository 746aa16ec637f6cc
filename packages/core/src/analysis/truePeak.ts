import { PI, cos, sin } from '../dsp/portableMath.ts';
import type { Clip } from '../engine/clip.ts';

const REACH = 12; // samples on either side of an interpolated point
const TAPS = 2 * REACH;
const STRETCH = 64; // samples that are passed over together when they cannot hold a new peak

/** Weights of the 24 samples around the points ¼, ½ and ¾ of the way between two samples (windowed sinc). */
const [QUARTER, HALF, THREE_QUARTERS] = [0.25, 0.5, 0.75].map((offset) => {
  const weights = new Float64Array(TAPS);
  for (let k = 0; k < TAPS; k++) {
    const x = offset + REACH - 1 - k;
    weights[k] = (sin(PI * x) / (PI * x)) * (0.5 + 0.5 * cos((PI * x) / (REACH + 0.5)));
  }
  const sum = weights.reduce((total, weight) => total + weight, 0);
  return weights.map((weight) => weight / sum);
});

/** No point between samples exceeds the largest of its neighbours by more than this factor. */
const GREATEST_RISE = HALF.reduce((sum, weight) => sum + Math.abs(weight), 0);

/**
 * True peak as an amplitude: the largest value of the sound between its samples, found by fourfold oversampling as
 * ITU-R BS.1770 Annex 2 describes. Never less than the sample peak.
 */
export function truePeakOf(clip: Clip): number {
  return clip.channels.reduce((peak, samples) => Math.max(peak, channelTruePeak(samples)), 0);
}

function channelTruePeak(samples: Float32Array): number {
  const padded = new Float32Array(samples.length + 2 * TAPS);
  padded.set(samples, TAPS);
  let peak = 0;
  for (let i = 0; i < samples.length; i++) peak = Math.max(peak, Math.abs(samples[i]));
  for (let start = REACH; start < padded.length - TAPS; start += STRETCH) {
    const end = Math.min(start + STRETCH, padded.length - TAPS);
    if (largest(padded, start, end + TAPS) * GREATEST_RISE > peak)
      peak = Math.max(peak, peakBetween(padded, start, end));
  }
  return peak;
}

function largest(padded: Float32Array, from: number, to: number): number {
  let size = 0;
  for (let i = from; i < to; i++) {
    const candidate = Math.abs(padded[i]);
    if (candidate > size) size = candidate;
  }
  return size;
}

/** Largest interpolated value whose first neighbour lies in [from, to). */
function peakBetween(padded: Float32Array, from: number, to: number): number {
  let peak = 0;
  for (let i = from; i < to; i++) {
    let a = 0;
    let b = 0;
    let c = 0;
    for (let k = 0; k < TAPS; k++) {
      const sample = padded[i + k];
      a += QUARTER[k] * sample;
      b += HALF[k] * sample;
      c += THREE_QUARTERS[k] * sample;
    }
    peak = Math.max(peak, Math.abs(a), Math.abs(b), Math.abs(c));
  }
  return peak;
}
