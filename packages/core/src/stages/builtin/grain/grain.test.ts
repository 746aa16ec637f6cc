import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Clip } from '../../../model/clip.ts';
import { chainOf, renderOf } from '../../../testing/chains.ts';
import { runs } from '../../../testing/long.ts';
import { clipOf, noise, sine } from '../../../testing/signals.ts';
import { above, decibels } from '../../../testing/spectrum.ts';

const RATE = 48000;
/** 120 bpm: a beat is half a second. */
const through = (kind: string, settings: object, source: Clip, tail: object = { mode: 'none' }) =>
  renderOf(chainOf([{ kind, settings }], { timing: { tempo: 120 }, render: { tail } }), source).channels;
const of = (seconds: number, sample: (t: number, i: number) => number) =>
  clipOf([Float32Array.from({ length: seconds * RATE }, (_, i) => sample(i / RATE, i))]);
const peak = (samples: ArrayLike<number>, from = 0, to = samples.length) => {
  let most = 0;
  for (let i = Math.max(0, Math.round(from)); i < Math.min(samples.length, to); i++)
    most = Math.max(most, Math.abs(samples[i]));
  return most;
};
const largestStep = (samples: Float32Array) => {
  let most = 0;
  for (let i = 1; i < samples.length; i++) most = Math.max(most, Math.abs(samples[i] - samples[i - 1]));
  return most;
};

describe('pattern', () => {
  const open = {
    steps: 4,
    step: { note: '1/16' },
    smoothing: 0.003,
    length: 1,
    level1: 1,
    level2: 0,
    level3: 0.5,
    level4: 0,
  };
  const ones = of(2, () => 1);

  test('its steps stand on the grid, within a sample', () => {
    const [out] = through('pattern', open, ones);
    const step = 0.125 * RATE;
    for (let n = 0; n < 16; n++) {
      const level = [1, 0, 0.5, 0][n % 4];
      expect(out[n * step + 0.06 * RATE]).toBeCloseTo(level, 5);
      // Nothing moves before the step; just behind it something does.
      if (n === 0) continue;
      expect(out[n * step - 1]).toBe(out[n * step - 400]);
      expect(out[n * step + 3]).not.toBe(out[n * step - 1]);
    }
  });

  test('swing makes every second step late, the gate shuts each after its share', () => {
    const [swung] = through('pattern', { ...open, swing: 0.5 }, ones);
    expect(swung[1.45 * 0.125 * RATE]).toBeCloseTo(1, 5);
    expect(swung[1.6 * 0.125 * RATE]).toBeCloseTo(0, 5);
    const [gated] = through('pattern', { ...open, level2: 1, length: 0.5, floor: 0.1 }, ones);
    expect(gated[0.4 * 0.125 * RATE]).toBeCloseTo(1, 5);
    expect(gated[0.8 * 0.125 * RATE]).toBeCloseTo(0.1, 5);
    expect(largestStep(gated)).toBeLessThan(0.02);
  });

  test('keeps to the timeline, wherever a render begins', () => {
    const later = { ...ones, origin: 0.05 * RATE };
    const [out] = through('pattern', open, later);
    expect(out[0.1 * RATE]).toBeCloseTo(0, 5);
  });
});

describe('stutter', () => {
  const plain = { grid: { beats: 1 }, fires: 'always', slice: 0.1, repeats: 4, levelStep: 0, gate: 1, backwards: 0 };

  test('repeats the slice on the grid, within a sample', () => {
    // A click 20 ms into every beat.
    const source = of(4, (_, i) => (i % 24000 === 960 ? 1 : 0));
    const [out] = through('stutter', plain, source);
    for (let beat = 0; beat < 7; beat++) {
      for (let repeat = 0; repeat <= 4; repeat++) {
        const wanted = beat * 24000 + repeat * 4800 + 960;
        const at = [wanted - 1, wanted, wanted + 1].find((i) => out[i] > 0.9);
        expect(at, `repeat ${repeat} in beat ${beat}`).toBeDefined();
      }
    }
  });

  test.each([44100, 48000, 96000])('at %d Hz, at no joint the step is larger than the sound’s own largest', (rate) => {
    const settings = fc.record({
      grid: fc.double({ min: 0.1, max: 0.6, noNaN: true }),
      slice: fc.double({ min: 0.02, max: 0.25, noNaN: true }),
      repeats: fc.integer({ min: 1, max: 8 }),
      backwards: fc.constantFrom(0, 0.5, 1),
      gate: fc.double({ min: 0.2, max: 1, noNaN: true }),
      softness: fc.double({ min: 0, max: 1, noNaN: true }),
      pitchStep: fc.constantFrom(0, 0, 2),
      frequency: fc.double({ min: 250, max: 2000, noNaN: true }),
    });
    fc.assert(
      fc.property(settings, ({ frequency, ...rest }) => {
        const source = sine(frequency, 0.8, 1.5, rate);
        const [out] = through('stutter', { ...plain, ...rest }, source);
        // Raised pitches have larger steps of their own.
        const own = largestStep(source.channels[0]) * 2 ** ((rest.pitchStep * rest.repeats) / 12);
        expect(largestStep(out) / own).toBeLessThanOrEqual(1.05);
      }),
      { numRuns: runs(5, 1000) },
    );
  });

  test('each repeat is quieter and higher by its step', () => {
    const [out] = through(
      'stutter',
      { ...plain, slice: 0.1, levelStep: -6, pitchStep: 12, repeats: 2 },
      sine(500, 0.5, 1),
    );
    expect(decibels(peak(out, 0.11 * RATE, 0.14 * RATE) / 0.5)).toBeCloseTo(-6, 1);
    const crossings = (from: number, seconds: number) => {
      let n = 0;
      for (let i = Math.round(from * RATE); i < (from + seconds) * RATE; i++) if (out[i] < 0 && out[i + 1] >= 0) n++;
      return n / seconds;
    };
    expect(crossings(0.11, 0.03) / 1000).toBeCloseTo(1, 1);
    expect(crossings(0.205, 0.015) / 2000).toBeCloseTo(1, 1);
  });

  test('chance, the switch and where it fires', () => {
    const source = noise(8 * RATE);
    expect(through('stutter', { ...plain, on: false }, source)[0]).toEqual(source.channels[0]);
    expect(through('stutter', { ...plain, chance: 0 }, source)[0]).toEqual(source.channels[0]);
    const [fourth] = through('stutter', { ...plain, fires: 'every 4th' }, source);
    expect(fourth.subarray(0, 1.5 * RATE)).toEqual(source.channels[0].subarray(0, 1.5 * RATE));
    expect(fourth.subarray(1.6 * RATE, 2 * RATE)).not.toEqual(source.channels[0].subarray(1.6 * RATE, 2 * RATE));
    const half = (seed: number) =>
      renderOf(chainOf([{ kind: 'stutter', settings: { ...plain, chance: 0.5 } }], { render: { tail: { mode: 'none' }, seed } }), source).channels[0]; // prettier-ignore
    expect(half(3)).toEqual(half(3));
    expect(half(3)).not.toEqual(half(4));
  });
});

describe('tape stop', () => {
  const once = { wait: 1, time: 0.5, again: 0, after: 'it stays silent', declick: 0.01 };

  test.each([-1, -0.2, 0, 0.5, 1])(
    'curve %d: the tape that has gone by is the integral of the speed, within a sample',
    (curve) => {
      // The sound is its own clock: where a ramp stands tells which frame was read.
      const source = of(3, (t) => t);
      const [out] = through('tapeStop', { ...once, curve, declick: 0.003 }, source);
      const speed = (u: number) => {
        const even = 1 - u;
        const other = curve < 0 ? (1 - u) ** 2 : 1 - u * u;
        return even + Math.abs(curve) * (other - even);
      };
      let consumed = 1;
      for (let i = 0; i < 0.49 * RATE; i++) {
        // A ramp of 1 a second in 32 bits is exact to a fortieth of a frame here.
        if (i % 1000 === 0) expect(Math.abs(out[RATE + i] - consumed) * RATE, `frame ${i}`).toBeLessThan(1);
        consumed += (speed((i + 0.5) / (0.5 * RATE)) * 1) / RATE;
      }
      expect(peak(out, 1.5 * RATE)).toBe(0);
    },
  );

  test('pitch and speed fall together, and it stands exactly at the end', () => {
    const [out] = through('tapeStop', { ...once, curve: 0 }, sine(2000, 0.5, 2));
    const pitch = (seconds: number) => {
      const crossings: number[] = [];
      for (let i = Math.round((seconds - 0.02) * RATE); i < (seconds + 0.02) * RATE; i++)
        if (out[i] < 0 && out[i + 1] >= 0) crossings.push(i + out[i] / (out[i] - out[i + 1]));
      return ((crossings.length - 1) * RATE) / (crossings.at(-1)! - crossings[0]);
    };
    for (const u of [0.2, 0.5, 0.8]) expect(pitch(1 + 0.5 * u) / (2000 * (1 - u))).toBeCloseTo(1, 1);
    expect(peak(out, 1.48 * RATE, 1.49 * RATE)).toBeGreaterThan(0);
    expect(peak(out, 1.5 * RATE)).toBe(0);
  });

  test.each([once, { ...once, after: 'it starts up again', startUp: 0.3, hold: 0.1 }])(
    'nothing clicks at either end',
    (settings) => {
      const [out] = through('tapeStop', settings, sine(440, 0.5, 3));
      expect(decibels(peak(above(out, 8000, RATE), 0.5 * RATE, 2.9 * RATE))).toBeLessThan(-60);
    },
  );

  test('comes back to the sound itself, again and again on the beat', () => {
    const settings = { wait: { beats: 3 }, time: { beats: 1 }, again: { beats: 4 }, hold: 0, startUp: 0.02, after: 'it starts up again' }; // prettier-ignore
    const source = sine(300, 0.5, 8);
    const [out] = through('tapeStop', settings, source);
    for (const bar of [0, 1, 2, 3]) {
      const from = Math.round((2 * bar + 0.1) * RATE);
      for (let i = from; i < from + 1.3 * RATE; i += 501) expect(out[i]).toBeCloseTo(source.channels[0][i], 5);
      expect(Math.abs(out[(2 * bar + 2) * RATE - 1])).toBeLessThan(1e-3);
    }
  });

  test('runs past the end of the sound where there is a tail', () => {
    const [out] = through('tapeStop', { ...once, wait: 0.9, time: 0.25 }, sine(500, 0.5, 1), {
      mode: 'fixed',
      length: 0.5,
    });
    expect(out.length).toBe(1.5 * RATE);
    expect(peak(out, 1.005 * RATE, 1.03 * RATE)).toBeGreaterThan(0.1);
  });
});

describe('half time', () => {
  test.each([
    ['half', 0.5],
    ['third', 1 / 3],
  ])('%s: plays each window from its bar on, at its speed', (speed, factor) => {
    const source = of(4, (t) => t / 4);
    const [out] = through('halfSpeed', { speed, window: { beats: 2 }, crossfade: 0.003 }, source);
    for (const bar of [0, 1, 2]) {
      for (const into of [0.01, 0.4, 0.95])
        expect(Math.abs(out[Math.round((bar + into) * RATE)] * 4 - (bar + factor * into)) * RATE).toBeLessThan(1);
    }
  });

  test.each(['falls along', 'kept'])('a window begins on the bar, whole, and with the pitch that %s', (pitch) => {
    for (const [speed, bar] of [
      ['half', 2],
      ['third', 1],
      ['double', 3],
    ] as const) {
      // What it plays from the bar on is what lies there, or for double what lay a window before.
      const click = Math.round((speed === 'double' ? bar - 1 : bar) * RATE);
      const source = of(4, (_, i) => (i === click ? 1 : 0));
      const [out] = through('halfSpeed', { speed, pitch, window: { beats: 2 }, crossfade: 0.05 }, source);
      const found = [...out.keys()].filter((i) => Math.abs(out[i]) > 0.9 && i >= bar * RATE - 2);
      expect(Math.abs(found[0] - bar * RATE), speed).toBeLessThanOrEqual(1);
      expect(out[found[0]]).toBeCloseTo(1, 3);
    }
  });

  test('a loop of whole windows stays as long as it is, at any rate and however its tail ends', () => {
    for (const rate of [44100, 48000, 96000])
      for (const pitch of ['falls along', 'kept'])
        for (const speed of ['half', 'third']) {
          const source = sine(330, 0.5, 2, rate);
          const chain = chainOf(
            [{ kind: 'halfSpeed', settings: { speed, pitch, window: { beats: 2 }, crossfade: 0.02 } }],
            {
              timing: { tempo: 120 },
              render: { tail: { mode: 'auto', below: -80 } },
            },
          );
          const out = renderOf(chain, source);
          expect(out.channels[0].length, `${rate} ${pitch} ${speed}`).toBe(2 * rate);
        }
  });

  test('windows pass into one another without a hole and without a click', () => {
    for (const pitch of ['falls along', 'kept']) {
      const [out] = through('halfSpeed', { speed: 'half', pitch, window: { beats: 1 } }, sine(200, 0.5, 4));
      expect(largestStep(out)).toBeLessThan(2 * 0.5 * 2 * Math.sin((Math.PI * 200) / RATE));
      for (let at = 0.2 * RATE; at < 3.5 * RATE; at += 960) expect(peak(out, at, at + 960)).toBeGreaterThan(0.2);
    }
  });

  test('mono stays mono, here and in a tape stop', () => {
    for (const kind of ['halfSpeed', 'tapeStop']) {
      expect(renderOf(chainOf([{ kind }]), sine(300, 0.5, 1)).channels).toHaveLength(1);
      const [left, right] = renderOf(chainOf([{ kind }]), sine(300, 0.5, 1, RATE, 2)).channels;
      expect(left).toEqual(right);
      expect(left).toEqual(renderOf(chainOf([{ kind }]), sine(300, 0.5, 1)).channels[0]);
    }
  });

  test('double plays the window before and catches up', () => {
    const [out] = through(
      'halfSpeed',
      { speed: 'double', window: { beats: 2 }, crossfade: 0.003 },
      of(4, (t) => t / 4),
    );
    expect(out[2.5 * RATE] * 4).toBeCloseTo(2, 2);
    expect(out[2.99 * RATE] * 4).toBeCloseTo(2.98, 2);
  });

  test('with the pitch kept a tone stays one, as loud', () => {
    const [out] = through('halfSpeed', { speed: 'half', pitch: 'kept', window: { beats: 4 } }, sine(440, 0.5, 2));
    let crossings = 0;
    for (let i = Math.round(0.3 * RATE); i < 1.3 * RATE; i++) if (out[i] < 0 && out[i + 1] >= 0) crossings++;
    expect(crossings / 440).toBeCloseTo(1, 1);
  });
});

describe('grains', () => {
  const plain = {
    size: 0.02,
    density: 20,
    regularity: 1,
    past: 0.03,
    scatter: 0,
    pitchScatter: 0,
    backwards: 0,
    spread: 0,
    feedback: 0,
  };

  test.each([
    [5, 1],
    [20, 0],
    [40, 0.5],
  ])('%d grains a second at a regularity of %d, within 2 per cent', (density, regularity) => {
    const [out] = through(
      'grains',
      { ...plain, size: 0.01, density, regularity },
      of(12, () => 0.5),
    );
    // Every grain is a hump; count where they begin.
    let begun = 0;
    let silent = true;
    const level = 0.02;
    for (let i = RATE; i < 11 * RATE; i++) {
      if (silent && out[i] > level) begun++;
      silent = out[i] <= level;
    }
    // Where chance lets two overlap they count as one, so only even ones are counted strictly.
    const overlapping = regularity === 1 ? 0.02 : 0.25;
    expect(begun / 10 / density).toBeLessThan(1.02);
    expect(begun / 10 / density).toBeGreaterThan(1 - overlapping);
  });

  test('its level stays within 1.5 dB from 10 to 100 grains a second, on noise and on a tone, however alike the grains', () => {
    const settings = fc.record({
      rate: fc.constantFrom(44100, 48000, 96000),
      tone: fc.option(fc.double({ min: 60, max: 6000, noNaN: true })),
      size: fc.double({ min: 0.1, max: 0.4, noNaN: true }),
      scatter: fc.constantFrom(0, 0.05, 1),
      regularity: fc.constantFrom(0, 0.5, 1),
      pitch: fc.constantFrom(-12, -0.3, 0, 7),
      backwards: fc.constantFrom(0, 0.5),
    });
    fc.assert(
      fc.property(settings, ({ rate, tone, ...rest }) => {
        const source = tone === null ? noise(6 * rate, rate) : sine(tone, 0.5, 6, rate);
        const power = (density: number) => {
          const [left] = through('grains', { ...plain, past: 0.2, ...rest, density }, source);
          const piece = left.subarray(2 * rate);
          return 10 * Math.log10(piece.reduce((sum, x) => sum + x * x, 0) / piece.length);
        };
        const levels = [10, 22, 47, 100].map(power);
        expect(Math.max(...levels) - Math.min(...levels)).toBeLessThan(3);
      }),
      { numRuns: runs(2, 300) },
    );
  });

  test('pitch, places and backwards', () => {
    const [high] = through('grains', { ...plain, size: 0.3, density: 3, pitch: 12, past: 0.5 }, sine(400, 0.5, 4));
    let crossings = 0;
    for (let i = Math.round(2.03 * RATE); i < 2.23 * RATE; i++) if (high[i] < 0 && high[i + 1] >= 0) crossings++;
    expect(Math.abs(crossings - 160)).toBeLessThan(80 * 1.2);
    // A ramp read backwards falls.
    const [turned] = through(
      'grains',
      { ...plain, size: 0.2, density: 2, backwards: 1, past: 0.5 },
      of(4, (t) => t),
    );
    const [straight] = through(
      'grains',
      { ...plain, size: 0.2, density: 2, backwards: 0, past: 0.5 },
      of(4, (t) => t),
    );
    const window = (i: number) => Math.sin((Math.PI * i) / (0.2 * RATE)) ** 2;
    const slope = (out: Float32Array) => out[3 * RATE + 6000] / window(6000) - out[3 * RATE + 3000] / window(3000);
    expect(slope(straight)).toBeGreaterThan(0);
    expect(slope(turned)).toBeLessThan(0);
  });

  test('held, the cloud goes on when the sound has gone', () => {
    const source = of(4, (t) => (t < 1 ? Math.sin(1500 * t) : 0));
    const [open] = through('grains', { ...plain, density: 40 }, source);
    expect(peak(open, 2 * RATE)).toBe(0);
  });
});
