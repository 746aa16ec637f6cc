import { BUILT_INS } from '../../catalogue/builtIns.ts';
import { describe, expect, test } from 'vitest';
import type { ScaledParam } from '../../params/params.ts';
import { chainOf, renderOf } from '../../testing/chains.ts';
import { gainParam, gains, steady } from '../../testing/movedGain.ts';
import { noise } from '../../testing/signals.ts';
import { ModulationBus } from './modulationBus.ts';
import { ModulatedSettings } from './modulatedSettings.ts';
import { planStages } from '../plan/plan.ts';

const RATE = 48000;

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
      const plan = planStages(BUILT_INS, chain, RATE);
      const movement = new ModulationBus([], RATE, { start: 0, end: 2 * RATE });
      const settings = new ModulatedSettings({ gain: gainParam }, { gain: 0 }, RATE);
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
    const plan = planStages(BUILT_INS, chain, RATE);
    const cutoff = BUILT_INS.stages.find(({ kind }) => kind === 'filter')!.params['cutoff'] as ScaledParam;
    const settings = new ModulatedSettings({ cutoff }, { cutoff: 500 }, RATE);
    settings.setMoves(plan[0].moves, new ModulationBus([], RATE, { start: 0, end: RATE }));
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
