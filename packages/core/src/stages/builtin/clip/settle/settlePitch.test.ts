import { describe, expect, test } from 'vitest';
import { trackPitch } from '../../../../dsp/pitchTrack.ts';
import type { Clip } from '../../../../model/clip.ts';
import { chainOf, renderOf } from '../../../../testing/chains.ts';
import { finish } from '../../../../testing/finish.ts';
import { clipOf, noise, sine } from '../../../../testing/signals.ts';
import { cents, formantOf, pitchBy, vowel } from '../../../../testing/voice.ts';
import { settledPitch } from './settledPitch.ts';

const G3 = 196;
const B3 = 246.942;
const A3 = 220;
const settled = (settings: Record<string, unknown>) =>
  chainOf([{ kind: 'settlePitch', settings: { note: 57, ...settings } }]);
const glide = vowel((t) => G3 * (B3 / G3) ** (t / 2), 2);

describe('what the pitch is', () => {
  test('of a glide: within 2 cents of what was sung, without octave errors', () => {
    const { pitches, hop } = finish(trackPitch(glide.channels, 48000, { lowest: 70, highest: 900 }));
    const inside = [...pitches.keys()].slice(8, -8);
    for (const n of inside) expect(Math.abs(cents(pitches[n], G3 * (B3 / G3) ** ((n * hop) / 96_000)))).toBeLessThan(2);
  });

  test('of voices from 80 to 700 Hz with vibrato and noise: octave errors under 0.5 %', () => {
    let wrong = 0;
    let all = 0;
    for (const pitch of [80, 110, 160, 230, 330, 480, 700]) {
      const sung = vowel((t) => pitch * 2 ** (0.04 * Math.sin(2 * Math.PI * 5.5 * t)), 0.8);
      const hiss = noise(sung.channels[0].length, 48000, 1, pitch).channels[0];
      const samples = sung.channels[0].map((sample, i) => sample + 0.01 * hiss[i]);
      const { pitches } = finish(trackPitch([samples], 48000, { lowest: 60, highest: 1000 }));
      const inside = [...pitches].slice(8, -8);
      all += inside.length;
      wrong += inside.filter((hertz) => hertz > 0 && Math.abs(Math.log2(hertz / pitch)) > 0.5).length;
      expect(inside.filter((hertz) => hertz === 0).length).toBeLessThan(0.02 * inside.length);
    }
    expect(wrong / all).toBeLessThan(0.005);
  });

  test('of noise and of silence: none', () => {
    for (const { channels } of [noise(24_000), clipOf([new Float32Array(24_000)])]) {
      const { pitches } = finish(trackPitch(channels, 48000, { lowest: 70, highest: 900 }));
      expect([...pitches].filter((hertz) => hertz > 0).length).toBeLessThan(0.1 * pitches.length);
    }
  });
});

describe('settle pitch', () => {
  test('a glide from G3 to B3 pulled to A3: every voiced moment within 5 cents', () => {
    const out = renderOf(settled({}), glide).channels[0];
    for (let frame = 4800; frame < 91_200; frame += 2400)
      expect(Math.abs(cents(pitchBy(out, frame, 180, 280), A3))).toBeLessThan(5);
  });

  test('half the amount goes half the way; movement leaves the vibrato; amount 0 changes nothing', () => {
    const low = vowel(() => 208, 1);
    const half = renderOf(settled({ amount: 0.5 }), low).channels[0];
    expect(cents(pitchBy(half, 24_000, 180, 280), Math.sqrt(208 * A3))).toBeCloseTo(0, -1);
    const vibrato = vowel((t) => 208 * 2 ** (0.03 * Math.sin(2 * Math.PI * 6 * t)), 1);
    const spread = (movement: number) => {
      const out = renderOf(settled({ movement }), vibrato).channels[0];
      const pitches = Array.from({ length: 20 }, (_, n) => pitchBy(out, 12_000 + n * 1000, 180, 280));
      return cents(Math.max(...pitches), Math.min(...pitches));
    };
    expect(spread(1)).toBeGreaterThan(40);
    expect(spread(0)).toBeLessThan(10);
    expect(renderOf(settled({ amount: 0 }), low)).toEqual(low);
  });

  test('formants stay, or move with the pitch', () => {
    const low = vowel(() => 165, 1);
    const first = ({ channels }: Clip, pitch: number) => formantOf(channels[0], pitch, 400, 1000, 32_768);
    const before = first(low, 165);
    expect(Math.abs(first(renderOf(settled({ formants: 0 }), low), A3) / before - 1)).toBeLessThan(0.08);
    expect(first(renderOf(settled({ formants: 1 }), low), A3) / before).toBeGreaterThan(1.2);
  });

  test('what has no pitch stays as it is', () => {
    const hiss = noise(48_000);
    const out = renderOf(settled({}), hiss).channels[0];
    let difference = 0;
    for (let i = 2000; i < 46_000; i++) difference += (out[i] - hiss.channels[0][i]) ** 2;
    expect(difference / 44_000).toBeLessThan(0.02);
  });

  test('a range upside down is refused', () => {
    expect(() => renderOf(settled({ lowest: 400, highest: 300 }), sine(440, 0.5, 0.2))).toThrow(
      'has to be above the lowest',
    );
  });
});

describe('notes of a scale', () => {
  const track = (keys: readonly number[]) => ({
    sampleRate: 48000,
    hop: 240,
    pitches: Float64Array.from(keys, (key) => (key === 0 ? 0 : 440 * 2 ** ((key - 69) / 12))),
  });
  const run = (keys: readonly number[], scale: 'major' | 'minor' | 'chromatic' | 'pentatonic' | 'nearest note') => {
    const { pitches } = settledPitch(track(keys), { scale, note: 60, amount: 1, movement: 0, glide: 0 });
    return [...pitches].map((hertz) => (hertz === 0 ? 0 : Math.round(100 * (69 + 12 * Math.log2(hertz / 440))) / 100));
  };
  const sung = (key: number) => Array.from({ length: 100 }, () => key);

  test.each([
    ['major', 61.6, 62],
    ['minor', 63.8, 63],
    ['chromatic', 61.4, 61],
    ['pentatonic', 65.2, 64],
    ['nearest note', 68.4, 68],
  ] as const)('%s: %d goes to %d', (scale, key, note) => {
    expect(run(sung(key), scale)[50]).toBe(note);
  });

  test('near the middle between two notes it does not flutter', () => {
    const wavering = Array.from({ length: 400 }, (_, n) => 60.5 + 0.1 * Math.sin(n / 30));
    expect(new Set(run(wavering, 'chromatic')).size).toBe(1);
  });

  test('each stretch has its own nearest note, and pauses stay', () => {
    expect(
      run([...sung(60.3), 0, 0, ...sung(64.2)], 'nearest note').filter((_, n) => n === 50 || n === 100 || n === 150),
    ).toEqual([60, 0, 64]);
  });
});
