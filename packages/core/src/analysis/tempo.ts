import { exp, log } from '../dsp/portableMath.ts';
import type { Clip } from '../model/clip.ts';
import { TEMPO_RANGE } from '../timing/tempo.ts';
import { onsetStrength } from './attacks.ts';

/** A tempo that a sound may have, in quarter notes a minute. */
export interface TempoCandidate {
  readonly tempo: number;
  /** Against the best: 1 for the best itself. */
  readonly strength: number;
}

export interface TempoEstimate {
  /** The likeliest first; what is half or double of it follows where it is nearly as likely. */
  readonly candidates: readonly TempoCandidate[];
  /** How clearly the sound keeps time, 0…1; below about 0.2 it hardly does. */
  readonly clarity: number;
}

/** What people take for the beat lies around here, in beats a minute; and how far around, in octaves. */
const USUAL = 112;
const SPREAD = 0.85;
const LEAST = 40;
const MOST = 220;
/** Repeats of a beat that are looked at together. */
const REPEATS = 8;

/**
 * The tempo of a sound, from how its attacks repeat: autocorrelation of its onset strength, summed over several repeats of
 * a beat and weighed by how usual the beat is (D. Ellis, "Beat tracking by dynamic programming", 2007). No candidates for
 * a sound without attacks.
 */
export function estimateTempo(clip: Clip): TempoEstimate {
  const { values, rate } = onsetStrength(clip);
  const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
  const centred = values.map((value) => value - mean);
  const power = correlation(centred, 0);
  if (!(power > 0) || values.length < rate) return { candidates: [], clarity: 0 };
  const most = Math.min(values.length - 1, Math.ceil((REPEATS * 60 * rate) / LEAST) + 2);
  // As many products go into each lag as there are; a far one is not taken for a weak one.
  const lags = Float64Array.from(
    { length: most + 1 },
    (_, lag) => (correlation(centred, lag) / power) * (values.length / (values.length - lag)),
  );
  const steps = Math.ceil(log(MOST / LEAST) / log(1.0015));
  const tempi = Array.from({ length: steps + 1 }, (_, n) => LEAST * exp((n / steps) * log(MOST / LEAST)));
  const scores = tempi.map((tempo) => pulse(lags, (60 * rate) / tempo, values.length) * usual(tempo));
  const best = scores.indexOf(Math.max(...scores));
  const refined = refine(lags, tempi[best], rate, values.length);
  const strengthOf = (tempo: number) =>
    (pulse(lags, (60 * rate) / tempo, values.length) * usual(tempo)) / Math.max(1e-9, scores[best]);
  const others = [refined / 2, refined * 2, (refined * 2) / 3, (refined * 3) / 2, (refined * 3) / 4, (refined * 4) / 3]
    .filter((tempo) => tempo >= Math.max(LEAST, TEMPO_RANGE.min) && tempo <= Math.min(240, TEMPO_RANGE.max))
    .map((tempo) => ({ tempo: rounded(tempo), strength: Math.min(1, strengthOf(tempo)) }))
    .filter(({ strength }) => strength > 0.3)
    .sort((a, b) => b.strength - a.strength);
  return {
    candidates: [{ tempo: rounded(refined), strength: 1 }, ...others.slice(0, 3)],
    clarity: Math.max(0, Math.min(1, pulse(lags, (60 * rate) / refined, values.length))),
  };
}

const rounded = (tempo: number) => Number(tempo.toFixed(2));

const usual = (tempo: number): number => {
  const octaves = log(tempo / USUAL) / log(2) / SPREAD;
  return exp(-0.5 * octaves * octaves);
};

function correlation(values: Float64Array, lag: number): number {
  let sum = 0;
  for (let i = lag; i < values.length; i++) sum += values[i] * values[i - lag];
  return sum;
}

/**
 * How strongly a period shows in the autocorrelation: over as many repeats as the sound has room for, and as much by its
 * weakest of the first three, so that a beat does not pass for one and a third of it.
 */
function pulse(lags: Float64Array, period: number, length: number): number {
  let sum = 0;
  let count = 0;
  let weakest = Infinity;
  for (let n = 1; n <= REPEATS; n++) {
    const at = n * period;
    if (at > 0.75 * length || at >= lags.length - 1) break;
    const whole = Math.floor(at);
    const here = lags[whole] + (at - whole) * (lags[whole + 1] - lags[whole]);
    sum += here;
    count++;
    if (n <= 3 && here < weakest) weakest = here;
  }
  return count === 0 ? 0 : 0.5 * (sum / count + weakest);
}

/** Goes to the peak of the latest repeat that stands near enough, where a small error of the period shows most. */
function refine(lags: Float64Array, tempo: number, rate: number, length: number): number {
  let period = (60 * rate) / tempo;
  for (let n = 1; n <= REPEATS; n *= 2) {
    const near = n * period;
    if (near > 0.75 * length || near >= lags.length - 2) break;
    const reach = Math.max(2, Math.round(0.04 * period));
    let best = Math.round(near);
    for (let lag = Math.max(1, best - reach); lag <= Math.min(lags.length - 2, Math.round(near) + reach); lag++)
      if (lags[lag] > lags[best]) best = lag;
    if (best < 1 || lags[best] <= 0) break;
    const [a, b, c] = [lags[best - 1], lags[best], lags[best + 1]];
    const bend = a - 2 * b + c;
    const offset = bend < 0 ? (0.5 * (a - c)) / bend : 0;
    period = (best + Math.max(-0.5, Math.min(0.5, offset))) / n;
  }
  return (60 * rate) / period;
}
