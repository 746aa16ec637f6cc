import { BUILT_INS } from '../../catalogue/builtIns.ts';
import { describe, expect, test } from 'vitest';
import { toCanonical } from '../../params/types/paramScale.ts';
import { chainOf, renderOf } from '../../testing/chains.ts';
import { SWING, gainParam, gains, lfo, route, steady } from '../../testing/movedGain.ts';
import { clipOf } from '../../testing/signals.ts';
import { frameCount } from '../../model/clip.ts';
import { ModulationBus } from './modulationBus.ts';
import { modulatorsOf } from '../plan/plannedModulation.ts';
import { traceMovement } from './trace.ts';
import { planModulators, planStages } from '../plan/plan.ts';

const RATE = 48000;

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

test('values are kept as far back as the latest stage hears them, at any rate, and when it becomes later', () => {
  for (const rate of [44100, 192000]) {
    const chain = chainOf([{ kind: 'gain' }], { modulators: [lfo({ rate: 0.7 })], routes: [route()] });
    const modulators = modulatorsOf(planStages(BUILT_INS, chain, rate));
    const movement = new ModulationBus(modulators, rate, { start: 0, end: rate }, { latency: 0.2 * rate });
    const mover = movement.find('lfo')!;
    const run = (from: number, to: number) => {
      for (let at = from; at < to; at += 128) movement.advance([], at);
    };
    const off = (position: number, late: number) => {
      const asked = position - late * rate;
      return Math.abs(movement.value(mover, 0, asked) - Math.sin((2 * Math.PI * 0.7 * asked) / rate));
    };
    const half = 128 * Math.round((0.5 * rate) / 128);
    run(0, half);
    expect(off(half, 0.2)).toBeLessThan(1e-3);
    movement.update(modulators, 1.5 * rate);
    // What was kept by then is still there.
    expect(off(half, 0.2)).toBeLessThan(1e-3);
    run(half, 4 * half);
    for (const late of [0, 0.3, 0.9, 1.45]) expect(off(4 * half, late)).toBeLessThan(1e-3);
  }
});

test('a trace shows what is heard, and modulators that move nothing yet', () => {
  const chain = chainOf([{ kind: 'gain' }], {
    modulators: [lfo({ rate: 3 }), { id: 'idle', kind: 'lfo', settings: { rate: 1 } }],
    routes: [route()],
  });
  const source = steady(1, 2);
  const process = traceMovement(BUILT_INS, planStages(BUILT_INS, chain, RATE), planModulators(chain, RATE), source, {
    start: 0,
    end: RATE,
  });
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
