/** Stages on their way out go on as they were, with all that moves them. */
import { headOfClip } from '../../heads/clip/clip.ts';
import { BUILT_INS } from '../../catalogue/builtIns.ts';
import { describe, expect, test, vi } from 'vitest';
import type { ChainDocument } from '../../chain/schema.ts';
import { MODULATORS } from '../../modulation/modulators/index.ts';
import { chainOf } from '../../testing/chains.ts';
import { LiveRun } from '../../testing/live.ts';
import { steady } from '../../testing/movedGain.ts';
import { noise } from '../../testing/signals.ts';
import { LiveEngine } from '../live/liveEngine.ts';
import { LiveMeters } from '../live/liveMeters.ts';
import { BOARD, createMeterBoard } from '../live/meterBoard.ts';
import { planStages } from '../plan/plan.ts';

const RATE = 48000;
const CHANGED = 128 * 190;
const AFTER = 4800;

/** What a run gives around a change, 100 ms of it behind; without `after`, unchanged. */
function played(before: ChainDocument, after?: ChainDocument): number[] {
  const run = new LiveRun(before, steady(1));
  run.run(CHANGED);
  if (after) run.change(after);
  run.run(AFTER);
  return run.heard[0].slice(CHANGED);
}

const smooth = (x: number) => (x <= 0 ? 0 : x >= 1 ? 1 : x * x * (3 - 2 * x));

/** From the one to the other between 8 and 36 ms, as arrangements pass into one another. */
const crossfaded = (from: readonly number[], to: readonly number[]) =>
  from.map((sample, i) => sample + smooth((i / RATE - 0.008) / 0.028) * (to[i] - sample));

const furthest = (a: readonly number[], b: readonly number[]) =>
  a.reduce((most, sample, i) => Math.max(most, Math.abs(sample - b[i])), 0);

const lfo = (id: string, rate: number) => ({ id, kind: 'lfo', settings: { rate } });
const route = (from: string, to: string, depth = 0.06) => ({ id: `${from}-${to.replace('.', '-')}`, from, to, depth });
const gain = (id: string, rest: object = {}) => ({ kind: 'gain', id, ...rest });

describe('a modulated stage that leaves while it plays fades out as it would have gone on', () => {
  const MOVED = {
    modulators: [lfo('slow', 3), lfo('quick', 11), lfo('other', 7)],
    routes: [route('slow', 'first.gain'), route('quick', 'second.gain'), route('other', 'quick.rate', 0.02)],
  };
  const both = (first: object, second: object) => chainOf([gain('first', first), gain('second', second)], MOVED);
  const all = both({}, {});

  test.each([
    ['the first of two', both({ on: false }, {})],
    ['the second of two, with what moves its modulator', both({}, { on: false })],
    ['both', both({ on: false }, { on: false })],
    ['all, as when the source row is heard', chainOf([])],
  ])('%s', (_, after) => {
    const heard = played(all, after);
    expect(furthest(heard, crossfaded(played(all), played(after)))).toBeLessThan(1e-6);
    // The modulators did move it: a stage that stood still would not show a fault.
    expect(Math.max(...played(all)) - Math.min(...played(all))).toBeGreaterThan(0.02);
  });

  test('in a branch, and the whole split', () => {
    const split = (inside: object, outside: object = {}) =>
      chainOf([{ kind: 'split', branches: [{ id: 'a', stages: [gain('first', inside)] }], ...outside }], {
        modulators: MOVED.modulators,
        routes: [route('slow', 'first.gain')],
      });
    for (const after of [split({ on: false }), split({}, { on: false })])
      expect(furthest(played(split({}), after), crossfaded(played(split({})), played(after)))).toBeLessThan(1e-6);
  });

  test('one change upon the other, before the first is over', () => {
    const some = (...on: boolean[]) => chainOf([gain('first', { on: on[0] }), gain('second', { on: on[1] })], MOVED);
    const whole = some(true, true);
    const run = new LiveRun(whole, steady(1));
    run.run(CHANGED);
    for (const after of [some(false, true), chainOf([]), whole, some(true, false), chainOf([]), whole]) {
      run.change(after);
      run.run(1280);
    }
    run.run(AFTER * 4);
    // Back at the first arrangement, it is where it would be had nothing happened.
    const untouched = new LiveRun(whole, steady(1));
    untouched.run(CHANGED + 6 * 1280 + AFTER * 4);
    expect(furthest(run.heard[0].slice(-AFTER), untouched.heard[0].slice(-AFTER))).toBeLessThan(1e-6);
  });

  test('every kind of modulator, seeded changes, with none of them at fault', () => {
    const kinds = MODULATORS.map(({ kind }) => kind);
    const chain = (on: readonly boolean[]) =>
      chainOf(
        ['filter', 'gain', 'tremolo'].map((kind, n) => ({ kind, on: on[n] })),
        {
          modulators: kinds.map((kind) => ({ id: kind, kind })),
          routes: kinds.map((kind, n) => route(kind, ['filter.cutoff', 'gain.gain', 'tremolo.depth'][n % 3], 0.1)),
        },
      );
    const run = new LiveRun(chain([true, true, true]), noise(RATE));
    for (let n = 0; n < 60; n++) {
      run.change(chain([0, 1, 2].map((bit) => ((n * 5 + 3) >> bit) % 2 === 0)));
      run.run(128 * (1 + (n % 7) * 5));
    }
    expect(run.heard[0].every(Number.isFinite)).toBe(true);
  });
});

describe('a fault in one stage or modulator while it plays', () => {
  /** The greatest sample of each 10 ms that an engine gives, and what the board says at the end. */
  function heard(chain: ChainDocument) {
    const engine = new LiveEngine(BUILT_INS, RATE);
    const meters = new LiveMeters(new Float64Array(createMeterBoard()), RATE);
    const board = new Float64Array(createMeterBoard());
    const onBoard = new LiveMeters(board, RATE);
    engine.load('work', { head: headOfClip(noise(RATE, RATE, 2)), plan: planStages(BUILT_INS, chain, RATE), gain: 0 });
    engine.listen('work');
    engine.play(0, { start: 0, end: RATE }, Infinity);
    const block = [new Float32Array(128), new Float32Array(128)];
    const samples: number[] = [];
    for (let n = 0; n < 100; n++) {
      engine.process(block[0], block[1], 128);
      onBoard.stages(engine.heard!.section);
      meters.process(block, 128, 1);
      samples.push(...block[0]);
    }
    return { engine, board, loudest: samples.slice(-4800).reduce((most, x) => Math.max(most, Math.abs(x)), 0) };
  }
  const throwing = (times = Infinity) => {
    let left = times;
    return vi
      .spyOn(BUILT_INS.of({ kind: 'tremolo' }) as unknown as { create: () => unknown }, 'create')
      .mockImplementation(() => ({
        memoryFrames: 0,
        reset: () => undefined,
        process: () => {
          if (left-- > 0) throw new Error('a fault in the stage');
        },
      }));
  };

  test('silences that stage and tells which; the branch beside it sounds on, and playing anew starts it again', () => {
    const beside = chainOf([
      {
        kind: 'split',
        branches: [
          { id: 'a', stages: [{ id: 't', kind: 'tremolo' }] },
          { id: 'b', stages: [] },
        ],
      },
    ]);
    const fault = throwing(1);
    const { engine, board, loudest } = heard(beside);
    expect(loudest).toBeGreaterThan(0.01);
    expect(board[BOARD.faultStage]).toBe(2);
    engine.stop();
    const block = [new Float32Array(128), new Float32Array(128)];
    for (let n = 0; n < 20; n++) engine.process(block[0], block[1], 128);
    engine.play(0, undefined, Infinity);
    engine.process(block[0], block[1], 128);
    expect(engine.heard!.section.stages[0].branches[0].section.stages[0].faulted).toBe(false);
    fault.mockRestore();
  });

  test('in a row leaves nothing to hear, and no sample of the broken block', () => {
    const fault = throwing();
    const { board, loudest } = heard(chainOf([{ kind: 'gain' }, { kind: 'tremolo' }]));
    expect(loudest).toBe(0);
    expect(board[BOARD.faultStage]).toBe(2);
    fault.mockRestore();
  });

  test('at its making silences it too, for good, and the rest sounds on', () => {
    const fault = vi.spyOn(BUILT_INS.of({ kind: 'tremolo' }) as unknown as { create: () => unknown }, 'create');
    fault.mockImplementation(() => {
      throw new Error('a fault at the making');
    });
    const { engine, board, loudest } = heard(
      chainOf([{ kind: 'split', branches: [{ id: 'a', stages: [{ id: 't', kind: 'tremolo' }] }, { id: 'b' }] }]),
    );
    expect(loudest).toBeGreaterThan(0.01);
    expect(board[BOARD.faultStage]).toBe(2);
    engine.heard!.section.reset();
    expect(engine.heard!.section.stages[0].branches[0].section.stages[0].faulted).toBe(true);
    fault.mockRestore();
  });

  test('a render with it fails, and is not silent instead', () => {
    const fault = throwing();
    const run = new LiveRun(chainOf([{ kind: 'tremolo' }]), noise(RATE));
    expect(() => run.run(128)).toThrow('a fault in the stage');
    fault.mockRestore();
  });

  test('a modulator stands still, and what it moves sounds on', () => {
    const modulator = MODULATORS.find(({ kind }) => kind === 'lfo') as unknown as { create: () => unknown };
    const fault = vi.spyOn(modulator, 'create').mockImplementation(() => ({
      output: new Float32Array(2),
      start: () => undefined,
      advance: () => {
        throw new Error('a fault in the modulator');
      },
    }));
    const chain = chainOf([gain('first')], { modulators: [lfo('slow', 3)], routes: [route('slow', 'first.gain')] });
    const { board, loudest } = heard(chain);
    expect(loudest).toBeGreaterThan(0.01);
    expect(board[BOARD.modulatorFaults]).toBe(1);
    fault.mockRestore();
  });
});
