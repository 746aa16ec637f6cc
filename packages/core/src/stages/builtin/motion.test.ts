import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { chainOf, renderOf } from '../../testing/chains.ts';
import { runs } from '../../testing/long.ts';
import { clipOf, impulse, noise, sine } from '../../testing/signals.ts';
import { decibels, responseAt, spectrumOf } from '../../testing/spectrum.ts';

const RATE = 48000;
const ones = (seconds: number, channels = 1) =>
  clipOf(Array.from({ length: channels }, () => new Float32Array(seconds * RATE).fill(1)));
const through = (kind: string, settings: object, source = ones(2)) =>
  renderOf(chainOf([{ kind, settings }], { timing: { tempo: 120 } }), source).channels;

describe('tremolo', () => {
  test('falls by its depth, once every turn, in time with the tempo', () => {
    const [left] = through('tremolo', { rate: { note: '1/4' }, depth: 0.75, shape: 'sine' });
    expect(Math.max(...left)).toBeCloseTo(1, 4);
    expect(Math.min(...left)).toBeCloseTo(0.25, 4);
    // 1/4 at 120 bpm: half a second; loudest at its beginning, quietest in its middle.
    for (const seconds of [0, 0.5, 1, 1.5]) {
      expect(left[seconds * RATE]).toBeCloseTo(1, 4);
      expect(left[(seconds + 0.25) * RATE]).toBeCloseTo(0.25, 4);
      expect(left[(seconds + 0.125) * RATE]).toBeCloseTo(0.625, 3);
    }
  });

  test('the right side lags by its phase; at 180° the sum stands still', () => {
    const [left, right] = through('tremolo', { rate: 2, depth: 1, shape: 'triangle', phase: 180 });
    for (let i = 0; i < left.length; i += 997) expect(left[i] + right[i]).toBeCloseTo(1, 4);
    const [, lagging] = through('tremolo', { rate: 2, depth: 1, shape: 'triangle', phase: 90 });
    for (let i = RATE; i < left.length; i += 997) expect(lagging[i]).toBeCloseTo(left[i - RATE / 8], 3);
  });

  test('a square is on and off without a step; chance stays within its depth and is the same every time', () => {
    const [square] = through('tremolo', { rate: 4, depth: 1, shape: 'square' });
    const steps = square.slice(1).map((x, i) => Math.abs(x - square[i]));
    expect(Math.max(...steps)).toBeLessThan(0.01);
    expect(square.filter((x) => x > 0.99).length / square.length).toBeCloseTo(0.5, 1);
    const chance = through('tremolo', { rate: 8, depth: 0.5, shape: 'random' });
    expect(Math.min(...chance[0])).toBeGreaterThanOrEqual(0.5);
    expect(through('tremolo', { rate: 8, depth: 0.5, shape: 'random' })).toEqual(chance);
  });
});

describe('ring modulator', () => {
  test('sine by sine: the sum and the difference alone, all else below −90 dB', () => {
    for (const [tone, carrier] of [
      [1000, 130],
      [3000, 4321],
      [440, 0.5],
    ]) {
      const [out] = through('ringMod', { carrier }, sine(tone, 0.8, 3));
      const { bins, hertz } = spectrumOf(out.subarray(4096, 4096 + 65536), RATE);
      const level = (wanted: number) =>
        decibels(Math.max(...[-1, 0, 1].map((d) => bins[Math.round(Math.abs(wanted) / hertz) + d] ?? 0)));
      const loudest = Math.max(level(tone + carrier), level(tone - carrier));
      const others = bins.reduce((most, size, k) => {
        const near = [tone + carrier, tone - carrier].some((f) => Math.abs(k * hertz - Math.abs(f)) < 8);
        return near ? most : Math.max(most, size);
      }, 0);
      expect(Math.abs(level(tone + carrier) - level(tone - carrier))).toBeLessThan(1);
      expect(decibels(others) - loudest, `${tone} by ${carrier} Hz`).toBeLessThan(-90);
    }
  });

  test('offset lets the sound shine through, depth leaves the rest', () => {
    const level = (settings: object, hertz: number) => {
      const { bins, hertz: width } = spectrumOf(
        through('ringMod', { carrier: 500, ...settings }, sine(2000, 1, 2))[0].subarray(4096, 4096 + 65536),
        RATE,
      );
      return bins[Math.round(hertz / width)];
    };
    const side = level({}, 2500);
    expect(decibels(level({}, 2000) / side)).toBeLessThan(-80);
    expect(level({ offset: 0.5 }, 2000) / level({ offset: 0.5 }, 2500)).toBeCloseTo(2, 1);
    expect(level({ depth: 0.5 }, 2000) / level({ depth: 0.5 }, 2500)).toBeCloseTo(2, 1);
  });

  test.each(['sine', 'triangle', 'square', 'saw'])(
    'with a %s of any frequency what folds back lies below −70 dB',
    (shape) => {
      fc.assert(
        fc.property(
          fc.constantFrom(44100, 48000, 96000),
          fc.double({ min: 3.5, max: 12.96, noNaN: true }).map((octave) => 2 ** octave),
          fc.double({ min: 100, max: 15_000, noNaN: true }),
          (rate, carrier, tone) => {
            const size = 65536;
            const [out] = renderOf(
              chainOf([{ kind: 'ringMod', settings: { carrier, shape } }]),
              sine(tone, 1, (size + 8192) / rate, rate),
            ).channels;
            const { bins, hertz } = spectrumOf(out.subarray(4096, 4096 + size), rate);
            const loudest = bins.reduce((most, size) => Math.max(most, size), 0);
            // What belongs there are the sums and differences of the tone and every partial of the carrier.
            const belongs = (f: number) =>
              [f - tone, f + tone].some((x) => Math.abs(x / carrier - Math.round(x / carrier)) * carrier < 8 * hertz);
            const folded = bins.reduce((most, size, k) => (belongs(k * hertz) ? most : Math.max(most, size)), 0);
            expect(decibels(folded / loudest)).toBeLessThan(-70);
          },
        ),
        { numRuns: runs(4, 400) },
      );
    },
  );
});

describe('flanger', () => {
  const still = { depth: 0, feedback: 0, phase: 0, dry: 0.5, wet: 0.5 };
  const response = (settings: object, rate: number) => {
    const source = impulse(0, Math.round(0.5 * rate), rate);
    const out = renderOf(chainOf([{ kind: 'flanger', settings: { ...still, ...settings } }]), source).channels[0];
    return (hertz: number) => decibels(responseAt(out, hertz, rate));
  };
  const furthest = (a: Float32Array, b: Float32Array) =>
    a.reduce((most, x, i) => Math.max(most, Math.abs(x - b[i])), 0);
  const lowest = (at: (hertz: number) => number, near: number) => {
    let best = near * 0.98;
    for (let f = near * 0.98, least = Infinity; f < near * 1.02; f += near / 4000) {
      const now = at(f);
      if (now < least) [least, best] = [now, f];
    }
    return best;
  };

  test.each([44100, 48000, 96000])(
    'at %d Hz notches lie at (k + ½)/τ, or k/τ inverted, and are deeper than 30 dB',
    (rate) => {
      fc.assert(
        fc.property(
          fc.double({ min: 0.0003, max: 0.02, noNaN: true }),
          fc.boolean(),
          fc.nat(3),
          (least, inverted, k) => {
            const at = response({ least, wet: inverted ? -0.5 : 0.5 }, rate);
            const notch = (inverted ? k + 1 : k + 0.5) / least;
            if (notch > 15_000) return;
            const found = lowest(at, notch);
            expect(Math.abs(found / notch - 1)).toBeLessThan(0.01);
            expect(at(found)).toBeLessThan(-30);
            expect(at(notch + 0.5 / least)).toBeGreaterThan(-1.5);
          },
        ),
        { numRuns: runs(4, 300) },
      );
      expect(response({ minDelay: 0.002, wet: -0.5 }, rate)(5)).toBeLessThan(-20);
    },
  );

  test.each([44100, 48000, 96000])('at %d Hz peaks at 90 %% feedback lie at k/τ and have their height', (rate) => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.0003, max: 0.02, noNaN: true }),
        fc.constantFrom(4000, 12_000, 20_000),
        fc.integer({ min: 1, max: 4 }),
        fc.boolean(),
        (least, damping, k, inverted) => {
          const peak = (inverted ? k - 0.5 : k) / least;
          if (peak > 0.25 * damping) return;
          const feedback = inverted ? -0.9 : 0.9;
          const at = response({ least, damping, dry: 0, wet: 1, feedback }, rate);
          const found = lowest((f) => -at(f), peak);
          expect(Math.abs(found / peak - 1)).toBeLessThan(0.01);
          // 1/(1 − feedback), less what the damping takes each time round.
          expect(at(found)).toBeGreaterThan(13);
          expect(at(found)).toBeLessThan(20.5);
        },
      ),
      { numRuns: runs(4, 300) },
    );
  });

  test('the dry sound is not late: beside itself in a split, and at half the mix, it stays whole', () => {
    const source = noise(RATE / 4, RATE, 2);
    const dry = { minDelay: 0.005, dry: 1, wet: 0 };
    for (const settings of [dry, { ...dry, feedback: 0.9 }]) {
      const alone = renderOf(chainOf([{ kind: 'flanger', mix: 0.5, settings }]), source);
      expect(furthest(alone.channels[0], source.channels[0])).toBeLessThan(1e-6);
    }
    // A branch is as late as the latest beside it, by what that declares: a moved one would not cancel.
    const beside = (throughZero: boolean) =>
      renderOf(
        chainOf([
          {
            kind: 'split',
            branches: [
              { id: 'a', stages: [{ id: 'f', kind: 'flanger', settings: { ...dry, throughZero } }] },
              { id: 'b', inverted: true, stages: [] },
            ],
          },
        ]),
        source,
      ).channels[0];
    for (const throughZero of [false, true]) expect(Math.max(...beside(throughZero).map(Math.abs))).toBeLessThan(1e-6);
  });

  test('through zero and upside down, a sound that stands in the middle cancels', () => {
    const out = renderOf(
      chainOf([
        {
          kind: 'flanger',
          settings: { minDelay: 0.001, depth: 0, feedback: 0, wet: -0.7, dry: 0.7, throughZero: true },
        },
      ]),
      sine(700, 0.5, 0.5),
    ).channels[0];
    expect(Math.max(...out.subarray(4800).map(Math.abs))).toBeLessThan(1e-6);
  });
});

describe('vibrato', () => {
  test.each([44100, 48000, 96000])(
    'at %d Hz the pitch deviates by the set cents, up and down alike, as often as set',
    (sampleRate) => {
      fc.assert(
        fc.property(
          fc.double({ min: 5, max: 200, noNaN: true }),
          fc.double({ min: 1, max: 14, noNaN: true }),
          (depth, rate) => {
            const tone = 1000;
            const [out] = renderOf(
              chainOf([{ kind: 'vibrato', settings: { depth, rate } }]),
              sine(tone, 0.8, 3, sampleRate),
            ).channels;
            // Pitch from upward crossings, of four periods together, over the last two seconds.
            const crossings: number[] = [];
            for (let i = sampleRate; i < out.length - 1; i++)
              if (out[i] < 0 && out[i + 1] >= 0) crossings.push(i + out[i] / (out[i] - out[i + 1]));
            const cents = crossings
              .slice(4)
              .map((x, n) => 1200 * Math.log2((4 * sampleRate) / (x - crossings[n]) / tone));
            expect(Math.abs(Math.max(...cents) / depth - 1)).toBeLessThan(0.02);
            expect(Math.abs(-Math.min(...cents) / depth - 1)).toBeLessThan(0.02);
            const turns = cents.filter((c, n) => n > 0 && c >= 0 && cents[n - 1] < 0).length;
            expect(Math.abs(turns / 2 - rate)).toBeLessThanOrEqual(0.6);
          },
        ),
        { numRuns: runs(3, 300) },
      );
    },
  );

  test('does not drift: after a minute the pitch has been as far up as down', () => {
    const [out] = through('vibrato', { depth: 200, rate: 3 }, sine(1000, 0.8, 60));
    // Whole turns later the same phase: had the delay drifted, periods would be missing.
    const crossings = [...out.keys()].filter((i) => i > RATE && out[i - 1] < 0 && out[i] >= 0);
    const between = crossings.filter((i) => i >= 2 * RATE && i < 58 * RATE).length;
    expect(Math.abs(between - 56_000)).toBeLessThanOrEqual(1);
  });
});

describe('phaser', () => {
  test.each([
    ['2', 1],
    ['4', 2],
    ['6', 3],
    ['12', 6],
  ])('%s stages make %d notches', (stages, notches) => {
    const settings = { stages, depth: 0, feedback: 0, centre: 900 };
    const [out] = renderOf(chainOf([{ kind: 'phaser', settings }]), impulse(0, 32768)).channels;
    const curve = Array.from({ length: 4000 }, (_, i) =>
      decibels(responseAt(out.subarray(0, 8192), 5 * (i + 1), RATE)),
    );
    const found = curve.filter((x, i) => x < -20 && x < (curve[i - 1] ?? 0) && x <= (curve[i + 1] ?? 0)).length;
    expect(found).toBe(notches);
  });

  test('the notches wander by its depth: the response an eighth of a turn on is another one', () => {
    const settings = { stages: '2', depth: 1, rate: 0.5, centre: 1000, feedback: 0, phase: 0 };
    const notch = (frame: number) => {
      const [out] = renderOf(chainOf([{ kind: 'phaser', settings }]), impulse(frame, frame + 2048)).channels;
      const piece = out.subarray(frame);
      let best = 100;
      for (let f = 100; f < 5000; f *= 1.01) if (responseAt(piece, f, RATE) < responseAt(piece, best, RATE)) best = f;
      return best;
    };
    // The first-order corner is where the phase has turned by a right angle: two make the notch there.
    expect(notch(1) / 1000).toBeCloseTo(2, 0);
    expect(notch(RATE) / 1000).toBeCloseTo(0.5, 1);
  });
});

describe('frequency shifter', () => {
  test.each([
    [40, 300],
    [440, 35],
    [1000, -400],
    [9000, 1234.5],
    [16000, -2000],
  ])('%d Hz by %d Hz: one side band, the other below −60 dB', (tone, shift) => {
    const [out] = through('shifter', { shift, feedback: 0 }, sine(tone, 0.8, 3));
    const { bins, hertz } = spectrumOf(out.subarray(4096, 4096 + 131072), RATE);
    const at = (f: number) => bins[Math.round(Math.abs(f) / hertz)];
    const wanted = at(tone + shift);
    expect(wanted).toBeGreaterThan(0.6);
    expect(decibels(at(tone - shift) / wanted)).toBeLessThan(-60);
    expect(decibels(at(tone) / wanted)).toBeLessThan(-60);
  });

  test('goes round: what was shifted is shifted again', () => {
    const [out] = through('shifter', { shift: 200, feedback: 0.5 }, sine(1000, 0.5, 3));
    const { bins, hertz } = spectrumOf(out.subarray(RATE, RATE + 65536), RATE);
    const at = (f: number) => bins[Math.round(f / hertz)];
    expect(at(1400) / at(1200)).toBeCloseTo(0.5, 1);
    expect(at(1600) / at(1400)).toBeCloseTo(0.5, 1);
  });
});
