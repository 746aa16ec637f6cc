import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Clip } from '../../../model/clip.ts';
import { chainOf, renderOf } from '../../../testing/chains.ts';
import { LiveRun } from '../../../testing/live.ts';
import { runs } from '../../../testing/long.ts';
import { clipOf, impulse, noise, sine } from '../../../testing/signals.ts';
import { above, decibels, responseAt } from '../../../testing/spectrum.ts';

const RATE = 48000;
/** Nothing in the loop but the line. */
const PLAIN = { layout: 'single', time: 0.1, feedback: 0.5, lowCut: 20, highCut: 20000 };
const loopOf = (stages: object[]) => [{ id: 'loop', stages }];
const echoOf = (settings: object = {}, stages: object[] = []) =>
  chainOf([{ kind: 'echo', settings: { ...PLAIN, ...settings }, branches: loopOf(stages) }]);
const through = (settings: object, source: Clip, stages: object[] = []) =>
  renderOf(echoOf(settings, stages), source).channels;
const peak = (samples: ArrayLike<number>, from = 0, to = samples.length) =>
  Array.from({ length: to - from }, (_, i) => Math.abs(samples[from + i])).reduce((a, b) => Math.max(a, b), 0);
const click = (seconds: number, at = 0, channels = 1) => impulse(at, seconds * RATE, RATE, channels);

describe('repeats', () => {
  test.each([0.001, 0.0123, 0.1, 0.5, 1.9])('the first lies at %d s, within a sample, at full level', (time) => {
    const [out] = through({ time, feedback: 0 }, click(time + 0.1));
    const at = out.findIndex((x) => Math.abs(x) > 0.3);
    expect(Math.abs(at - time * RATE)).toBeLessThanOrEqual(1);
    expect(peak(out, 0, at - 4)).toBeLessThan(0.1);
  });

  test('each is smaller than the one before by the feedback, within 0.1 dB', () => {
    const [out] = through({ feedback: 0.7 }, click(1.2));
    for (let n = 1; n <= 11; n++) {
      const level = responseAt(out.subarray(n * 4800 - 200, n * 4800 + 2400), 1000, RATE);
      expect(Math.abs(decibels(level) - decibels(0.7 ** (n - 1))), `repeat ${n}`).toBeLessThan(0.1);
    }
  });

  test('pass the cuts again each time: the n-th shows n times the dB', () => {
    const [out] = through({ time: 0.2, feedback: 1, lowCut: 400, highCut: 3000 }, click(1.2));
    const of = (n: number, hertz: number) =>
      decibels(responseAt(out.subarray(n * 9600 - 500, n * 9600 + 9000), hertz, RATE));
    for (const hertz of [200, 5000]) {
      expect(of(1, hertz)).toBeLessThan(-3);
      for (const n of [2, 3, 4]) expect(of(n, hertz) / of(1, hertz)).toBeCloseTo(n, 1);
    }
  });

  test('pass the stages in the loop again each time, however late those are', () => {
    const [halved] = through({ feedback: 1 }, click(0.6), [{ id: 'down', kind: 'gain', settings: { gain: -6 } }]);
    for (const n of [1, 2, 3, 4]) expect(decibels(peak(halved, n * 4800, n * 4800 + 2))).toBeCloseTo(-6 * n, 1);
    const late = { id: 'deep', kind: 'transpose', settings: { interval: 0, formants: 'moved' } };
    const [held] = through({ time: 0.2, feedback: 0.8 }, sineBurst(0.02), [late]);
    const [free] = through({ time: 0.2, feedback: 0.8 }, sineBurst(0.02));
    expect(peak(held.map((x, i) => x - free[i]))).toBeLessThan(1e-3);
  });

  test.each([
    [
      'left/right',
      [0.1, 0.15],
      [
        [0.1, 0.2],
        [0.15, 0.3],
      ],
    ],
    [
      'crossed',
      [0.1, 0.15],
      [
        [0.1, 0.25],
        [0.15, 0.25],
      ],
    ],
  ] as const)('%s: each side has its own time', (layout, [time, secondTime], expected) => {
    // prettier-ignore
    const out = through({ layout, time, secondTime, feedback: 0.5 }, click(0.29));
    expected.forEach((times, side) => {
      const found = [...out[side].keys()].filter((i) => Math.abs(out[side][i]) > 0.2).map((i) => i / RATE);
      times
        .filter((seconds) => seconds < 0.29)
        .forEach((seconds) => expect(found.some((at) => Math.abs(at - seconds) <= 1.01 / RATE)).toBe(true));
    });
  });

  test('middle and sides: a mono sound gives nothing at the time of the sides, a one-sided one both', () => {
    const settings = { layout: 'middle/sides', time: 0.1, secondTime: 0.13, feedback: 0.4 };
    const mono = through(settings, click(0.4, 0, 2));
    expect(peak(mono[0], 0.129 * RATE, 0.131 * RATE)).toBeLessThan(1e-3);
    expect(mono[0]).toEqual(mono[1]);
    const left = clipOf([click(0.4).channels[0], new Float32Array(0.4 * RATE)]);
    const sided = through(settings, left);
    expect(sided[0][0.13 * RATE]).toBeCloseTo(0.5, 3);
    expect(sided[1][0.13 * RATE]).toBeCloseTo(-0.5, 3);
  });
});

function sineBurst(seconds: number): Clip {
  const burst = new Float32Array(RATE);
  for (let i = 0; i < seconds * RATE; i++)
    burst[i + 2400] = 0.5 * Math.sin((2 * Math.PI * 1000 * i) / RATE) * Math.sin((Math.PI * i) / (seconds * RATE)) ** 2;
  return clipOf([burst]);
}

describe('the loop is bounded', () => {
  test.each([
    ['single', 1.1, []],
    ['crossed', 1.1, []],
    ['middle/sides', 1.1, []],
    ['single', 1, [{ id: 'up', kind: 'gain', settings: { gain: 12 } }]],
  ])('%s at %d for a minute: finite, below +6 dBFS, no direct current', (layout, feedback, stages) => {
    const loud = clipOf([
      Float32Array.from({ length: 60 * RATE }, (_, i) => (i < RATE ? 0.5 + 0.5 * Math.sin(i / 20) : 0)),
    ]);
    const out = through({ layout, feedback, time: 0.25, secondTime: 0.31 }, loud, stages);
    for (const side of out) {
      expect(side.every(Number.isFinite)).toBe(true);
      expect(decibels(peak(side))).toBeLessThan(6);
      const end = side.subarray(side.length - 20 * RATE);
      const mean = end.reduce((sum, x, i) => sum + x * (1 - Math.cos((2 * Math.PI * i) / end.length)), 0) / end.length;
      expect(Math.abs(mean)).toBeLessThan(1e-3);
      expect(peak(end)).toBeGreaterThan(0.1);
    }
  });
});

describe('a change of the time', () => {
  const jump = (settings: object) => {
    const live = new LiveRun(echoOf({ ...settings, time: 0.1, feedback: 0 }), sine(500, 0.5, 1, RATE, 2));
    live.run(0.5 * RATE);
    live.change(echoOf({ ...settings, time: 0.2, feedback: 0 }));
    live.run(1.5 * RATE);
    return Float32Array.from(live.heard[0]);
  };

  test.each(['crossfade', 'cut'])('by %s makes no step and bends no pitch', (change) => {
    const out = jump({ change });
    const steps = out.slice(1).map((x, i) => Math.abs(x - out[i]));
    // The tone's own greatest step, and a little for the fade.
    expect(Math.max(...steps)).toBeLessThan(1.3 * 0.5 * 2 * Math.sin((Math.PI * 500) / RATE));
    expect(decibels(peak(above(out, 8000, RATE), 0.4 * RATE, 1.5 * RATE))).toBeLessThan(-60);
  });

  test('by glide the pitch falls by as much as the time grows, and comes back', () => {
    const out = jump({ change: 'glide', glide: 0.5 });
    const crossings: number[] = [];
    for (let i = 0.3 * RATE; i < out.length - 1; i++)
      if (out[i] < 0 && out[i + 1] >= 0) crossings.push(i + out[i] / (out[i] - out[i + 1]));
    // The periods that are missing at the end are those the longer delay has swallowed: 0.1 s of 500 Hz.
    const last = crossings.at(-1)!;
    const periods = crossings.length - 1;
    expect((last - crossings[0]) / (RATE / 500) - periods).toBeCloseTo(50, 1);
    const pitches = crossings.slice(1).map((x, n) => RATE / (x - crossings[n]));
    expect(Math.min(...pitches)).toBeLessThan(400);
    expect(pitches.at(-1)).toBeCloseTo(500, 0);
  });
});

describe('what lives in it', () => {
  test('movement and unsteadiness bend the pitch by as much as is set', () => {
    const spread = (settings: object) => {
      const [out] = through({ feedback: 0, time: 0.3, ...settings }, sine(1000, 0.5, 8));
      const crossings: number[] = [];
      for (let i = RATE; i < out.length - 1; i++)
        if (out[i] < 0 && out[i + 1] >= 0) crossings.push(i + out[i] / (out[i] - out[i + 1]));
      const cents = crossings.slice(1).map((x, n) => 1200 * Math.log2(RATE / (x - crossings[n]) / 1000));
      return Math.max(...cents.map(Math.abs));
    };
    expect(spread({})).toBeLessThan(0.1);
    // A swing of ±A/2 at f bends by πfA.
    expect(spread({ movement: 0.004, movementRate: 1 })).toBeCloseTo(1200 * Math.log2(1 + Math.PI * 0.004), 0);
    expect(spread({ flutter: 20, flutterRate: 6 }) / 20).toBeCloseTo(1, 1);
    expect(spread({ drift: 30, driftRate: 1 })).toBeGreaterThan(10);
    expect(spread({ drift: 30, driftRate: 1 })).toBeLessThan(61);
  });

  test('the noise is there with the repeats and goes with them', () => {
    const source = clipOf([Float32Array.from({ length: 3 * RATE }, (_, i) => (i < RATE ? 0.3 * Math.sin(i / 10) : 0))]);
    const [out] = through({ noise: -40, noiseColour: 8000, feedback: 0 }, source);
    const [clean] = through({ feedback: 0 }, source);
    const bed = out.map((x, i) => x - clean[i]);
    // Uniform noise at −40 dB peaks there.
    expect(decibels(peak(bed, 0.5 * RATE, RATE))).toBeCloseTo(-40, 0);
    expect(decibels(peak(bed, 2.8 * RATE))).toBeLessThan(-90);
    expect(peak(through({ noise: -40 }, clipOf([new Float32Array(RATE)]))[0])).toBe(0);
  });

  test('ducking: repeats give way while the sound is there and come back in its gaps', () => {
    const source = clipOf([Float32Array.from({ length: 2 * RATE }, (_, i) => (i < RATE ? 0.5 * Math.sin(i / 7) : 0))]);
    const settings = { time: 0.3, feedback: 0.9, ducking: 20, duckingThreshold: -30, recovery: 0.1 };
    const [ducked] = through(settings, source);
    const [plain] = through({ ...settings, ducking: 0 }, source);
    expect(decibels(peak(ducked, 0.8 * RATE, RATE) / peak(plain, 0.8 * RATE, RATE))).toBeCloseTo(-20, 0);
    expect(peak(ducked, 1.8 * RATE) / peak(plain, 1.8 * RATE)).toBeCloseTo(1, 1);
  });

  test.each(['before', 'inside', 'after'])('diffusion %s the loop smears, and the energy stays', (diffusionPlace) => {
    const energy = (samples: Float32Array) => samples.reduce((sum, x) => sum + x * x, 0);
    const [out] = through({ time: 0.3, feedback: 0.5, diffusion: 1, diffusionPlace }, click(2));
    const second = out.subarray(0.6 * RATE, 0.89 * RATE);
    expect(peak(second)).toBeLessThan(0.2);
    expect(energy(second) / energy(out.subarray(0.3 * RATE, 0.59 * RATE))).toBeCloseTo(0.25, 1);
  });

  test.each([12, 24, 36])(
    'drive of %d dB: repeats keep the set feedback, soft ones to the hair, and loud ones get rougher',
    (drive) => {
      const rms = (x: Float32Array) => Math.sqrt(x.reduce((sum, y) => sum + y * y, 0) / x.length);
      for (const rate of [44100, 96000])
        for (const [amplitude, within] of [
          [0.0001, 0.1],
          [0.01, 1],
          [0.5, 1],
        ]) {
          const burst = sine(500, amplitude, 1.2, rate).channels[0].map((x, i) => (i < 0.1 * rate ? x : 0));
          const source = { sampleRate: rate, origin: 0, channels: [burst] };
          const [out] = through({ drive, time: 0.25, feedback: 0.7 }, source);
          const repeat = (n: number) => out.subarray((0.25 * n + 0.03) * rate, (0.25 * n + 0.1) * rate);
          for (const n of [1, 2, 3, 4]) {
            const level = decibels(rms(repeat(n)) / (amplitude * Math.SQRT1_2 * 0.7 ** (n - 1)));
            expect(Math.abs(level), `${amplitude} ${n}`).toBeLessThan(within);
          }
          const third = responseAt(repeat(1), 1500, rate) / responseAt(repeat(1), 500, rate);
          if (amplitude === 0.5) expect(decibels(third)).toBeGreaterThan(-25);
          if (amplitude === 0.0001) expect(decibels(third)).toBeLessThan(-50);
        }
    },
  );

  test.each([44100, 48000, 96000])(
    'at %d Hz no more than 0.1 dB is lost at 15 kHz a pass, wherever between frames the time lies',
    (rate) => {
      fc.assert(
        fc.property(fc.double({ min: 0.004, max: 0.3, noNaN: true }), (time) => {
          const [out] = through({ time, feedback: 1 }, impulse(0, Math.round(4.5 * time * rate), rate));
          const level = (n: number, hertz: number) =>
            responseAt(out.subarray(Math.max(0, (n - 0.4) * time * rate), (n + 0.4) * time * rate), hertz, rate);
          for (const hertz of time > 0.02 ? [1000, 9000, 15_000] : [9000, 15_000])
            for (const n of [1, 2, 3, 4])
              expect(Math.abs(decibels(level(n, hertz))), `${n} ${hertz}`).toBeLessThan(0.1 * n);
        }),
        { numRuns: runs(5, 400) },
      );
    },
  );

  test('the cuts swing by a wave and rate of their own', () => {
    const source = noise(4 * RATE, RATE);
    const wobble = (settings: object) => {
      const [out] = through({ feedback: 0, highCut: 2000, filterMovement: 2, movement: 0, ...settings }, source);
      const high = above(out, 3000, RATE);
      // Loudness of the highs in tenths of a second: how often it crosses its middle.
      const levels = Array.from({ length: 38 }, (_, n) =>
        high.subarray((n + 1.5) * 4800, (n + 2.5) * 4800).reduce((sum, x) => sum + x * x, 0),
      );
      const middle = Math.sqrt(Math.max(...levels) * Math.min(...levels));
      return levels.filter((x, n) => n > 0 && x >= middle !== levels[n - 1] >= middle).length;
    };
    expect(wobble({ filterRate: 2, movementRate: 0.1 })).toBeGreaterThanOrEqual(13);
    expect(wobble({ filterRate: 0.25, movementRate: 5 })).toBeLessThanOrEqual(4);
  });
});

test('a stage in the loop that widens, delays and saturates stays bounded at any feedback', () => {
  const stages = [
    { id: 'hall', kind: 'hall', mix: 0.5, settings: { decay: 1 } },
    { id: 'crush', kind: 'crush' },
    { id: 'deep', kind: 'transpose', settings: { interval: 7 } },
  ];
  const out = through({ layout: 'crossed', feedback: 1.1, time: 0.2 }, noise(2 * RATE), stages);
  for (const side of out) expect(peak(side)).toBeLessThan(2);
});
