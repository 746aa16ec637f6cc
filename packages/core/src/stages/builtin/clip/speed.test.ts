import { describe, expect, test } from 'vitest';
import { clipEnd, frameCount } from '../../../model/clip.ts';
import { chainOf, renderOf } from '../../../testing/chains.ts';
import { clipOf, noise, sine } from '../../../testing/signals.ts';
import { decibels, spectrumOf } from '../../../testing/spectrum.ts';
import { cents, risingZeros } from '../../../testing/voice.ts';
import { bend } from './bend.ts';

const SECONDS = 1.5;
const N = SECONDS * 48000;

describe('speed', () => {
  const faster = (settings: Record<string, unknown>) =>
    chainOf([{ kind: 'speed', settings: { interval: 0, ...settings } }]);

  test('an octave up is half as long, ratio and interval count together', () => {
    expect(frameCount(renderOf(faster({ interval: 12 }), noise(10_000)))).toBe(5000);
    expect(frameCount(renderOf(faster({ ratio: 0.5 }), noise(10_000)))).toBe(20_000);
    expect(frameCount(renderOf(faster({ ratio: 2, interval: -12 }), noise(10_000)))).toBe(10_000);
  });

  test('aliases and images lie below −96 dB', () => {
    // At twice the speed 14 kHz would fold down from 28 kHz; at half, 9 kHz has an image at 15 kHz.
    const folded = renderOf(faster({ ratio: 2 }), sine(14_000, 0.9, 1)).channels[0].subarray(4000, 20_000);
    expect(decibels(Math.max(...folded.map(Math.abs)))).toBeLessThan(-96);
    const slow = renderOf(faster({ ratio: 0.5 }), sine(18_000, 0.9, 1)).channels[0];
    const { bins, hertz } = spectrumOf(slow.subarray(20_000, 20_000 + 32_768), 48000);
    const power = (from: number, to: number) =>
      decibels(Math.max(...bins.subarray(Math.round(from / hertz), Math.round(to / hertz))));
    expect(power(12_000, 24_000) - power(8900, 9100)).toBeLessThan(-96);
  });

  test('what lies before the source gets shorter with it', () => {
    const chain = chainOf(
      [
        { kind: 'reverse' },
        { kind: 'hall', settings: { decay: 0.5 } },
        { kind: 'reverse' },
        { kind: 'speed', settings: { interval: 12 } },
      ],
      { render: { tail: { mode: 'fixed', length: 1 } } },
    );
    const out = renderOf(chain, noise(10_000));
    expect(out.origin).toBe(-24_000);
    expect(clipEnd(out)).toBe(5000);
  });
});

describe('bend', () => {
  const bent = (settings: Record<string, unknown>) =>
    chainOf([
      {
        kind: 'bend',
        settings: {
          speed: {
            over: 'clip',
            points: [
              { at: 0, value: 12 },
              { at: 1, value: -12 },
            ],
          },
          ...settings,
        },
      },
    ]);
  const semitonesAt = (share: number) => 12 - 24 * share;
  /** Frames that the clip takes up to a share of it, summed up in steps a tenth of a frame long. */
  const timeAt = (share: number) => {
    const steps = Math.round(10 * N * share);
    let time = 0;
    for (let i = 0; i < steps; i++) time += 0.1 / 2 ** (semitonesAt((i + 0.5) / (10 * N)) / 12);
    return time;
  };

  test('free: as long as the integral of the inverse speed, within a frame; a sine follows the curve within 3 cents', () => {
    const out = renderOf(bent({}), sine(440, 0.5, SECONDS)).channels[0];
    expect(Math.abs(out.length - timeAt(1))).toBeLessThanOrEqual(1);
    const zeros = risingZeros(out);
    for (const share of [0.1, 0.3, 0.5, 0.7, 0.9]) {
      const time = timeAt(share);
      const k = zeros.findIndex((zero) => zero > time);
      const hertz = 48000 / (zeros[k] - zeros[k - 1]);
      expect(Math.abs(cents(hertz, 440 * 2 ** (semitonesAt(share) / 12)))).toBeLessThan(3);
    }
  });

  test('kept: as long as before; all of it plays, higher or lower by one interval', () => {
    const out = renderOf(bent({ length: 'kept' }), sine(440, 0.5, SECONDS)).channels[0];
    expect(out.length).toBe(N);
    let distance = 0;
    for (let i = 0; i < N; i++) distance += 2 ** (semitonesAt((i + 0.5) / N) / 12);
    const zeros = risingZeros(out);
    expect(zeros.length).toBeCloseTo(440 * SECONDS, -1);
    for (const share of [0.1, 0.5, 0.9]) {
      const k = zeros.findIndex((zero) => zero > share * N);
      const wanted = (440 * 2 ** (semitonesAt(share) / 12) * N) / distance;
      expect(Math.abs(cents(48000 / (zeros[k] - zeros[k - 1]), wanted))).toBeLessThan(3);
    }
  });

  test('again and again: each time what came out before', () => {
    const fall = {
      speed: {
        over: 'clip',
        points: [
          { at: 0, value: 0 },
          { at: 1, value: -12 },
        ],
      },
    };
    const source = sine(300, 0.5, 0.5);
    const once = renderOf(bent(fall), source);
    const twice = renderOf(bent({ ...fall, times: 2 }), source);
    expect(twice.channels).toEqual(renderOf(bent(fall), { ...once, origin: 0 }).channels);
  });

  test('a curve over beats holds its last value behind its end; a step is a step', () => {
    const step = {
      over: 'beats',
      points: [
        { at: 0, value: 0 },
        { at: 1, value: 0 },
        { at: 1, value: 12 },
      ],
    };
    const out = renderOf(bent({ speed: step }), sine(500, 0.5, 1)).channels[0];
    expect(Math.abs(out.length - (24_000 + 12_000))).toBeLessThanOrEqual(1);
    const zeros = risingZeros(out);
    const periodAt = (frame: number) => {
      const k = zeros.findIndex((zero) => zero > frame);
      return zeros[k] - zeros[k - 1];
    };
    expect(periodAt(23_000)).toBeCloseTo(96, 3);
    expect(periodAt(25_000)).toBeCloseTo(48, 3);
  });

  test('one value is plain speed', () => {
    const still = { speed: { over: 'clip', points: [{ at: 0, value: -7 }] } };
    const out = renderOf(bent(still), noise(8000)).channels[0];
    const plain = renderOf(chainOf([{ kind: 'speed', settings: { interval: -7 } }]), noise(8000)).channels[0];
    expect(out.length).toBe(plain.length);
    out.forEach((sample, i) => expect(sample).toBeCloseTo(plain[i], 4));
  });

  test('too long to be held is refused before the work', () => {
    const slow = { speed: { over: 'clip', points: [{ at: 0, value: -48 }] }, times: 3 };
    expect(() => renderOf(bent(slow), clipOf([new Float32Array(100_000)]))).toThrow('30 minutes of stereo');
  });
});

describe('bend with the rest unchanged', () => {
  const bentBy = (points: readonly (readonly [number, number])[], over = 'seconds') =>
    chainOf([
      {
        kind: 'bend',
        settings: { length: 'rest', speed: { over, points: points.map(([at, value]) => ({ at, value, bend: 0 })) } },
      },
    ]);

  test.each([44100, 48000, 96000])(
    'behind the last breakpoint every sample is the sound’s own, before it the pitch falls, at %d Hz',
    (rate) => {
      const source = sine(400, 0.5, 2, rate);
      const out = renderOf(
        bentBy([
          [0, -12],
          [0.75, -12],
        ]),
        source,
      );
      const end = Math.round(0.75 * rate);
      expect(frameCount(out)).toBe(frameCount(source));
      expect(out.channels[0].subarray(end)).toEqual(source.channels[0].subarray(end));
      const joint = Math.round(0.01 * rate);
      const zeros = risingZeros(out.channels[0].subarray(Math.round(0.1 * rate), end - joint));
      const period = (zeros[zeros.length - 1] - zeros[0]) / (zeros.length - 1);
      expect(Math.abs(cents(rate / period, 200))).toBeLessThan(3);
    },
  );

  test('what runs too fast goes on into the sound beyond; the joint is a crossfade of 10 ms without a click', () => {
    const source = sine(300, 0.5, 2);
    const out = renderOf(
      bentBy([
        [0, 12],
        [0.5, 12],
      ]),
      source,
    ).channels[0];
    const zeros = risingZeros(out.subarray(2000, 23_000));
    const period = (zeros[zeros.length - 1] - zeros[0]) / (zeros.length - 1);
    expect(Math.abs(cents(48000 / period, 600))).toBeLessThan(3);
    const steps = Array.from(out.subarray(23_000, 25_000), (x, i) => Math.abs(x - out[22_999 + i]));
    // A sine of 600 Hz of 0.5 rises by 0.04 from sample to sample.
    expect(Math.max(...steps)).toBeLessThan(0.045);
  });

  test('in a region it ends with the region, and says what is cut or filled', () => {
    const says = (value: number) =>
      bend.runs === 'offline'
        ? bend.says?.(
            { speed: { over: 'clip', points: [{ at: 0, value, bend: 0 }] }, length: 'rest', times: 1 } as never,
            24_000,
            48000,
          )
        : '';
    expect(says(0)).toContain('0 s');
    const whole = (value: number) =>
      bend.runs === 'offline'
        ? bend.says?.(
            {
              speed: { over: 'clip', points: [0, 1].map((at) => ({ at, value, bend: 0 })) },
              length: 'rest',
              times: 1,
            } as never,
            24_000,
            48000,
          )
        : '';
    expect(whole(-12)).toContain('500 ms of it come too late');
    expect(whole(12)).toContain('250 ms are filled');
    expect(whole(0)).toContain('nothing is cut or filled');
  });
});
