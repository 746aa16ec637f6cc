import { BUILT_INS } from '../../catalogue/builtIns.ts';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { chainOf, renderOf } from '../../testing/chains.ts';
import { clipOf, impulse, noise, sine } from '../../testing/signals.ts';
import { decibels, responseAt } from '../../testing/spectrum.ts';
import { InputError } from '../../model/errors.ts';
import { estimateRender } from '../../engine/offline/estimate.ts';
import { searchStages } from '../../reference/searchStages.ts';
import type { Param } from '../../params/params.ts';

const samplesOf = (kind: string, settings: Record<string, unknown>, source = noise(4800)) =>
  renderOf(chainOf([{ kind, settings }]), source);

describe('reverse', () => {
  test('twice is the identity, bit for bit, at any length', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 3000 }), fc.integer({ min: 1, max: 2 }), (frames, channels) => {
        const source = noise(frames, 48000, channels, frames);
        expect(renderOf(chainOf([{ kind: 'reverse' }, { kind: 'reverse' }]), source)).toEqual(source);
      }),
    );
  });

  test('flips the span of the source', () => {
    expect(samplesOf('reverse', {}, clipOf([[1, 2, 3]]))).toEqual(clipOf([[3, 2, 1]]));
  });
});

describe('gain', () => {
  test.each([
    [6, 10 ** (6 / 20)],
    [-20, 0.1],
    [0, 1],
  ])('%d dB', (gain, factor) => {
    const source = noise(500);
    samplesOf('gain', { gain }, source).channels[0].forEach((sample, i) =>
      expect(sample).toBeCloseTo(source.channels[0][i] * factor, 5),
    );
  });
});

describe('filter', () => {
  const sampleRate = 48000;
  /** The analogue prototype, at the frequency that the trapezoidal rule maps this one to. */
  const prototype = (type: string, cutoff: number, q: number, frequency: number) => {
    const warp = (hertz: number) => Math.tan((Math.PI * hertz) / sampleRate);
    const w = warp(frequency) / warp(cutoff);
    const denominator = Math.hypot(1 - w * w, w / q);
    return { low: 1, high: w * w, band: w / q, notch: Math.abs(1 - w * w) }[type]! / denominator;
  };

  for (const type of ['low', 'band', 'high', 'notch']) {
    test(`${type} pass follows its prototype within 0.2 dB up to 0.4 of the sample rate`, () => {
      for (const [cutoff, resonance] of [
        [200, 0.707],
        [1000, 4],
        [9000, 1],
      ]) {
        const response = samplesOf('filter', { type, cutoff, resonance }, impulse(0, 16384)).channels[0];
        for (const frequency of [60, 180, 500, 1700, 4000, 12000, 19200]) {
          const want = prototype(type, cutoff, resonance, frequency);
          if (want < 1e-3) continue;
          expect(
            Math.abs(decibels(responseAt(response, frequency, sampleRate) / want)),
            `${cutoff} Hz at ${frequency} Hz`,
          ).toBeLessThan(0.2);
        }
      }
    });
  }

  test('the steep slope is Butterworth: −3 dB at the cutoff, 24 dB down an octave below for a high pass', () => {
    const response = samplesOf(
      'filter',
      { type: 'high', slope: '24 dB/oct', cutoff: 500, resonance: Math.SQRT1_2 },
      impulse(0, 32768),
    ).channels[0];
    expect(decibels(responseAt(response, 500, sampleRate))).toBeCloseTo(-3.01, 1);
    expect(decibels(responseAt(response, 250, sampleRate))).toBeCloseTo(-24.1, 0);
  });

  test('drive saturates and stays bounded', () => {
    const loud = samplesOf('filter', { cutoff: 20000, drive: 36 }, sine(300, 1, 0.1)).channels[0];
    expect(Math.max(...loud)).toBeLessThan(0.2);
    expect(Math.max(...loud)).toBeGreaterThan(0.01);
  });
});

describe('fades', () => {
  const ones = clipOf([new Float32Array(1000).fill(1)], 1000 * 8);
  test('linear, equal-power and s-shaped', () => {
    const at = (inCurve: string, place: number) =>
      samplesOf('fades', { fadeIn: 0.1, inCurve }, ones).channels[0][place];
    expect(at('linear', 200)).toBeCloseTo(0.25, 5);
    expect(at('linear', 400)).toBeCloseTo(0.5, 5);
    expect(at('equal-power', 400)).toBeCloseTo(Math.SQRT1_2, 5);
    expect(at('s-shaped', 200)).toBeCloseTo(0.5 - 0.5 * Math.cos(Math.PI / 4), 5);
    expect(at('linear', 0)).toBe(0);
    expect(at('linear', 900)).toBe(1);
  });

  test('the fade out ends in silence; a fade longer than the sound takes all of it', () => {
    const out = samplesOf('fades', { fadeOut: 0.05, outCurve: 'linear' }, ones).channels[0];
    expect(out[999]).toBe(0);
    expect(out[799]).toBeCloseTo(0.5, 2);
    expect(out[500]).toBe(1);
    expect(samplesOf('fades', { fadeOut: 60 }, ones).channels[0][0]).toBeCloseTo(1, 2);
  });
});

describe('whole-clip stages, at any legal setting', () => {
  const valueOf = (param: Param): fc.Arbitrary<unknown> => {
    if (param.type === 'toggle') return fc.boolean();
    if (param.type === 'choice') return fc.constantFrom(...param.options);
    if (param.type === 'sound') return fc.constant(param.default);
    if (param.type === 'list') {
      const entry = param.unit === 'whole' ? fc.integer(param) : fc.double({ min: param.min, max: 1, noNaN: true });
      return fc.array(entry, { maxLength: 8 });
    }
    if (param.type === 'curve') {
      const point = fc.record({
        at: fc.double({ min: 0, max: 1, noNaN: true }),
        value: fc.double({ min: param.min, max: param.max, noNaN: true }),
        bend: fc.double({ min: -1, max: 1, noNaN: true }),
      });
      const points = fc.array(point, { minLength: 1, maxLength: 6 }).map((all) => all.sort((a, b) => a.at - b.at));
      return fc.record({ over: fc.constantFrom('clip', 'seconds', 'beats'), points });
    }
    if (param.type === 'notes') return fc.constant([]);
    return fc.oneof(fc.constantFrom(param.min, param.max), fc.double({ min: param.min, max: param.max, noNaN: true }));
  };

  // Live stages have trials of their own: everyStage.test.ts.
  for (const stage of BUILT_INS.stages.filter(({ runs }) => runs === 'offline')) {
    test(`${stage.kind}: finite and bounded, or refused in words beforehand or at work`, () => {
      const settings = fc.record(
        Object.fromEntries(Object.entries(stage.params).map(([key, param]) => [key, valueOf(param)])),
      );
      const rate = fc.constantFrom(8000, 44100, 48000, 192000);
      fc.assert(
        fc.property(
          settings,
          rate,
          fc.constantFrom('noise', 'square', 'impulse', 'DC'),
          (chosen, sampleRate, signal) => {
            const frames = 4800;
            const source = {
              noise: noise(frames, sampleRate, 2),
              square: sine(100, 1e6, frames / sampleRate, sampleRate, 2),
              impulse: impulse(5, frames, sampleRate, 2),
              DC: clipOf([new Float32Array(frames).fill(1)], sampleRate),
            }[signal];
            for (const samples of source.channels)
              samples.forEach((x, i) => (samples[i] = Math.max(-1, Math.min(1, x))));
            const chain = chainOf([{ kind: stage.kind, settings: chosen }], {
              render: { tail: { mode: 'fixed', length: 0.5 } },
            });
            let told = 0;
            try {
              told = estimateRender(BUILT_INS, chain, { frames, sampleRate, channels: source.channels.length }).frames;
            } catch (error) {
              expect((error as Error).message).toMatch(/allowed/);
              expect(() => renderOf(chain, source)).toThrow((error as Error).message);
              return;
            }
            fc.pre(told < 200_000);
            let out;
            try {
              out = renderOf(chain, source);
            } catch (error) {
              expect(error).toBeInstanceOf(InputError);
              expect((error as Error).message).toMatch(/allowed|has to be/);
              return;
            }
            for (const samples of out.channels) {
              expect(samples.every(Number.isFinite)).toBe(true);
              expect(samples.every((sample) => Math.abs(sample) < 200)).toBe(true);
            }
          },
        ),
        { numRuns: 40 },
      );
    });
  }

  test('the hall has fallen 60 dB by its declared tail', () => {
    const stage = BUILT_INS.of({ kind: 'hall' });
    fc.assert(
      fc.property(
        fc.double({ min: 0.1, max: 1.5, noNaN: true }),
        fc.double({ min: 0.2, max: 2, noNaN: true }),
        fc.double({ min: 0.2, max: 2, noNaN: true }),
        (decay, size, lowDecay) => {
          const chain = chainOf([{ kind: 'hall', settings: { decay, size, lowDecay } }], {
            render: { tail: { mode: 'fixed', length: 5 } },
          });
          const { channels } = renderOf(chain, noise(4800, 48000, 2));
          const values = { ...chain.stages[0].settings, decay, size, lowDecay, preDelay: 0.02 };
          const declared = stage.runs === 'live' ? stage.tailSeconds(values as never, []) : 0;
          const peak = (from: number, to: number) =>
            channels[0].subarray(from, to).reduce((most, sample) => Math.max(most, Math.abs(sample)), 0);
          const end = 4800 + Math.ceil(declared * 48000);
          expect(decibels(peak(end, channels[0].length) / peak(0, end))).toBeLessThan(-54);
        },
      ),
      { numRuns: 6 },
    );
  });
});

describe('search', () => {
  test.each([
    ['backwards', 'reverse'],
    ['church', 'hall'],
    ['muffled', 'filter'],
    ['louder', 'gain'],
    ['declick', 'fades'],
    ['rev', 'reverse'],
    ['HALL', 'hall'],
    ['cut up', 'slices'],
    ['smear', 'smear'],
    ['pitch bend', 'bend'],
    ['time stretch', 'stretch'],
    ['in key', 'settlePitch'],
    ['pauses', 'silence'],
    ['seamless', 'crossfade'],
    ['LUFS', 'normalise'],
  ])('"%s" finds %s first', (text, kind) => expect(searchStages(BUILT_INS, text)[0].kind).toBe(kind));

  test('nothing typed shows all, nonsense nothing', () => {
    expect(searchStages(BUILT_INS, ' ')).toHaveLength(BUILT_INS.stages.length);
    expect(searchStages(BUILT_INS, 'zzz')).toHaveLength(0);
  });
});

test('every parameter says what is heard, and every stage can be searched for', () => {
  for (const stage of BUILT_INS.stages) {
    expect(stage.summary).toMatch(/\.$/);
    expect(stage.keywords.length).toBeGreaterThan(2);
    for (const param of Object.values(stage.params)) expect(param.doc).toMatch(/^[A-Z].{20,}\.$/s);
  }
});
