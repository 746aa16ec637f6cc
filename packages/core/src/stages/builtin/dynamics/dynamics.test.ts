import { BUILT_INS } from '../../../catalogue/builtIns.ts';
import { describe, expect, test } from 'vitest';
import { assign } from '../../../chain/edit.ts';
import { parseChain } from '../../../chain/validate.ts';
import type { Clip } from '../../../model/clip.ts';
import { finishRender, renderChain } from '../../../engine/offline/renderer.ts';
import { chainOf, renderOf } from '../../../testing/chains.ts';
import { PeakFinder } from '../../../dsp/peakFinder.ts';
import { clipOf, noise, sine } from '../../../testing/signals.ts';
import { above, decibels, transform } from '../../../testing/spectrum.ts';

const RATE = 48000;
const through = (kind: string, settings: object, source = sine(1000, 0.5, 2), sounds: object = {}) =>
  finishRender(renderChain(BUILT_INS, { chain: chainOf([{ kind, settings }]), source, ...sounds })).channels;
const peakOf = (samples: Float32Array, from = 0, to = samples.length) =>
  samples.subarray(from, to).reduce((most, x) => Math.max(most, Math.abs(x)), 0);
/** Level of the last half second against that of a tone that goes in. */
const gainAt = (kind: string, settings: object, level: number) =>
  decibels(peakOf(through(kind, settings, sine(1000, 10 ** (level / 20), 2))[0], 1.5 * RATE)) - level;
const tones = (parts: readonly (readonly [seconds: number, amplitude: number])[], frequency = 1000) =>
  clipOf([
    parts.flatMap(([seconds, amplitude]) =>
      Array.from({ length: seconds * RATE }, (_, i) => amplitude * Math.sin((2 * Math.PI * frequency * i) / RATE)),
    ),
  ]);

describe('compressor', () => {
  test.each([
    [-24, 4, 0],
    [-30, 2, 12],
    [-12, 20, 6],
  ])('threshold %d dB, ratio %d, knee %d dB: its curve within 0.2 dB', (threshold, ratio, knee) => {
    for (let level = -48; level <= 0; level += 6) {
      const over = level - threshold;
      const slope = 1 / ratio - 1;
      const curve =
        2 * over <= -knee ? 0 : 2 * over >= knee ? slope * over : (slope * (over + knee / 2) ** 2) / (2 * knee);
      const found = gainAt('compressor', { threshold, ratio, knee, makeUp: 0, release: 0.3, attack: 0.005 }, level);
      expect(Math.abs(found - curve), `${level} dB in`).toBeLessThan(0.2);
    }
  });

  test('takes hold within its attack and lets go within its release', () => {
    const source = tones([
      [1, 0.05],
      [1, 0.8],
      [2, 0.05],
    ]);
    const settings = { threshold: -20, ratio: 10, knee: 0, makeUp: 0, attack: 0.05, release: 0.2 };
    const [out] = through('compressor', settings, source);
    const gain = (seconds: number, amplitude: number) =>
      decibels(peakOf(out, seconds * RATE, seconds * RATE + 480) / amplitude);
    const full = gain(1.9, 0.8);
    expect(gain(1.001, 0.8)).toBeGreaterThan(-3);
    expect(gain(1.25, 0.8)).toBeCloseTo(full, 0);
    expect(gain(2.01, 0.05)).toBeLessThan(-10);
    expect(gain(3.5, 0.05)).toBeGreaterThan(-0.3);
  });

  test('follows the power where asked: a tone counts 3 dB less than its peak', () => {
    const settings = { threshold: -30, ratio: 2, knee: 0, makeUp: 0, attack: 0.02, release: 0.3 };
    const difference =
      gainAt('compressor', { ...settings, detector: 'power' }, -6) - gainAt('compressor', settings, -6);
    expect(difference).toBeCloseTo(1.5, 1);
  });

  test('listens to another sound, and not below where it listens from', () => {
    const beat = { sha256: 'a'.repeat(64), clip: sine(80, 0.9, 2) };
    const sounds = { sounds: () => beat };
    const settings = { side: { sound: 'beat' }, threshold: -40, ratio: 20, knee: 0, makeUp: 0 };
    const led = peakOf(through('compressor', settings, sine(1000, 0.01, 2), sounds)[0], RATE);
    expect(decibels(led / 0.01)).toBeCloseTo((1 / 20 - 1) * (decibels(0.9) + 40), 0);
    const cut = through('compressor', { ...settings, sideLowCut: 3000 }, sine(1000, 0.01, 2), sounds)[0];
    expect(decibels(peakOf(cut, RATE) / 0.01)).toBeGreaterThan(-1);
  });
});

describe('ducker', () => {
  test('goes down by its amount while the other sound is loud, and comes back', () => {
    const clip = tones([
      [1, 0.5],
      [3, 0],
    ]);
    const settings = { side: { sound: 'voice' }, threshold: -30, amount: 18, attack: 0.01, release: 0.2 };
    const [out] = through('ducker', settings, sine(500, 0.3, 4), { sounds: () => ({ sha256: '0', clip }) });
    expect(decibels(peakOf(out, 0.5 * RATE, RATE) / 0.3)).toBeCloseTo(-18, 0);
    expect(decibels(peakOf(out, 3.5 * RATE) / 0.3)).toBeCloseTo(0, 1);
  });

  test.each([-60, -30, -20, 0])('its curve at %d dB within 0.2 dB', (level) => {
    const t = Math.min(1, Math.max(0, (level + 30) / 6 + 0.5));
    const curve = -12 * t * t * (3 - 2 * t);
    expect(Math.abs(gainAt('ducker', { threshold: -30, amount: 12 }, level) - curve)).toBeLessThan(0.2);
  });
});

describe('gate', () => {
  test('is shut below its threshold and open above it, within 0.2 dB', () => {
    const settings = { threshold: -40, floor: -60, hysteresis: 0 };
    for (const level of [-70, -50, -43]) expect(gainAt('gate', settings, level)).toBeCloseTo(-60, 0);
    for (const level of [-38, -20, 0]) expect(Math.abs(gainAt('gate', settings, level))).toBeLessThan(0.2);
  });

  test('stays open through its hysteresis and its hold, then shuts', () => {
    const source = tones([
      [0.5, 0.5],
      [0.5, 10 ** (-43 / 20)],
      [1, 10 ** (-60 / 20)],
    ]);
    const [out] = through('gate', { threshold: -40, hysteresis: 6, hold: 0.2, release: 0.02, floor: -96 }, source);
    expect(peakOf(out, 0.9 * RATE, RATE) / 10 ** (-43 / 20)).toBeCloseTo(1, 2);
    expect(peakOf(out, 1.1 * RATE, 1.15 * RATE) / 1e-3).toBeCloseTo(1, 1);
    expect(decibels(peakOf(out, 1.6 * RATE, 2 * RATE))).toBeLessThan(-100);
  });
});

describe('limiter', () => {
  /** Peak between the samples, by a sixteenfold transform of the whole. */
  const truePeak = (samples: Float32Array) => {
    let n = 1;
    while (n < samples.length + 2048) n *= 2;
    const re = new Float64Array(16 * n);
    const im = new Float64Array(16 * n);
    const half = new Float64Array(n);
    half.set(samples, 1024);
    const halfIm = new Float64Array(n);
    transform(half, halfIm);
    for (let k = 0; k <= n / 2; k++) {
      const weight = k === n / 2 ? 0.5 : 1;
      re[k] = half[k] * weight;
      im[k] = -halfIm[k] * weight; // conjugated for the way back
      if (k === 0) continue;
      re[16 * n - k] = half[k] * weight;
      im[16 * n - k] = halfIm[k] * weight;
    }
    transform(re, im);
    return re.reduce((most, x) => Math.max(most, Math.abs(x)), 0) / n;
  };

  test.each([
    ['noise of the audible band', faded(audible(noise(16384))), 24],
    ['a tone at a quarter of the rate, between the samples', quarterTone(), 12],
    ['a tone of 17 kHz', sine(17321, 0.9, 0.3), 18],
    ['a burst', tones([[0.1, 0.001], [0.1, 1], [0.1, 0.01]]), 30], // prettier-ignore
  ])('%s: never above the ceiling by more than 0.1 dB true peak', (_, source, gain) => {
    for (const ceiling of [-1, -12]) {
      const [out] = through('limiter', { gain, ceiling, release: 0.01 }, source);
      const peak = decibels(truePeak(out.subarray(0, 16384)));
      expect(peak).toBeLessThan(ceiling + 0.1);
      expect(peak).toBeGreaterThan(ceiling - 1.5);
    }
  });

  test('leaves alone what stays below, to the sample, and holds a loud tone at the ceiling', () => {
    const quiet = noise(9600).channels[0].map((x) => 0.3 * x);
    const [out] = through('limiter', { gain: 0, ceiling: -1 }, clipOf([quiet]));
    expect(out.every((x, i) => Math.abs(x - quiet[i]) < 1e-6)).toBe(true);
    expect(Math.abs(gainAt('limiter', { gain: 12, ceiling: -6 }, -6) - 0)).toBeLessThan(0.2);
  });

  test('quiet beginnings before a peak are turned down ahead of it, not cut', () => {
    const burst = clipOf([[...new Float32Array(4800), ...sine(1000, 1, 0.2).channels[0].map((x) => 4 * x)]]);
    const out = renderOf(chainOf([{ kind: 'limiter', settings: { gain: 0, ceiling: -6 } }]), burst).channels[0];
    expect(peakOf(out, 0, 4700)).toBe(0);
    expect(decibels(peakOf(out, 4800))).toBeLessThan(-6);
  });
});

/** What no converter plays, above 20 kHz, has no place between the samples. */
function audible(clip: Clip): Clip {
  return clipOf(
    clip.channels.map((samples) => {
      const high = above(samples, 19_800, RATE);
      return samples.map((x, i) => x - high[i]);
    }),
  );
}

/** Without a step at its ends, which would ring between the samples by itself. */
function faded(clip: Clip): Clip {
  return clipOf(
    clip.channels.map((samples) =>
      samples.map((x, i) => x * Math.min(1, i / 500, Math.max(0, (samples.length - 600 - i) / 500))),
    ),
  );
}

function quarterTone() {
  return clipOf([Array.from({ length: 16384 }, (_, i) => 0.9 * Math.sin((Math.PI / 2) * i + Math.PI / 4))]);
}

describe('a branch as side input', () => {
  const chain = (side: object, lead: object[] = []) =>
    chainOf([
      {
        kind: 'split',
        settings: { mode: 'left/right' },
        branches: [
          { id: 'lead', stages: lead },
          {
            id: 'bed',
            stages: [{ id: 'duck', kind: 'ducker', settings: { side, threshold: -30, amount: 20, release: 0.1 } }],
          },
        ],
      },
    ]);
  const faultOf = (work: () => unknown) => {
    try {
      work();
    } catch (error) {
      return (error as Error).message;
    }
    return '';
  };
  /** On the left a tone for a second, then nothing; on the right a tone throughout. */
  const source = clipOf([
    Float32Array.from({ length: 3 * RATE }, (_, i) => (i < RATE ? 0.5 * Math.sin(i / 9) : 0)),
    sine(1000, 0.2, 3).channels[0],
  ]);

  test('leads: what the branch before gives is listened to, as it comes out of it', () => {
    const [, right] = renderOf(chain({ sound: '', branch: 'lead' }), source).channels;
    expect(decibels(peakOf(right, 0.5 * RATE, RATE) / 0.2)).toBeCloseTo(-20, 0);
    expect(decibels(peakOf(right, 2 * RATE) / 0.2)).toBeCloseTo(0, 1);
    const quiet = [{ id: 'low', kind: 'gain', settings: { gain: -36 } }];
    const [, led] = renderOf(chain({ sound: '', branch: 'lead' }, quiet), source).channels;
    expect(decibels(peakOf(led, 0.5 * RATE, RATE) / 0.2)).toBeGreaterThan(-1);
  });

  test('a loop is refused by name, and so is a branch that comes later or is none', () => {
    expect(faultOf(() => chain({ sound: '', branch: 'bed' }))).toContain(
      '"bed" that it stands in itself, which is a loop',
    );
    expect(faultOf(() => chain({ sound: '', branch: 'none' }))).toContain('branches before it are lead');
    const backwards = chain({ sound: '' }, [{ id: 'early', kind: 'gate', settings: {} }]);
    const text = JSON.parse(JSON.stringify(backwards)) as {
      stages: { branches: { stages: { settings: object }[] }[] }[];
    };
    Object.assign(text.stages[0].branches[0].stages[0].settings, { side: { sound: '', branch: 'bed' } });
    expect(faultOf(() => parseChain(BUILT_INS, text))).toContain('there is no branch before it');
    expect(faultOf(() => chainOf([{ kind: 'ducker', settings: { side: { sound: '', branch: 'lead' } } }]))).toContain(
      'Stage "ducker" (Ducker): sidechain is the branch "lead"',
    );
  });

  test('is typed as on a row', () => {
    const led = assign(BUILT_INS, chain({ sound: '' }), 'duck.side=branch lead');
    expect(led.stages[0].branches![1].stages[0].settings['side']).toEqual({ sound: '', branch: 'lead' });
  });
});

test('a peak finder passes over what stays below the ceiling, and finds all that rises above it', () => {
  // Quiet noise with bursts, so that the ceiling lies in the middle of it.
  const samples = Float64Array.from(noise(12800, RATE, 1, 4).channels[0], (x, i) => x * (i % 3000 < 500 ? 0.9 : 0.12));
  const found = (ceiling: number) => {
    const finder = new PeakFinder(128);
    const heights = new Float64Array(samples.length);
    for (let at = 0; at < samples.length; at += 128)
      finder.raise(samples.subarray(at, at + 128), heights.subarray(at, at + 128), 128, ceiling);
    return heights.map((height) => (height > 0.5 ? height : 0));
  };
  expect(found(0.5)).toEqual(found(0));
  expect(found(0).filter((height) => height > 0).length).toBeGreaterThan(300);
});
