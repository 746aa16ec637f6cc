/**
 * What a script is given, in the language itself: one declaration for the compiler, the completion and the documents. Each
 * is the text of a function that makes it ready; the functions in it are what it can do.
 */

import { DOT_WIDTH } from './dotProduct.ts';

/** Something that a call takes. */
export interface Taken {
  readonly name: string;
  /** A number that is known at once, one of some words, or a function. */
  readonly takes: 'number' | 'function' | readonly string[];
  readonly min?: number;
  readonly max?: number;
}

export interface GivenFunction {
  /** What its arguments are called. */
  readonly takes: readonly string[];
  /** A sentence, with units. */
  readonly says: string;
}

/** Something that is made once in the outer function, and called for each sample. */
export interface GivenUnit {
  readonly takes: readonly Taken[];
  readonly says: string;
  /** Under '': what its own name is called for. */
  readonly functions: Readonly<Record<string, GivenFunction>>;
  /** Its text; `more`: names of further values that are handed to a function that it is given. */
  source(more: readonly string[]): string;
  /** Frames by which what comes out of it is late. */
  readonly latency?: number;
}

const SECONDS = (name: string, max: number): Taken => ({ name, takes: 'number', min: 0, max });

/** Frames on either side of a sample that the filters of `oversampled` reach. */
const REACH = 16;

export const GIVEN_UNITS: Readonly<Record<string, GivenUnit>> = {
  onePole: {
    takes: [],
    says: 'A filter of 6 dB an octave.',
    functions: {
      lowpass: { takes: ['x', 'frequency'], says: 'What lies below a frequency in Hz.' },
      highpass: { takes: ['x', 'frequency'], says: 'What lies above a frequency in Hz.' },
    },
    // The exact response to a step; the coefficient follows every 16 frames.
    source: () => `function make() {
      let low = 0;
      let gain = 0;
      let wait = 0;
      function lowpass(x, frequency) {
        if (wait === 0) {
          gain = 1 - Math.exp((-2 * Math.PI * Math.min(Math.max(frequency, 0), 0.49 * sampleRate)) / sampleRate);
          wait = 16;
        }
        wait -= 1;
        low += gain * (x - low);
        return low;
      }
      function highpass(x, frequency) { return x - lowpass(x, frequency); }
    }`,
  },
  filter: {
    takes: [{ name: 'kind', takes: ['lowpass', 'highpass', 'bandpass', 'notch', 'allpass'] }],
    says: 'A filter of 12 dB an octave (state variable).',
    functions: {
      '': {
        takes: ['x', 'frequency', 'q'],
        says: 'The filtered sample, by a frequency in Hz and a quality: 0.7 is flat, more rings.',
      },
    },
    // Trapezoidal integration (V. Zavalishin, The Art of VA Filter Design, 2012, chapter 4); coefficients every 16 frames.
    source: () => `function make() {
      let first = 0;
      let second = 0;
      let g = 0;
      let k = 1;
      let a = 1;
      let wait = 0;
      function run(x, frequency, q) {
        if (wait === 0) {
          g = Math.tan((Math.PI * Math.min(Math.max(frequency, 0), 0.49 * sampleRate)) / sampleRate);
          k = 1 / Math.max(q, 0.05);
          a = 1 / (1 + g * (g + k));
          wait = 16;
        }
        wait -= 1;
        const band = a * (first + g * (x - second));
        const low = second + g * band;
        first = 2 * band - first;
        second = 2 * low - second;
        return kind === 0 ? low : kind === 1 ? x - k * band - low : kind === 2 ? k * band : kind === 3 ? x - k * band : x - 2 * k * band;
      }
    }`,
  },
  allpass: {
    takes: [SECONDS('seconds', 2)],
    says: 'A delay that lets all frequencies through equally and smears them in time.',
    functions: {
      '': { takes: ['x', 'gain'], says: 'The smeared sample; a gain of 0 only delays, 0.7 smears much.' },
    },
    // M. R. Schroeder, Natural Sounding Artificial Reverberation, JAES 10 (1962).
    source: () => `function make() {
      const line = delayLine(seconds);
      function run(x, gain) {
        const held = Math.min(Math.max(gain, -0.99), 0.99);
        const late = line.read(seconds);
        const fed = x + held * late;
        line.write(fed);
        return late - held * fed;
      }
    }`,
  },
  oscillator: {
    takes: [{ name: 'shape', takes: ['sine', 'triangle', 'saw', 'square'] }],
    says: 'A wave from −1 to 1.',
    functions: { '': { takes: ['frequency'], says: 'The next value of the wave at a frequency in Hz.' } },
    // Steps are rounded by a polynomial (V. Välimäki, A. Huovilainen, IEEE Signal Processing Magazine 24 (2007)).
    source: () => `function make() {
      let phase = 0;
      function rounded(at, step) {
        if (at < step) {
          const t = at / step;
          return t + t - t * t - 1;
        }
        if (at > 1 - step) {
          const t = (at - 1) / step;
          return t * t + t + t + 1;
        }
        return 0;
      }
      function run(frequency) {
        const step = Math.min(Math.max(frequency / sampleRate, 0), 0.5);
        const at = phase;
        phase += step;
        if (phase >= 1) phase -= 1;
        if (shape === 0) return Math.sin(2 * Math.PI * at);
        if (shape === 1) return 1 - 4 * Math.abs(((at + 0.25) % 1) - 0.5);
        if (step === 0) return shape === 2 ? 2 * at - 1 : at < 0.5 ? 1 : -1;
        if (shape === 2) return 2 * at - 1 - rounded(at, step);
        return (at < 0.5 ? 1 : -1) + rounded(at, step) - rounded((at + 0.5) % 1, step);
      }
    }`,
  },
  smooth: {
    takes: [SECONDS('seconds', 60)],
    says: 'Lets a value glide.',
    functions: {
      '': { takes: ['value'], says: 'The value as it glides: after the seconds it has gone 63 % of the way.' },
    },
    source: () => `function make() {
      const gain = seconds > 0 ? 1 - Math.exp(-1 / (seconds * sampleRate)) : 1;
      let now = 0;
      let begun = false;
      function run(value) {
        now = begun ? now + gain * (value - now) : value;
        begun = true;
        return now;
      }
    }`,
  },
  follower: {
    takes: [SECONDS('attack', 60), SECONDS('release', 60)],
    says: 'Follows how loud a sound is.',
    functions: {
      '': {
        takes: ['x'],
        says: 'The level as an amplitude: it rises within the attack and falls within the release, in seconds.',
      },
    },
    source: () => `function make() {
      const rise = attack > 0 ? 1 - Math.exp(-1 / (attack * sampleRate)) : 1;
      const fall = release > 0 ? 1 - Math.exp(-1 / (release * sampleRate)) : 1;
      let level = 0;
      function run(x) {
        const size = Math.abs(x);
        level += (size > level ? rise : fall) * (size - level);
        return level;
      }
    }`,
  },
  oversampled: {
    takes: [
      { name: 'factor', takes: 'number', min: 2, max: 8 },
      { name: 'shape', takes: 'function' },
    ],
    says: `Works with 2, 4 or 8 samples for each one, so that what bends the sound adds no mirrored tones; ${2 * REACH} samples late.`,
    functions: {
      '': {
        takes: ['x'],
        says: 'The bent sample. Further values go on to the function, which takes them behind the sample.',
      },
    },
    latency: 2 * REACH,
    // A windowed sinc (J. F. Kaiser, 1974, β = 8), each way, cut into one filter for each sample between two. What has come
    // stands twice in a ring, so that it lies in one piece from the oldest on, wherever that is.
    source: (more) => {
      const values = more.map((name) => `, ${name}`).join('');
      return `function make() {
      const each = ${2 * REACH};
      const span = each + ${DOT_WIDTH};
      const across = each * factor + ${DOT_WIDTH};
      const taps = array(each * factor + 1);
      const up = array(span * factor);
      const down = array(across);
      const coming = array(2 * span);
      const going = array(2 * across);
      let newest = 0;
      let last = 0;
      function bessel(x) {
        let sum = 1;
        let term = 1;
        for (let n = 1; n < 30; n++) {
          term *= (x / (2 * n)) * (x / (2 * n));
          sum += term;
        }
        return sum;
      }
      let all = 0;
      for (let i = 0; i < each * factor + 1; i++) {
        const t = i / factor - each / 2;
        const u = t / (each / 2);
        const angle = Math.PI * t;
        taps[i] = (t === 0 ? 1 : Math.sin(angle) / angle) * bessel(8 * Math.sqrt(Math.max(0, 1 - u * u)));
        all += taps[i];
      }
      for (let i = 0; i < each * factor + 1; i++) down[across - 1 - i] = taps[i] / all;
      for (let phase = 0; phase < factor; phase++)
        for (let i = phase; i < each * factor + 1; i += factor)
          up[span * phase + span - 1 - (i - phase) / factor] = (taps[i] * factor) / all;
      function run(x${values}) {
        coming[newest] = x;
        coming[newest + span] = x;
        newest = newest === span - 1 ? 0 : newest + 1;
        let out = 0;
        for (let phase = 0; phase < factor; phase++) {
          const bent = shape(dot(up, span * phase, coming, newest, span)${values});
          going[last] = bent;
          going[last + across] = bent;
          last = last === across - 1 ? 0 : last + 1;
          if (phase === 0) out = dot(down, 0, going, last, across);
        }
        return out;
      }
    }`;
    },
  },
};

/** Functions that stand for themselves. */
export const GIVEN_FUNCTIONS: Readonly<Record<string, GivenFunction & { readonly source: string }>> = {
  clamp: {
    takes: ['x', 'low', 'high'],
    says: 'The number, but never below `low` nor above `high`.',
    source: 'function clamp(x, low, high) { return Math.max(low, Math.min(high, x)); }',
  },
  dB: {
    takes: ['decibels'],
    says: 'The factor that so many decibels are: dB(6) is 2.',
    // e to the power of ln 10 / 20 for each decibel.
    source: 'function dB(decibels) { return Math.exp(decibels * 0.1151292546497023); }',
  },
  ratioOf: {
    takes: ['semitones'],
    says: 'The ratio of frequencies that so many semitones are: ratioOf(12) is 2.',
    source: 'function ratioOf(semitones) { return Math.pow(2, semitones / 12); }',
  },
};

/** A number for each call, uniform from −1 to 1: a linear congruence (Knuth, 3.3.4) whose upper bits are mixed into the lower. */
export const NOISE_SOURCE = `function make() {
  let state = 1;
  function run() {
    state = (state * 1664525 + 1013904223) % 4294967296;
    const mixed = (state ^ (state >>> 15)) >>> 0;
    return mixed / 2147483648 - 1;
  }
}`;

/** What else there is, as it is told; `delayLine` and `array` are the compiler’s own. */
export const GIVEN_VALUES: Readonly<Record<string, { readonly written: string; readonly says: string }>> = {
  sampleRate: { written: 'sampleRate', says: 'Samples a second.' },
  tempo: { written: 'tempo', says: 'Quarter notes a minute.' },
  beat: { written: 'beat', says: 'Where the sample lies, in quarter notes from the first of the sound.' },
  seconds: { written: 'seconds', says: 'Where the sample lies, in seconds from the first of the sound.' },
  noise: {
    written: 'noise()',
    says: 'A number from −1 to 1, another one at each call: white noise. Left and right have their own; the same seed gives the same.',
  },
  array: {
    written: 'array(n)',
    says: 'So many numbers, 0 at the beginning: a[i] reads, a[i] = x writes. Outside it reads 0 and writes nothing.',
  },
  delayLine: {
    written: 'delayLine(seconds)',
    says: 'Memory of so many seconds: line.write(x) puts a sample in, line.read(seconds) gives the one of so long ago, between two samples by a cubic.',
  },
  watch: {
    written: "watch('name', value)",
    says: 'Draws a value beside the sound while it plays; at most 16.',
  },
};
