import { describe, expect, test } from 'vitest';
import { frameCount } from '../../../model/clip.ts';
import { chainOf, renderOf } from '../../../testing/chains.ts';
import { clipOf, noise, sine } from '../../../testing/signals.ts';
import { cents, risingZeros } from '../../../testing/voice.ts';

const stretched = (settings: Record<string, unknown>) => chainOf([{ kind: 'stretch', settings }]);

describe('stretch', () => {
  test.each([0.25, 0.6, 1.7, 4])('%d times as long, to the frame; a sine stays within a cent and as loud', (factor) => {
    for (const mode of ['monophonic', 'polyphonic', 'percussive']) {
      const out = renderOf(stretched({ factor, mode }), sine(441.3, 0.5, 1.5)).channels[0];
      expect(out.length).toBe(Math.round(72_000 * factor));
      const middle = out.subarray(Math.round(0.2 * out.length), Math.round(0.8 * out.length));
      const zeros = risingZeros(middle);
      const hertz = (48000 * (zeros.length - 1)) / (zeros[zeros.length - 1] - zeros[0]);
      expect(Math.abs(cents(hertz, 441.3))).toBeLessThan(1);
      const peak = middle.reduce((most, sample) => Math.max(most, Math.abs(sample)), 0);
      expect(peak).toBeGreaterThan(0.48);
      expect(peak).toBeLessThan(0.52);
    }
  });

  test.each([0.5, 1.7, 4])(
    '%d times: every click of a train stands at its time within 5 ms and is as high',
    (factor) => {
      const clicks = new Float32Array(96_000);
      const places = [4800, 15_800, 26_800, 37_800, 48_800, 71_000];
      for (const place of places) clicks[place] = 0.9;
      const out = renderOf(stretched({ factor }), clipOf([clicks])).channels[0];
      for (const place of places) {
        const around = out.subarray(Math.max(0, place * factor - 2000), place * factor + 2000);
        const peak = around.reduce((best, sample, i) => (Math.abs(sample) > Math.abs(around[best]) ? i : best), 0);
        expect(Math.abs(peak - Math.min(2000, place * factor))).toBeLessThanOrEqual(240);
        expect(Math.abs(around[peak])).toBeGreaterThan(0.7);
      }
    },
  );

  test('places between left and right stay', () => {
    const tone = sine(600, 0.4, 1).channels[0];
    const out = renderOf(stretched({ factor: 2 }), clipOf([tone, tone.map((sample) => 0.25 * sample)]));
    out.channels[1].forEach((sample, i) => expect(Math.abs(sample - 0.25 * out.channels[0][i])).toBeLessThan(1e-5));
  });

  test('once is the sound itself', () => {
    expect(renderOf(stretched({ factor: 1 }), noise(5000))).toEqual(noise(5000));
  });
});

describe('smear', () => {
  const smeared = (settings: Record<string, unknown>, seed = 1) =>
    chainOf([{ kind: 'smear', settings }], { render: { tail: { mode: 'none' }, seed } });
  const power = (samples: Float32Array) => samples.reduce((sum, sample) => sum + sample * sample, 0) / samples.length;

  test('as long as said, as loud as before, without a ripple at the rate of the windows', () => {
    const source = noise(96_000);
    const out = renderOf(smeared({ factor: 20, window: 0.1 }), source).channels[0];
    expect(out.length).toBe(20 * 96_000);
    expect(10 * Math.log10(power(out) / power(source.channels[0]))).toBeCloseTo(0, 0);
    // Windows begin every quarter of a window.
    const hop = 1200;
    const frames = Math.floor(out.length / hop) * hop;
    let [re, im, all] = [0, 0, 0];
    for (let i = 0; i < frames; i++) {
      const energy = out[i] * out[i];
      all += energy;
      re += energy * Math.cos((2 * Math.PI * i) / hop);
      im += energy * Math.sin((2 * Math.PI * i) / hop);
    }
    expect(20 * Math.log10((2 * Math.hypot(re, im)) / all)).toBeLessThan(-40);
  });

  test('a tone keeps its pitch; the seed is heard', () => {
    const source = sine(440, 0.5, 1);
    const out = renderOf(smeared({ factor: 10, window: 0.5 }), source).channels[0];
    const zeros = risingZeros(out.subarray(48_000, 432_000));
    expect((48000 * (zeros.length - 1)) / (zeros[zeros.length - 1] - zeros[0])).toBeCloseTo(440, 0);
    expect(renderOf(smeared({ factor: 10 }, 2), source)).not.toEqual(renderOf(smeared({ factor: 10 }, 3), source));
  });

  test('left and right move apart or alike', () => {
    const source = noise(48_000);
    const wide = { ...source, channels: [source.channels[0], source.channels[0]] };
    const correlation = (sides: string) => {
      const [a, b] = renderOf(smeared({ factor: 4, sides }), wide).channels;
      return a.reduce((sum, sample, i) => sum + sample * b[i], 0) / a.length / Math.sqrt(power(a) * power(b));
    };
    expect(correlation('alike')).toBeGreaterThan(0.999);
    expect(Math.abs(correlation('apart'))).toBeLessThan(0.1);
  });

  test('a window longer than the clip is refused with the longest that is allowed', () => {
    expect(() => renderOf(smeared({ window: 2 }), noise(48_000))).toThrow('at most its length of 1 s is allowed');
  });

  test('too long a result is refused before the work', () => {
    expect(() => renderOf(smeared({ factor: 1000 }), noise(480_000, 48000, 2))).toThrow('30 minutes of stereo');
  });

  test('work comes in small steps that can be left at any time', () => {
    expect(frameCount(renderOf(smeared({ factor: 2, window: 0.02 }), noise(960)))).toBe(1920);
  });
});
