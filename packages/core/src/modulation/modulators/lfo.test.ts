import { BUILT_INS } from '../../catalogue/builtIns.ts';
import { describe, expect, test } from 'vitest';
import { chainOf } from '../../testing/chains.ts';
import { SWING, gains, lfo, route } from '../../testing/movedGain.ts';
import { ModulationBus } from '../../engine/modulation/modulationBus.ts';
import { modulatorsOf } from '../../engine/plan/plannedModulation.ts';
import { planStages } from '../../engine/plan/plan.ts';

const RATE = 48000;
const BAR = 2; // seconds at 120

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
    const movement = new ModulationBus(modulatorsOf(planStages(BUILT_INS, chain, RATE)), RATE, { start: 0, end: 1 });
    const mover = movement.find('lfo')!;
    let worst = 0;
    for (let block = 0; block * 128 < 60 * RATE; block++) {
      movement.advance([], block * 128);
      if ((block * 128) % (BAR * RATE) === 0)
        worst = Math.max(worst, Math.abs(movement.value(mover, 0, block * 128) - 1));
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
