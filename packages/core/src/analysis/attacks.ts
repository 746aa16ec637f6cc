import { cos, log, TAU } from '../dsp/portableMath.ts';
import { RealFft } from '../dsp/realFft.ts';
import { windowFrames } from '../dsp/spectralShifter.ts';
import { frameCount, type Clip } from '../model/clip.ts';
import { peakOf } from './level.ts';

/** Frames of the window at 48 kHz, and parts of it in which the next begins. */
const WINDOW = 1024;
const OVERLAP = 8;
/** Windows back that a spectrum is held against. */
const BACK = 4;
/** Seconds: how near an attack may be to the next, and over how much its surroundings are averaged. */
const NEAREST = 0.04;
const AROUND = 0.12;
/** Bins up to which neighbours are looked at too, so that a wavering tone is no attack. */
const NEIGHBOURS = 1;

/** Rise of a bin, on the average, under which there is no attack: what a tone does that only wavers. */
const LEAST_RISE = 0.012;

/**
 * Where something begins in a clip: indices of frames, in order. The rise of the logarithmic spectrum against that of a
 * little before, each bin held against the highest of its neighbours there (S. Böck & G. Widmer, "Maximum filter vibrato
 * suppression for onset detection", 2013); its peaks are then moved to where the level rises most steeply.
 * `sensitivity` 0…1: the higher, the weaker the attacks that are found.
 */
export function findAttacks(clip: Clip, sensitivity = 0.6): number[] {
  const size = windowFrames(WINDOW, clip.sampleRate);
  const hop = size / OVERLAP;
  const rises = spectralRises(clip, size, hop);
  let most = 0;
  for (const rise of rises) if (rise > most) most = rise;
  if (most === 0) return [];
  const near = Math.max(1, Math.round((NEAREST * clip.sampleRate) / hop));
  const around = Math.max(1, Math.round((AROUND * clip.sampleRate) / hop));
  const floor = LEAST_RISE * (size / 2 + 1) * clip.channels.length;
  const least = Math.max(floor, most * (0.35 - 0.32 * sensitivity));
  const found: number[] = [];
  for (let n = 0; n < rises.length; n++) {
    const rise = rises[n];
    if (rise < least) continue;
    let highest = true;
    for (let m = Math.max(0, n - near); m <= Math.min(rises.length - 1, n + near) && highest; m++)
      highest = rises[m] < rise || (rises[m] === rise && m >= n);
    if (!highest) continue;
    let sum = 0;
    let count = 0;
    for (let m = Math.max(0, n - around); m <= Math.min(rises.length - 1, n + around); m++, count++) sum += rises[m];
    if (rise < (1.9 - 0.6 * sensitivity) * (sum / count)) continue;
    const at = steepestRise(clip, n * hop - size / 2, size);
    if (!growsAt(clip, at)) continue;
    if (found.length === 0 || at - found[found.length - 1] >= NEAREST * 0.5 * clip.sampleRate) found.push(at);
  }
  return found;
}

/** How much begins at each moment, as `findAttacks` sees it, and how many values there are in a second. */
export function onsetStrength(clip: Clip): { readonly values: Float64Array; readonly rate: number } {
  const size = windowFrames(WINDOW, clip.sampleRate);
  const hop = size / OVERLAP;
  return { values: spectralRises(clip, size, hop), rate: clip.sampleRate / hop };
}

/** Kept with the sound: the rises are the same for any sensitivity. */
const known = new WeakMap<readonly Float32Array[], Float64Array>();

/** For windows whose middle lies at every `hop`, how much the spectrum has risen. */
function spectralRises(clip: Clip, size: number, hop: number): Float64Array {
  const kept = known.get(clip.channels);
  if (kept) return kept;
  const rises = findRises(clip, size, hop);
  known.set(clip.channels, rises);
  return rises;
}

function findRises(clip: Clip, size: number, hop: number): Float64Array {
  const frames = frameCount(clip);
  // The end of the clip is no attack: windows that reach over it are left out.
  const count = Math.max(1, Math.floor((frames - size / 2) / hop) + 1);
  const bins = size / 2 + 1;
  const fft = new RealFft(size);
  const window = Float64Array.from({ length: size }, (_, i) => 0.5 - 0.5 * cos((TAU * i) / size));
  const wave = new Float64Array(size);
  const re = new Float64Array(bins);
  const im = new Float64Array(bins);
  const rises = new Float64Array(count);
  // Against the loudest sample, so that a quiet recording gives the same attacks.
  const loud = (peakOf(clip) * size) / 4;
  if (loud === 0) return rises;
  for (const samples of clip.channels) {
    const spectra = Array.from({ length: BACK + 1 }, () => new Float64Array(bins).fill(1));
    for (let n = 0; n < count; n++) {
      const first = n * hop - size / 2;
      for (let i = 0; i < size; i++) {
        const at = first + i;
        wave[i] = at >= 0 && at < frames ? window[i] * samples[at] : 0;
      }
      fft.forward(wave, re, im);
      const now = spectra[n % (BACK + 1)];
      const before = spectra[(n + 1) % (BACK + 1)];
      // Logarithms that add up are one of a product, as long as that can be written.
      let rise = 0;
      let product = 1;
      for (let k = 0; k < bins; k++) {
        now[k] = 1 + (200 / loud) * Math.sqrt(re[k] * re[k] + im[k] * im[k]);
        let highest = before[k];
        for (let j = Math.max(0, k - NEIGHBOURS); j <= Math.min(bins - 1, k + NEIGHBOURS); j++)
          if (before[j] > highest) highest = before[j];
        if (now[k] <= highest) continue;
        product *= now[k] / highest;
        if (product < 1e200) continue;
        rise += log(product);
        product = 1;
      }
      rises[n] += rise + log(product);
    }
  }
  return rises;
}

/** False where a sound ends: its edge spreads over the spectrum as an attack does. */
function growsAt(clip: Clip, at: number): boolean {
  const reach = Math.round(0.008 * clip.sampleRate);
  let before = 0;
  let behind = 0;
  for (const samples of clip.channels) {
    for (let i = Math.max(0, at - reach); i < at; i++) before += samples[i] * samples[i];
    for (let i = at; i < Math.min(samples.length, at + reach); i++) behind += samples[i] * samples[i];
  }
  return behind > 0.5 * before;
}

/** The frame, of `length` from `from` on, at which the level of a millisecond rises most against the one before. */
function steepestRise(clip: Clip, from: number, length: number): number {
  const step = Math.max(1, Math.round(clip.sampleRate / 4000));
  const span = 4 * step;
  const frames = frameCount(clip);
  const energyAt = (start: number) => {
    let energy = 0;
    for (const samples of clip.channels)
      for (let i = Math.max(0, start); i < Math.min(frames, start + span); i++) energy += samples[i] * samples[i];
    return energy;
  };
  let best = Math.max(0, from + length / 2);
  let most = 0;
  // Half a window more behind: a window is full of a sound only when it lies in it whole.
  for (let at = Math.max(0, from); at < Math.min(frames, from + 1.5 * length); at += step) {
    const rise = Math.sqrt(energyAt(at)) - Math.sqrt(energyAt(at - span));
    if (rise > most * 1.0001) {
      most = rise;
      best = at;
    }
  }
  // The first sample of that millisecond that stands out of what was before.
  let before = 0;
  for (const samples of clip.channels)
    for (let i = Math.max(0, best - span); i < best; i++) before = Math.max(before, Math.abs(samples[i]));
  let peak = before;
  for (const samples of clip.channels)
    for (let i = best; i < Math.min(frames, best + span); i++) peak = Math.max(peak, Math.abs(samples[i]));
  const above = before + 0.2 * (peak - before);
  for (let i = best; i < Math.min(frames, best + span); i++)
    if (clip.channels.some((samples) => Math.abs(samples[i]) > above)) return i;
  return best;
}
