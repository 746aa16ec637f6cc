import { describe, expect, test } from 'vitest';
import type { ChainDocument } from '../chain/schema.ts';
import { STAGES } from '../stages/index.ts';
import { toCanonical } from '../stages/paramScale.ts';
import type { ScaledParam } from '../stages/params.ts';
import { chainOf, renderOf } from '../testing/chains.ts';
import { LiveRun } from '../testing/live.ts';
import { clipOf, noise, sine } from '../testing/signals.ts';
import { ClipCache } from './cache.ts';
import { frameCount, type Clip } from './clip.ts';
import { Movement } from './movement.ts';
import { modulatorsOf } from './movementPlan.ts';
import { MovingSettings } from './movingSettings.ts';
import { finishRender, renderChain } from './offlineRenderer.ts';
import { traceMovement } from './movementTrace.ts';
import { planModulators, planStages } from './plan.ts';
import { StreamedRender } from './streamedRender.ts';

const RATE = 48000;
const BAR = 2; // seconds at 120

/** A steady level, so that what comes out of a gain is the gain. */
const steady = (seconds: number, channels = 1): Clip =>
  clipOf(
    Array.from({ length: channels }, () => new Float32Array(Math.round(seconds * RATE)).fill(0.5)),
    RATE,
  );

const gainParam = STAGES.find(({ kind }) => kind === 'gain')!.params['gain'] as ScaledParam;

/** Gains in dB, frame by frame, that a chain of one gain stage had. */
function gains(rest: Record<string, unknown>, seconds: number, side = 0): number[] {
  const chain = chainOf([{ kind: 'gain' }], rest);
  const rendered = renderOf(chain, steady(seconds, 2));
  return [...rendered.channels[side]].map((sample) => 20 * Math.log10(sample / 0.5));
}

const lfo = (settings: object, id = 'lfo') => ({ id, kind: 'lfo', settings });
const route = (rest: object = {}) => ({ id: 'r', from: 'lfo', to: 'gain.gain', depth: 0.05, ...rest });

/** Half the swing of a full turn on the gain's scale, in dB. */
const SWING = 0.05 * (gainParam.max - gainParam.min);

describe('an LFO', () => {
  test('goes at its rate for a minute, within a thousandth', () => {
    const found = gains({ modulators: [lfo({ rate: 3.7 })], routes: [route()] }, 60);
    const crossings = found.flatMap((now, i) => (i > 0 && found[i - 1] < 0 && now >= 0 ? [i] : []));
    const rate = (crossings.length - 1) / ((crossings.at(-1)! - crossings[0]) / RATE);
    expect(Math.abs(rate / 3.7 - 1)).toBeLessThan(0.001);
  });

  test('in beats, it stands where it began at every bar', () => {
    const chain = chainOf([{ kind: 'gain' }], {
      modulators: [lfo({ rate: { note: '1/4' }, phase: 90 })],
      routes: [route()],
    });
    const movement = new Movement(modulatorsOf(planStages(chain, RATE)), RATE, { start: 0, end: 1 });
    let worst = 0;
    for (let block = 0; block * 128 < 60 * RATE; block++) {
      movement.advance([], block * 128);
      if ((block * 128) % (BAR * RATE) === 0) worst = Math.max(worst, Math.abs(movement.value(0, 0, block * 128) - 1));
    }
    expect(worst).toBeLessThan(1e-9);
  });

  test.each([
    ['sine', [0, 1, 0, -1]],
    ['triangle', [0, 1, 0, -1]],
    ['saw', [1, -0.5, 0, 0.5]],
    ['square', [-1, 1, 1, -1]],
  ] as const)('%s is what it is called', (wave, quarters) => {
    const found = gains({ modulators: [lfo({ rate: 1, wave })], routes: [route()] }, 2);
    quarters.forEach((height, n) => {
      // A moment into the turn, where jumps have been made; the ends of jumps are looked at on the first frame of the second turn.
      const at = RATE + (n * RATE) / 4;
      expect(found[at] / SWING).toBeCloseTo(height, 1);
    });
  });

  test('drift passes smoothly, steps stands; both are the same for the same seed and differ for another', () => {
    const of = (wave: string, seed: number) =>
      gains({ modulators: [lfo({ rate: 4, wave })], routes: [route()], render: { tail: { mode: 'none' }, seed } }, 2);
    for (const wave of ['drift', 'steps']) {
      expect(of(wave, 1)).toEqual(of(wave, 1));
      expect(of(wave, 1)).not.toEqual(of(wave, 2));
    }
    const steps = of('steps', 1);
    for (let turn = 0; turn < 8; turn++) expect(steps[turn * 12000 + 6000]).toBeCloseTo(steps[turn * 12000 + 11900], 6);
  });

  test('fades in, and once round stays where it ends', () => {
    const faded = gains({ modulators: [lfo({ rate: 8, fadeIn: 2 })], routes: [route()] }, 3);
    const loudest = (from: number, to: number) => Math.max(...faded.slice(from * RATE, to * RATE));
    expect(loudest(0, 0.25)).toBeLessThan(0.1 * SWING);
    expect(loudest(2.5, 3)).toBeCloseTo(SWING, 1);
    const once = gains({ modulators: [lfo({ rate: 1, wave: 'saw', once: true })], routes: [route()] }, 3);
    expect(once[2.9 * RATE] / SWING).toBeCloseTo(1, 3);
  });

  test('with a spread the right side is ahead, on a stage whose sides do not touch each other', () => {
    const rest = { modulators: [lfo({ rate: 1, spread: 90 })], routes: [route()] };
    expect(gains(rest, 1, 0)[0.25 * RATE] / SWING).toBeCloseTo(1, 3);
    expect(gains(rest, 1, 1)[0.25 * RATE] / SWING).toBeCloseTo(0, 2);
    expect(gains(rest, 1, 1)[0] / SWING).toBeCloseTo(1, 3);
  });
});

describe('a route', () => {
  const saw = lfo({ rate: 0.5, wave: 'saw' });
  test('goes up from the setting, around it, or down, by its depth', () => {
    const up = gains({ modulators: [saw], routes: [route({ polarity: 'up' })] }, 2);
    expect([up[2000], up[1.9 * RATE]].map((x) => x / SWING)).toEqual([
      expect.closeTo(0.02, 1),
      expect.closeTo(0.95, 1),
    ]);
    const down = gains({ modulators: [saw], routes: [route({ polarity: 'up', depth: -0.05 })] }, 2);
    expect(down[1.9 * RATE] / SWING).toBeCloseTo(-0.95, 1);
  });

  test('bends, smooths, and stays within the scale', () => {
    const bent = gains({ modulators: [saw], routes: [route({ polarity: 'up', bend: 1 })] }, 2);
    expect(bent[RATE] / SWING).toBeLessThan(0.1);
    const square = lfo({ rate: 1, wave: 'square' });
    const smooth = gains({ modulators: [square], routes: [route({ smoothing: 0.1 })] }, 2);
    // One time constant after the jump to 1 from −1: 63 % of the way.
    expect(smooth[RATE + 0.104 * RATE] / SWING).toBeCloseTo(-1 + 2 * 0.632, 1);
    const far = gains({ modulators: [lfo({ rate: 1 })], routes: [route({ depth: 1 })] }, 1);
    expect(Math.max(...far)).toBeLessThanOrEqual(gainParam.max + 1e-4);
  });

  test('several add up; a control of the panel moves too', () => {
    const two = gains(
      {
        modulators: [lfo({ rate: 1 }), lfo({ rate: 1 }, 'lfo2')],
        routes: [route(), route({ id: 'r2', from: 'lfo2' })],
      },
      1,
    );
    expect(two[0.25 * RATE] / SWING).toBeCloseTo(2, 3);
    const control = { id: 'amount', name: 'Amount', default: 0, value: 50 };
    const moved = gains({ panel: [control], routes: [route({ from: 'amount', polarity: 'up' })] }, 0.5);
    expect(moved[1000] / SWING).toBeCloseTo(0.5, 3);
  });

  test('a modulator moves another one', () => {
    // The second changes the depth of nothing but the rate of the first: from 2 Hz up to where the scale says.
    const slow = { id: 'env', kind: 'envelope', settings: {} };
    const rest = {
      modulators: [lfo({ rate: 2 }), slow],
      routes: [route(), { id: 'r2', from: 'env', to: 'lfo.rate', depth: 0.2, polarity: 'up' }],
    };
    const found = gains(rest, 6);
    const turns = (from: number, to: number) =>
      found.slice(from * RATE, to * RATE).filter((now, i, all) => i > 0 && all[i - 1] < 0 && now >= 0).length;
    expect(turns(0, 1)).toBeLessThanOrEqual(3);
    // 0.2 of the way from 0.01 to 40 Hz in octaves is a factor of 5.25.
    expect(turns(5, 6)).toBeGreaterThanOrEqual(9);
  });
});

describe('modulators', () => {
  const moved = (modulator: object, source: Clip, depth = 0.05) =>
    renderOf(
      chainOf([{ kind: 'gain' }], {
        modulators: [{ id: 'm', ...modulator }],
        routes: [{ id: 'r', from: 'm', to: 'gain.gain', depth, polarity: 'up' }],
      }),
      source,
    ).channels[0];
  const inDecibels = (samples: Float32Array, at: number) => 20 * Math.log10(samples[at] / 0.5);

  test('a follower rises with the sound and falls when it stops', () => {
    const burst = sine(1000, 0.5, 2);
    burst.channels[0].fill(0, 0, RATE / 2);
    burst.channels[0].fill(0, RATE, 2 * RATE);
    const settings = { attack: 0.005, release: 0.1, floor: -60, ceiling: -6 };
    const chain = chainOf([{ kind: 'gain' }], {
      modulators: [{ id: 'm', kind: 'follower', settings }],
      routes: [{ id: 'r', from: 'm', to: 'gain.gain', depth: 0.05, polarity: 'up' }],
    });
    const movement = new Movement(modulatorsOf(planStages(chain, RATE)), RATE, { start: 0, end: 1 });
    const found: number[] = [];
    for (let at = 0; at < 2 * RATE; at += 128) {
      movement.advance([burst.channels[0].subarray(at, at + 128)], at);
      found.push(movement.value(0, 0, at));
    }
    const value = (seconds: number) => found[Math.floor((seconds * RATE) / 128)];
    expect(value(0.4)).toBe(0);
    // −6 dB is the ceiling.
    expect(value(0.6)).toBeGreaterThan(0.97);
    // 8.7 dB a time constant: after 0.2 s some 17 of the 54 dB.
    expect(value(1.2)).toBeCloseTo(1 - 17.4 / 54, 1);
  });

  test('steps go through their row in time, swing and glide', () => {
    const plain = moved({ kind: 'sequence', settings: { steps: [1, -1, 0.5], rate: 4 } }, steady(2));
    const at = (samples: Float32Array, step: number) => inDecibels(samples, Math.round((step + 0.5) * 12000)) / SWING;
    [1, 0, 0.75, 1, 0, 0.75].forEach((height, step) => expect(at(plain, step)).toBeCloseTo(height, 2));
    const swung = moved({ kind: 'sequence', settings: { steps: [1, -1], rate: 4, swing: 0.5 } }, steady(1));
    expect(inDecibels(swung, 12000 + 5000) / SWING).toBeCloseTo(1, 2);
    expect(inDecibels(swung, 12000 + 8000) / SWING).toBeCloseTo(0, 2);
  });

  test('an envelope is its curve, over the clip, in time and round and round', () => {
    const curve = (over: string, length: number) => ({
      over,
      points: [
        { at: 0, value: 0 },
        { at: length, value: 1 },
      ],
    });
    const clip = moved({ kind: 'envelope', settings: { curve: curve('clip', 1) } }, steady(2));
    expect(inDecibels(clip, RATE) / SWING).toBeCloseTo(0.5, 2);
    const beats = moved({ kind: 'envelope', settings: { curve: curve('beats', 2) } }, steady(2));
    expect(inDecibels(beats, RATE / 2) / SWING).toBeCloseTo(0.5, 2);
    const round = moved({ kind: 'envelope', settings: { curve: curve('seconds', 0.5), loop: true } }, steady(2));
    expect(inDecibels(round, 1.25 * RATE) / SWING).toBeCloseTo(0.5, 2);
  });

  test('a triggered envelope goes off in time: attack, decay, sustain, release', () => {
    const settings = { by: 'time', every: 1, attack: 0.1, decay: 0.1, sustain: 0.5, gate: 0.5, release: 0.1 };
    const found = moved({ kind: 'trigger', settings }, steady(2));
    for (const turn of [0, 1]) {
      const value = (seconds: number) => inDecibels(found, Math.round((turn + seconds) * RATE)) / SWING;
      expect(value(0.05)).toBeCloseTo(0.5, 1);
      expect(value(0.1)).toBeCloseTo(1, 1);
      expect(value(0.45)).toBeCloseTo(0.5, 2);
      expect(value(0.65)).toBeLessThan(0.02);
    }
  });

  test('a triggered envelope hears attacks', () => {
    const hits = steady(2);
    hits.channels[0].fill(1e-4);
    for (const at of [0.5, 1.2]) hits.channels[0].fill(0.5, at * RATE, (at + 0.02) * RATE);
    const settings = { by: 'attacks', attack: 0.01, decay: 0.1, gate: 0.05, release: 0.05 };
    const found = moved({ kind: 'trigger', settings }, hits);
    expect(inDecibels(found, 0.51 * RATE) / SWING).toBeGreaterThan(0.9);
    expect(inDecibels(found, 1.21 * RATE) / SWING).toBeGreaterThan(0.9);
    // Between them it comes to rest.
    expect((20 * Math.log10(found[52799] / 1e-4)) / SWING).toBeLessThan(0.05);
  });

  test('notes: pitch around its centre, velocity, held; a triggered envelope is held as long as they are', () => {
    const notes = [
      { at: 1, length: 1, key: 72, velocity: 0.5 },
      { at: 3, length: 0.5, key: 54, velocity: 1 },
    ];
    const half = (samples: Float32Array, beats: number) => inDecibels(samples, beats * 0.5 * RATE) / SWING;
    const pitch = moved({ kind: 'notes', settings: { notes, range: 12 } }, steady(2));
    // Up from the setting: 0 at the lowest, a half in the middle, 1 an octave above it.
    expect([half(pitch, 0.5), half(pitch, 1.5), half(pitch, 3.2)].map((x) => Number(x.toFixed(2)))).toEqual([
      0.5, 1, 0.25,
    ]);
    const velocity = moved({ kind: 'notes', settings: { notes, by: 'velocity' } }, steady(2));
    expect([half(velocity, 0.5), half(velocity, 2.5), half(velocity, 3.2)].map((x) => Number(x.toFixed(2)))).toEqual([
      0, 0.5, 1,
    ]);
    const held = moved({ kind: 'notes', settings: { notes, by: 'held' } }, steady(2));
    expect(
      [half(held, 1.5), half(held, 2.5), half(held, 3.2), half(held, 3.8)].map((x) => Number(x.toFixed(2))),
    ).toEqual([1, 0, 1, 0]);
    const settings = { by: 'notes', notes, attack: 0.01, decay: 0.05, sustain: 0.6, release: 0.05 };
    const envelope = moved({ kind: 'trigger', settings }, steady(2));
    expect(
      [half(envelope, 0.9), half(envelope, 1.9), half(envelope, 2.5), half(envelope, 3.45)].map((x) =>
        Number(x.toFixed(1)),
      ),
    ).toEqual([0, 0.6, 0, 0.6]);
  });

  test('random stands between its draws and uses all of its range', () => {
    const found = moved({ kind: 'random', settings: { rate: 10, glide: 0, levels: 3 } }, steady(6));
    const heights = Array.from({ length: 60 }, (_, n) => Math.round((2 * inDecibels(found, n * 4800 + 3000)) / SWING));
    expect(new Set(heights)).toEqual(new Set([0, 1, 2]));
  });
});

describe('a lane', () => {
  const points = [
    { at: 0.1001, value: -20 },
    { at: 0.5, value: 6, bend: 0.5 },
    { at: 0.73, value: -3 },
    { at: 0.73, value: 12 },
    { at: 0.9, value: 0, bend: -0.3 },
    { at: 1, value: -60 },
  ];
  test('has each breakpoint’s value on its frame, in shares of the clip, seconds and beats', () => {
    for (const [over, unit] of [
      ['clip', 2],
      ['seconds', 1],
      ['beats', 0.5],
    ] as const) {
      const chain = chainOf([{ kind: 'gain' }], { lanes: [{ target: 'gain.gain', curve: { over, points } }] });
      const plan = planStages(chain, RATE);
      const movement = new Movement([], RATE, { start: 0, end: 2 * RATE });
      const settings = new MovingSettings({ gain: gainParam }, { gain: 0 }, RATE);
      settings.setMoves(plan[0].moves, movement);
      const at = new Map<number, number>();
      for (let position = 0; position < 2 * RATE + 128; position += 128) {
        settings.advance(position, 128);
        for (let from = 0; from < 128; from = settings.endOfPiece(from)) {
          settings.over(from, settings.endOfPiece(from) - from);
          at.set(position + from, (settings.values['gain'] as { start: number }).start);
        }
      }
      points.forEach((point, n) => {
        const frame = Math.round(point.at * unit * RATE);
        if (points[n + 1]?.at === point.at) return; // the first of a jump gives way to the second
        expect(Math.abs(at.get(frame)! - point.value), `${over} ${point.at}`).toBeLessThan(1e-6);
      });
    }
  });

  test('is heard as drawn', () => {
    const found = gains({ lanes: [{ target: 'gain.gain', curve: { over: 'seconds', points } }] }, 1.2);
    expect(found[0]).toBeCloseTo(-20, 4);
    for (const { at, value } of points.filter((_, n) => n !== 2))
      expect(found[Math.round(at * RATE)]).toBeCloseTo(value, 2);
    expect(found[Math.round(0.3 * RATE)]).toBeCloseTo(-7, 1);
  });

  test('on a logarithmic scale it moves in octaves', () => {
    const curve = {
      over: 'seconds',
      points: [
        { at: 0, value: 100 },
        { at: 1, value: 10000 },
      ],
    };
    const chain = chainOf([{ kind: 'filter', settings: { type: 'high' } }], {
      lanes: [{ target: 'filter.cutoff', curve }],
    });
    const plan = planStages(chain, RATE);
    const cutoff = STAGES.find(({ kind }) => kind === 'filter')!.params['cutoff'] as ScaledParam;
    const settings = new MovingSettings({ cutoff }, { cutoff: 500 }, RATE);
    settings.setMoves(plan[0].moves, new Movement([], RATE, { start: 0, end: RATE }));
    settings.advance(24000, 128);
    settings.over(0, 128);
    expect((settings.values['cutoff'] as { start: number }).start).toBeCloseTo(1000, 6);
  });

  test('a switch is thrown on its frame', () => {
    const source = noise(RATE, RATE, 2);
    for (const frame of [4801, 12345, 23999]) {
      const curve = {
        over: 'seconds',
        points: [
          { at: 0, value: 0 },
          { at: frame / RATE, value: 1 },
        ],
      };
      const chain = chainOf([{ kind: 'swap', settings: { sides: 'left on both' } }], {
        lanes: [{ target: 'swap.invertLeft', curve }],
      });
      const out = renderOf(chain, source).channels[0];
      // The stage itself turns over smoothly, from the frame on.
      expect(out.findIndex((sample, i) => sample !== source.channels[0][i])).toBe(frame);
    }
  });

  test('on mix, level, a branch and a modulator', () => {
    const lane = (target: string, from: number, to: number) => ({
      target,
      curve: {
        over: 'seconds',
        points: [
          { at: 0, value: from },
          { at: 1, value: to },
        ],
      },
    });
    const level = gains({ lanes: [lane('gain.level', 0, -24)] }, 1);
    expect(level[RATE / 2]).toBeCloseTo(-12, 1);
    const split = chainOf([{ kind: 'split', branches: [{ id: 'a' }, { id: 'b', muted: true }] }], {
      lanes: [lane('a.level', 0, -24)],
    });
    const out = renderOf(split, steady(1, 2)).channels[0];
    expect(20 * Math.log10(out[RATE / 2] / out[0])).toBeCloseTo(-12, 1);
  });
});

test('a trace shows what is heard, and modulators that move nothing yet', () => {
  const chain = chainOf([{ kind: 'gain' }], {
    modulators: [lfo({ rate: 3 }), { id: 'idle', kind: 'lfo', settings: { rate: 1 } }],
    routes: [route()],
  });
  const source = steady(1, 2);
  const process = traceMovement(planStages(chain, RATE), planModulators(chain, RATE), source, { start: 0, end: RATE });
  let step = process.next();
  while (!step.done) step = process.next();
  const { modulators, targets, step: spacing } = step.value;
  const heard = gains({ modulators: [lfo({ rate: 3 })], routes: [route()] }, 1);
  targets['gain.gain'].forEach((place, n) =>
    expect(toCanonical(gainParam, place)).toBeCloseTo(heard[Math.min(RATE - 1, n * spacing)], 2),
  );
  expect(modulators['idle'][Math.round(RATE / 4 / spacing)]).toBeCloseTo(1, 3);
});

test('an automatic tail is as long as the longest that something moves a stage to', () => {
  const burst = clipOf([new Float32Array(RATE)]);
  burst.channels[0].fill(0.5, RATE - 4800);
  const seconds = (rest: object) => {
    const chain = chainOf([{ kind: 'hall', settings: { decay: 0.2 } }], {
      render: { tail: { mode: 'auto', below: -60 } },
      ...rest,
    });
    return frameCount(renderOf(chain, burst)) / RATE - 1;
  };
  const curve = { over: 'seconds', points: [{ at: 0, value: 3 }] };
  expect(seconds({})).toBeLessThan(0.5);
  expect(seconds({ lanes: [{ target: 'hall.decay', curve }] })).toBeGreaterThan(2);
});

/** A render in pieces, put together. */
async function streamed(chain: ChainDocument, source: Clip): Promise<Float32Array[]> {
  const { sampleRate, channels } = source;
  const render = new StreamedRender(chain, {
    sampleRate,
    channels: channels.length,
    frames: frameCount(source),
    read: (from, count) => Promise.resolve(channels.map((samples) => samples.slice(from, from + count))),
  });
  const sides: number[][] = channels.map(() => []);
  for await (const piece of render.pieces()) piece.forEach((samples, c) => sides[c].push(...samples));
  return sides.map((side) => Float32Array.from(side));
}

/** A chain in which nearly everything moves. */
function everythingMoves(): ChainDocument {
  return chainOf(
    [
      { kind: 'filter', settings: { cutoff: 800 } },
      { kind: 'transpose', settings: { interval: 3 }, mix: 0.4 },
      { kind: 'echo', settings: { time: { note: '1/8' }, feedback: 0.4 } },
      {
        kind: 'split',
        branches: [
          { id: 'a', stages: [{ id: 'inner', kind: 'tremolo' }] },
          { id: 'b', stages: [{ id: 'dirt', kind: 'drive' }] },
        ],
      },
    ],
    {
      modulators: [
        { id: 'lfo', kind: 'lfo', settings: { rate: { note: '1/8' }, spread: 90 } },
        { id: 'fast', kind: 'lfo', settings: { rate: 17, wave: 'square' } },
        { id: 'env', kind: 'follower', settings: {} },
        { id: 'hits', kind: 'trigger', settings: {} },
        { id: 'steps', kind: 'sequence', settings: {} },
      ],
      routes: [
        { id: 'r1', from: 'lfo', to: 'filter.cutoff', depth: 0.4 },
        { id: 'r2', from: 'env', to: 'filter.resonance', depth: 0.4, polarity: 'up' },
        { id: 'r3', from: 'fast', to: 'echo.mix', depth: 0.3 },
        { id: 'r4', from: 'hits', to: 'dirt.amount', depth: 0.5, smoothing: 0.01 },
        { id: 'r5', from: 'env', to: 'lfo.rate', depth: 0.2 },
        { id: 'r6', from: 'steps', to: 'b.pan', depth: 0.5 },
        { id: 'r7', from: 'steps', to: 'inner.depth', depth: -0.5 },
      ],
      lanes: [
        {
          target: 'transpose.mix',
          curve: {
            over: 'seconds',
            points: [
              { at: 0, value: 0 },
              { at: 0.7013, value: 1 },
              { at: 0.7013, value: 0.2 },
            ],
          },
        },
        {
          target: 'inner.rate',
          curve: {
            over: 'clip',
            points: [
              { at: 0, value: 2 },
              { at: 1, value: 12, bend: 0.4 },
            ],
          },
        },
      ],
    },
  );
}

describe('with everything moving', () => {
  const bursts = noise(2 * RATE, RATE, 2);
  for (const side of bursts.channels) side.forEach((_, i) => (side[i] *= 0.4 * Math.exp(-((i % 12000) / 2500))));

  test('kept stages, a stream and the whole render give the same bytes', async () => {
    const chain = everythingMoves();
    const plain = renderOf(chain, bursts);
    const cache = new ClipCache(1e9);
    finishRender(renderChain({ chain, source: bursts, cache, sourceKey: 'x' }));
    const again = { ...chain, stages: chain.stages.map((stage, n) => (n === 3 ? { ...stage, level: -1 } : stage)) };
    const resumed = finishRender(renderChain({ chain: again, source: bursts, cache, sourceKey: 'x' }));
    expect(resumed.channels).toEqual(renderOf(again, bursts).channels);
    expect(await streamed(chain, bursts)).toEqual(plain.channels);
  });

  test('played live it is the same', () => {
    const chain = everythingMoves();
    const rendered = renderOf(chain, bursts);
    const live = new LiveRun(chain, bursts, { fadeIn: 0, once: true });
    const late = live.section.latency;
    live.run(frameCount(rendered) + late);
    // Transpose looks ahead, and a render ends each stage with the source: near the end it sees what live does not.
    const whole = frameCount(rendered) - 4096;
    const different = [...rendered.channels[0].subarray(0, whole)].findIndex(
      (sample, i) => live.heard[0][i + late] !== sample,
    );
    expect(different).toBe(-1);
  });
});
