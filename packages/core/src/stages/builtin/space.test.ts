import { BUILT_INS } from '../../catalogue/builtIns.ts';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Clip } from '../../model/clip.ts';
import { finishRender, renderChain } from '../../engine/offline/renderer.ts';
import { planStages } from '../../engine/plan/plan.ts';
import type { Planned } from '../../engine/plan/planned.ts';
import { prepareStage } from '../../engine/plan/prepare.ts';
import { Section } from '../../engine/run/section.ts';
import { chainOf, renderOf } from '../../testing/chains.ts';
import { runs } from '../../testing/long.ts';
import { clipOf, impulse, noise } from '../../testing/signals.ts';
import { decayTime, decibels, octaveBand, responseAt } from '../../testing/spectrum.ts';

const RATE = 48000;
const through = (kind: string, settings: object, source: Clip = impulse(0, 4 * RATE)) =>
  renderOf(chainOf([{ kind, settings }]), source).channels;
const peakAt = (samples: Float32Array, from = 0, to = samples.length) => {
  let best = from;
  for (let i = from; i < to; i++) if (Math.abs(samples[i]) > Math.abs(samples[best])) best = i;
  return best;
};

describe('plate', () => {
  test('falls by 60 dB in the time that is set, within 15 per cent, over the whole scale', { timeout: 600_000 }, () => {
    const settings = fc.record({
      rate: fc.constantFrom(44100, 48000, 96000),
      seed: fc.nat(1000),
      decay: fc.double({ min: Math.log(0.2), max: Math.log(30), noNaN: true }).map(Math.exp),
      excursion: fc.double({ min: 0, max: 1, noNaN: true }),
      diffusion: fc.double({ min: 0, max: 1, noNaN: true }),
    });
    fc.assert(
      fc.property(settings, ({ rate, seed, ...rest }) => {
        const chain = chainOf(
          [{ kind: 'plate', settings: { ...rest, preDelay: 0, damping: 20000, bandwidth: 20000 } }],
          { render: { seed, tail: { mode: 'none' } } },
        );
        const sides = renderOf(chain, impulse(0, Math.ceil((0.3 + 0.8 * rest.decay) * rate), rate)).channels;
        for (const band of [500, 1000, 2000, 4000]) {
          const found = sides.reduce((sum, side) => sum + decayTime(octaveBand(side, band, rate), rate) / 2, 0);
          expect(Math.abs(found / rest.decay - 1), `${band} Hz: ${found} s`).toBeLessThan(0.15);
        }
      }),
      { numRuns: runs(5, 200), endOnFailure: true },
    );
  });

  test('is as loud with a short decay as with a long one', () => {
    const level = (decay: number) => {
      const [left] = through('plate', { decay, damping: 20000 }, noise(8 * RATE, RATE, 2, 5));
      return decibels(Math.sqrt(left.reduce((sum, x) => sum + x * x, 0) / left.length));
    };
    const usual = level(2.2);
    for (const decay of [0.2, 0.35, 0.8, 5]) expect(Math.abs(level(decay) - usual), `${decay} s`).toBeLessThan(1.5);
  });

  test('left and right of its tail have little in common', () => {
    const [left, right] = through('plate', { decay: 3 });
    const [a, b] = [left, right].map((side) => side.subarray(0.1 * RATE, 2 * RATE));
    const product = (x: Float32Array, y: Float32Array) => x.reduce((sum, value, i) => sum + value * y[i], 0);
    expect(Math.abs(product(a, b)) / Math.sqrt(product(a, a) * product(b, b))).toBeLessThan(0.3);
  });

  test('damping shortens the highs, bandwidth keeps them out, width 0 is mono', () => {
    const [left] = through('plate', { decay: 3, damping: 1500 });
    // 60 dB in 3 s, and at 4 kHz what a one-pole low pass at 1500 Hz takes twice in a round of 0.725 s.
    const pole = Math.exp((-2 * Math.PI * 1500) / RATE);
    const taken = decibels(Math.hypot(1 - pole * Math.cos(Math.PI / 6), pole * Math.sin(Math.PI / 6)) / (1 - pole));
    const wanted = 60 / (60 / 3 + (2 * taken) / 0.725);
    expect(Math.abs(decayTime(octaveBand(left, 4000, RATE), RATE) / wanted - 1)).toBeLessThan(0.15);
    expect(decayTime(octaveBand(left, 250, RATE), RATE)).toBeGreaterThan(2.5);
    const level = (bandwidth: number) => responseAt(through('plate', { bandwidth })[0], 9000, RATE);
    expect(decibels(level(500) / level(20000))).toBeLessThan(-15);
    const narrow = through('plate', { width: 0 });
    expect(narrow[0]).toEqual(narrow[1]);
  });
});

describe('room', () => {
  const shape = {
    length: 8,
    width: 6,
    height: 3,
    sourceAlong: 0.72,
    sourceAcross: 0.3,
    sourceHeight: 0.5,
    listenerAlong: 0.3,
    listenerAcross: 0.6,
    listenerHeight: 0.4,
  };
  /** Distances of the source and its mirror images in the six walls, worked out here by hand. */
  const source = [5.76, 1.8, 1.5];
  const listener = [2.4, 3.6, 1.2];
  const sizes = [8, 6, 3];
  const images = [source, ...sizes.flatMap((size, axis) => [-source[axis], 2 * size - source[axis]].map((place) => source.with(axis, place)))]; // prettier-ignore
  const distances = images.map((image) => Math.hypot(...image.map((place, axis) => place - listener[axis])));

  test('the direct sound and the first six images arrive when the geometry says, as loud as 1/r', () => {
    const settings = { ...shape, late: -96, walls: 'tiles', floor: 'tiles', ceiling: 'tiles' };
    const [left, right] = through('room', settings, impulse(0, RATE));
    distances.forEach((distance, n) => {
      const wanted = Math.round((distance / 343) * RATE);
      // Others may arrive nearby; the nearest peak within a sample is its own.
      const at = [wanted - 1, wanted, wanted + 1].reduce((a, b) =>
        Math.hypot(left[a], right[a]) > Math.hypot(left[b], right[b]) ? a : b,
      );
      const reflection = n === 0 ? 1 : Math.sqrt(1 - 0.02);
      const found = Math.hypot(left[at], right[at]);
      // A reflection is softened a little in the highs, so that its peak is lower.
      expect(found / (reflection / distance), `image ${n}`).toBeGreaterThan(0.93);
      expect(found / (reflection / distance), `image ${n}`).toBeLessThan(1.05);
    });
    const before = left.subarray(0, Math.round((distances[0] / 343) * RATE) - 2);
    expect(Math.max(...before.map(Math.abs))).toBeLessThan(1e-4);
  });

  test('sources on the left are louder on the left', () => {
    const [left, right] = through('room', { ...shape, late: -96, reflections: -96 }, impulse(0, 4800));
    const at = peakAt(left);
    // Where the source is from the listener: 1.8 m to the left at a distance of 3.82 m.
    expect(left[at] / right[at]).toBeCloseTo(Math.sqrt((1 + 1.8 / distances[0]) / (1 - 1.8 / distances[0])), 1);
  });

  test.each([
    ['stone', 8, 6, 3],
    ['wood', 20, 12, 8],
    ['curtains', 12, 9, 5],
  ])('a room of %s, %d × %d × %d m, dies as Eyring says', (surface, length, width, height) => {
    const absorption = { stone: 0.03, wood: 0.13, curtains: 0.5 }[surface]!;
    const area = 2 * (length * width + length * height + width * height);
    const wanted = (0.161 * length * width * height) / (-area * Math.log(1 - absorption));
    const settings = { ...shape, length, width, height, walls: surface, floor: surface, ceiling: surface };
    const [left] = through('room', { ...settings, direct: -96 }, impulse(0, Math.ceil((2 * wanted + 1) * RATE)));
    const found = decayTime(octaveBand(left, 1000, RATE).subarray(0.05 * RATE), RATE);
    expect(Math.abs(found / wanted - 1)).toBeLessThan(0.25);
  });

  test('set by hand it dies as it is set; low and high tone turn what the room adds', () => {
    const settings = { ...shape, ownDecay: true, decay: 2, direct: -96, reflections: -96, walls: 'stone' };
    const [left] = through('room', settings);
    expect(Math.abs(decayTime(octaveBand(left, 1000, RATE), RATE) / 2 - 1)).toBeLessThan(0.1);
    const [high] = through('room', { ...settings, highTone: 12 });
    const [low] = through('room', { ...settings, lowTone: -12 });
    const energy = (samples: Float32Array, band: number) =>
      decibels(Math.sqrt(octaveBand(samples, band, RATE).reduce((sum, x) => sum + x * x, 0)));
    expect(energy(high, 10000) - energy(left, 10000)).toBeCloseTo(12, -0.5);
    expect(energy(low, 63) - energy(left, 63)).toBeCloseTo(-12, -0.5);
    expect(Math.abs(energy(high, 500) - energy(left, 500))).toBeLessThan(1);
  });
});

describe('convolve', () => {
  const response = noise(30000, RATE, 2, 7);
  const convolved = (settings: object, source: Clip, clip: Clip = response) =>
    finishRender(
      renderChain(BUILT_INS, {
        chain: chainOf([{ kind: 'convolve', settings: { impulse: { sound: 'x' }, matched: false, ...settings } }]),
        source,
        sounds: () => ({ sha256: 'x', clip }),
      }),
    ).channels;

  test('convolves with what has been worked out elsewhere, and gives the same', () => {
    const chain = chainOf([{ kind: 'convolve', settings: { impulse: { sound: 'x' } } }]);
    const [planned] = planStages(BUILT_INS, chain, RATE, () => ({ sha256: 'x', clip: response }));
    const other = clipOf([response.channels[0].toReversed()]);
    const sent = structuredClone(prepareStage(BUILT_INS, planned, RATE))!;
    const played = (stage: Planned) => {
      const section = new Section(BUILT_INS, [stage], RATE, 1);
      const out = new Float32Array(128);
      const heard: number[] = [];
      for (let block = 0; block < 400; block++) {
        out.fill(0);
        if (block === 0) out[0] = 1;
        section.process([out], 128, 128 * block);
        heard.push(...section.output[0]);
      }
      return heard;
    };
    const alone = played(planned);
    expect(played({ ...planned, sounds: {}, prepared: sent })).toEqual(alone);
    // What came with the plan counts, not the sound.
    expect(played({ ...planned, sounds: { impulse: other }, prepared: sent })).toEqual(alone);
    expect(played({ ...planned, sounds: { impulse: other } })).not.toEqual(alone);
  });

  test('equals direct convolution to −120 dB, without latency', () => {
    const source = noise(6000, RATE, 2, 3);
    const out = convolved({}, source);
    let worst = 0;
    let power = 0;
    for (const side of [0, 1]) {
      for (let n = 0; n < 6000; n += 173) {
        let sum = 0;
        for (let k = 0; k <= n; k++) sum += source.channels[side][n - k] * response.channels[side][k];
        worst = Math.max(worst, Math.abs(sum - out[side][n]));
        power = Math.max(power, Math.abs(sum));
      }
    }
    expect(decibels(worst / power)).toBeLessThan(-120);
  });

  test('start, length, backwards, pre-delay and stretch', () => {
    const ramp = clipOf([Float32Array.from({ length: 4800 }, (_, i) => (i + 1) / 4800)]);
    const click = impulse(0, RATE);
    expect(convolved({ start: 0.05 }, click, ramp)[0][0]).toBeCloseTo(0.5, 2);
    const [short] = convolved({ length: 0.05 }, click, ramp);
    expect(short.subarray(2400).every((x) => Math.abs(x) < 1e-6)).toBe(true);
    const [turned] = convolved({ backwards: true }, click, ramp);
    expect(turned[0]).toBeCloseTo(1, 3);
    expect(turned[4799]).toBeCloseTo(1 / 4800, 3);
    const [late] = convolved({ preDelay: 0.1 }, click, ramp);
    expect(Math.abs(late[4799])).toBeLessThan(1e-6);
    expect(late[4800 + 2400]).toBeCloseTo(0.5, 2);
    const [slow] = convolved({ stretch: 2 }, click, ramp);
    expect(slow[4800]).toBeCloseTo(0.5, 1);
    expect(Math.abs(slow[9700])).toBeLessThan(0.02);
  });

  test('matched, every impulse is as strong; without one it passes on what comes in', () => {
    const energy = (clip: Clip) =>
      convolved({ matched: true }, impulse(0, RATE), clip)[0].reduce((sum, x) => sum + x * x, 0);
    expect(energy(noise(20000, RATE, 1, 5))).toBeCloseTo(1, 3);
    expect(energy(noise(300, RATE, 1, 5))).toBeCloseTo(1, 3);
    const source = noise(1000, RATE, 2);
    const [left] = through('convolve', { impulse: { sound: 'not there' } }, source);
    expect(left).toEqual(source.channels[0]);
  });

  test('an impulse of another rate sounds at its own pitch', () => {
    const tone = clipOf(
      [Float32Array.from({ length: 44100 }, (_, i) => Math.sin((2 * Math.PI * 1000 * i) / 44100))],
      44100,
    );
    const [out] = convolved({}, impulse(0, RATE), tone);
    let crossings = 0;
    for (let i = 1000; i < 40000; i++) if (out[i] < 0 && out[i + 1] >= 0) crossings++;
    expect(crossings).toBeCloseTo(39000 / 48, -0.5);
  });
});
