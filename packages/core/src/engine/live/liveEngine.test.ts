import { headOfClip } from '../../heads/clip/clip.ts';
import { BUILT_INS } from '../../catalogue/builtIns.ts';
import { describe, expect, test } from 'vitest';
import { integratedLoudness } from '../../analysis/loudness.ts';
import { chainOf, renderOf } from '../../testing/chains.ts';
import { clipOf, noise, sine } from '../../testing/signals.ts';
import { above, decibels } from '../../testing/spectrum.ts';
import type { Clip } from '../../model/clip.ts';
import { planStages } from '../plan/plan.ts';
import { Section } from '../run/section.ts';
import { LiveEngine, captureLoop } from './liveEngine.ts';
import { LiveMeters } from './liveMeters.ts';
import { BOARD, createMeterBoard, stagePeakPlace } from './meterBoard.ts';
import { SettingsReader, SettingsWriter, createSharedSettings } from './sharedSettings.ts';

const RATE = 48000;
const NOTHING = planStages(BUILT_INS, chainOf([]), RATE);
/** Whole periods of 1 kHz. */
const HELD = sine(1000, 0.5, 1, RATE, 2);

function run(engine: LiveEngine, frames: number, into: number[] = []): number[] {
  const block = [new Float32Array(128), new Float32Array(128)];
  for (let at = 0; at < frames; at += 128) {
    engine.process(block[0], block[1], 128);
    into.push(...block[0]);
  }
  return into;
}

function playing(clip: Clip, plan = NOTHING): LiveEngine {
  const engine = new LiveEngine(BUILT_INS, RATE);
  engine.load('work', { head: headOfClip(clip), plan, gain: 0 });
  engine.listen('work');
  engine.play(0, { start: 0, end: clip.channels[0].length }, Infinity);
  return engine;
}

/** Greatest sample above 8 kHz in dBFS, away from the ends of the stretch. */
const spurious = (heard: number[]) =>
  decibels(
    above(heard, 8000, RATE)
      .subarray(4096, heard.length - 4096)
      .reduce((most, x) => Math.max(most, Math.abs(x)), 1e-9),
  );

describe('without a click, on a held 1 kHz sine', () => {
  const turn = (change: (engine: LiveEngine) => void, before: (engine: LiveEngine) => void = () => undefined) => {
    const engine = playing(HELD);
    before(engine);
    const heard = run(engine, 24_000);
    change(engine);
    return spurious(run(engine, 24_000, heard));
  };

  test('to another deck and back', () => {
    const other = {
      head: headOfClip(HELD),
      plan: planStages(BUILT_INS, chainOf([{ kind: 'gain', settings: { gain: -12 } }]), RATE),
      gain: 0,
    };
    const load = (engine: LiveEngine) => engine.load('dry', other);
    expect(turn((engine) => engine.listen('dry'), load)).toBeLessThan(-60);
  });
  test('another gain, to match', () => {
    expect(turn((engine) => engine.deck('work')?.setGain(-14))).toBeLessThan(-60);
  });
  test('as one channel and as two again', () => {
    const apart = { ...HELD, channels: [HELD.channels[0], HELD.channels[0].map((x) => -0.3 * x)] };
    const engine = playing(apart);
    const heard = run(engine, 15_000);
    engine.deck('work')?.setChannels('mono');
    run(engine, 15_000, heard);
    engine.deck('work')?.setChannels('stereo');
    expect(spurious(run(engine, 15_000, heard))).toBeLessThan(-60);
  });
  test('another clip', () => {
    expect(
      turn((engine) =>
        engine.update('work', { head: headOfClip(sine(1000, 0.1, 1, RATE, 2)), plan: NOTHING, gain: 0 }),
      ),
    ).toBeLessThan(-60);
  });
  test('round a loop that does not fit the sine, and to another one', () => {
    expect(turn((engine) => engine.setLoop({ start: 100, end: 15_013 }, Infinity))).toBeLessThan(-60);
  });
  test('stopped and played', () => {
    expect(
      turn((engine) => {
        engine.stop();
      }),
    ).toBeLessThan(-60);
  });
  test('a deck that is taken away while it is heard', () => {
    expect(turn((engine) => engine.unload('work'))).toBeLessThan(-60);
  });
});

test('a chain that renders one channel is heard as that: the mean on both sides, to the sample', () => {
  const source = noise(8192, RATE, 2);
  const chain = chainOf([], { render: { tail: { mode: 'none' }, channels: 'mono' } });
  const rendered = renderOf(chain, source).channels[0];
  const engine = new LiveEngine(BUILT_INS, RATE);
  engine.load('work', { head: headOfClip(source), plan: NOTHING, gain: 0, channels: 'mono' });
  engine.listen('work');
  engine.play(0, undefined, 8192);
  const block = [new Float32Array(128), new Float32Array(128)];
  for (let at = 0; at < 4096; at += 128) {
    engine.process(block[0], block[1], 128);
    // Behind the switch to the deck, which takes 30 ms.
    if (at < 2048) continue;
    expect([...block[0]]).toEqual([...rendered.subarray(at, at + 128)]);
    expect([...block[1]]).toEqual([...block[0]]);
  }
});

test('the play head goes round the loop, to the frame; without one playing ends by itself', () => {
  const ramp = clipOf([Float32Array.from({ length: 5000 }, (_, i) => i / 5000)]);
  const engine = new LiveEngine(BUILT_INS, RATE);
  engine.load('work', { head: headOfClip(ramp), plan: NOTHING, gain: 0 });
  engine.listen('work');
  engine.play(1000, { start: 1000, end: 3000 }, Infinity);
  const heard = run(engine, 8000);
  // Behind the fade at the beginning and those of 6 ms at each turn.
  for (const at of [600, 1500, 2600, 3900, 5000, 7800]) expect(heard[at]).toBeCloseTo((1000 + (at % 2000)) / 5000, 6);
  engine.setLoop(undefined, 5000);
  run(engine, 8000);
  expect(engine.playing).toBe(false);
});

test('a sample that is no number is silenced, told, and poisons nothing', () => {
  const chain = chainOf([
    { kind: 'filter', settings: { resonance: 8 } },
    { kind: 'hall', settings: { decay: 3 } },
    { kind: 'split', branches: [{ id: 'b', stages: [{ id: 'room', kind: 'hall' }] }] },
  ]);
  const section = new Section(BUILT_INS, planStages(BUILT_INS, chain, RATE), RATE, 1);
  const block = new Float32Array(128).fill(0.1);
  section.process([block], 128, 0);
  for (const bad of [NaN, Infinity]) {
    section.process([block.map((x, i) => (i === 60 ? bad : x))], 128, 0);
    expect(section.output.every((side) => side.every(Number.isFinite))).toBe(true);
  }
  expect(section.stages[0].failures).toBe(2);
  let loudest = 0;
  for (let n = 0; n < 400; n++) {
    section.process([block], 128, 0);
    section.output.forEach((side) => side.forEach((x) => (loudest = Math.max(loudest, Math.abs(x)))));
    expect(section.output.every((side) => side.every(Number.isFinite))).toBe(true);
  }
  expect(loudest).toBeGreaterThan(0.01);
});

test('after silence no number is so small that it slows the machine down', () => {
  const section = new Section(
    BUILT_INS,
    planStages(BUILT_INS, chainOf([{ kind: 'hall', settings: { decay: 0.1 } }]), RATE),
    RATE,
    2,
  );
  const blocks = (fill: number, count: number) => {
    const block = [new Float32Array(128).fill(fill), new Float32Array(128).fill(fill)];
    for (let n = 0; n < count; n++) section.process(block, 128, 0);
  };
  blocks(0.5, 50);
  blocks(0, 4000);
  expect(section.output.every((side) => side.every((x) => x === 0))).toBe(true);
});

test('played again after a stage with latency has come in, it is what it is when it plays for the first time', () => {
  const clip = noise(RATE, RATE, 2);
  const grains = { kind: 'grains', settings: { density: 40 } };
  const first = planStages(BUILT_INS, chainOf([grains]), RATE);
  const late = planStages(BUILT_INS, chainOf([{ kind: 'transpose', settings: { interval: 5 } }, grains]), RATE);
  const changed = playing(clip, first);
  run(changed, 12_800);
  changed.replan('work', late);
  // Stopped in the middle of the change.
  run(changed, 1280);
  changed.stop();
  run(changed, 1280);
  changed.play(0, undefined, Infinity);
  const again = run(changed, 38_400);
  const fresh = playing(clip, late);
  expect(again).toEqual(run(fresh, 38_400));
  expect(again.some((x) => Math.abs(x) > 0.01)).toBe(true);
});

describe('meters', () => {
  const measured = (clip: Clip, plan = NOTHING, seconds = 4) => {
    const engine = playing(clip, plan);
    const board = new Float64Array(createMeterBoard());
    const meters = new LiveMeters(board, RATE);
    const block = [new Float32Array(128), new Float32Array(128)];
    for (let at = 0; at < seconds * RATE; at += 128) {
      engine.process(block[0], block[1], 128);
      if (engine.heard) meters.stages(engine.heard.section);
      meters.process(block, 128, 267);
    }
    return board;
  };

  test('short-term loudness, peak, true peak, correlation and load of a −23 dBFS sine', () => {
    const amplitude = 10 ** (-23 / 20);
    const board = measured(sine(1000, amplitude, 1, RATE, 2));
    expect(board[BOARD.shortTerm]).toBeCloseTo(-23, 1);
    expect(decibels(board[BOARD.peakLeft])).toBeCloseTo(-23, 1);
    expect(decibels(board[BOARD.truePeak])).toBeCloseTo(-23, 1);
    expect(board[BOARD.correlation]).toBeCloseTo(1, 3);
    expect(board[BOARD.load]).toBeCloseTo(0.1, 2);
    expect(board[BOARD.over]).toBe(0);
  });

  test('sides of opposite sign and unlike sides', () => {
    const [side] = noise(RATE).channels;
    expect(measured(clipOf([side, side.map((x) => -x)]))[BOARD.correlation]).toBeCloseTo(-1, 3);
    expect(Math.abs(measured(noise(RATE, RATE, 2))[BOARD.correlation])).toBeLessThan(0.1);
  });

  test('the first stage that passes full scale is named, and every stage has its peak', () => {
    const plan = planStages(
      BUILT_INS,
      chainOf([
        { id: 'calm', kind: 'gain' },
        { id: 'loud', kind: 'gain', settings: { gain: 12 } },
        { id: 'less', kind: 'gain', settings: { gain: -3 } },
      ]),
      RATE,
    );
    const board = measured(HELD, plan, 1);
    expect(board[BOARD.over]).toBe(1);
    expect(board[BOARD.overStage]).toBe(2);
    expect([0, 1, 2].map((n) => Math.round(decibels(board[stagePeakPlace(n)])))).toEqual([-6, 6, 3]);
  });
});

test('a loop is captured as it sounds once its own tail is in it', () => {
  const plan = planStages(BUILT_INS, chainOf([{ kind: 'hall', settings: { decay: 1 } }]), RATE);
  const content = { head: headOfClip(noise(RATE, RATE, 2)), plan, gain: 0 };
  const capture = (rounds: number) => {
    const steps = captureLoop(BUILT_INS, content, { start: 0, end: RATE / 2 }, rounds);
    for (;;) {
      const step = steps.next();
      if (step.done) return integratedLoudness(step.value);
    }
  };
  // The hall wanders by itself, so no two rounds are quite alike.
  expect(Math.abs(capture(4) - capture(8))).toBeLessThan(0.15);
  expect(capture(0)).toBeLessThan(capture(4) - 0.2);
});

test('settings pass through shared memory whole, newest first, for their own plan alone', () => {
  const memory = createSharedSettings();
  const writer = new SettingsWriter(memory);
  const reader = new SettingsReader(memory);
  expect(reader.read(0)).toBe(false);
  writer.write(1, [1, 2, 3]);
  writer.write(2, [4, 5]);
  expect(reader.read(1)).toBe(false);
  expect(reader.read(2)).toBe(true);
  expect([...reader.numbers.subarray(0, 2)]).toEqual([4, 5]);
  expect(reader.read(2)).toBe(false);
  // More than fit are refused whole, and the next ones still come through.
  expect(() => writer.write(2, new Array<number>(8193).fill(9))).toThrow('8193 settings');
  writer.write(2, [6]);
  expect(reader.read(2)).toBe(true);
  expect(reader.numbers[0]).toBe(6);
  // Caught in the middle of writing: the count is odd.
  Atomics.add(new Int32Array(memory), 0, 1);
  expect(reader.read(2)).toBe(false);
});

describe('round a whole sound', () => {
  /** The n-th round of it. */
  const rounds = (clip: Clip, count: number) => run(playing(clip), count * clip.channels[0].length);

  test.each([44100, 48000, 96000])('at %d Hz a loop that fits goes on as if it had no end', (rate) => {
    // A second of whole periods, low and high.
    const whole = Float32Array.from({ length: rate }, (_, i) =>
      [97, 1000, 5003, 6999].reduce((sum, f) => sum + 0.2 * Math.sin((2 * Math.PI * f * i) / rate + f), 0),
    );
    const clip = { sampleRate: rate, origin: 0, channels: [whole, whole] };
    const engine = new LiveEngine(BUILT_INS, rate);
    engine.load('work', { head: headOfClip(clip), plan: planStages(BUILT_INS, chainOf([]), rate), gain: 0 });
    engine.listen('work');
    engine.play(0, { start: 0, end: rate }, Infinity);
    const heard = run(engine, 3 * rate);
    for (let i = rate; i < 3 * rate; i++) if (heard[i] !== whole[i % rate]) throw new Error(`differs at ${i}`);
  });

  test('one that does not fit goes over without a step', () => {
    const clip = clipOf([
      Float32Array.from({ length: 30_000 }, (_, i) => 0.5 * Math.sin((2 * Math.PI * 331.7 * i) / RATE)),
    ]);
    const heard = rounds(clip, 3);
    const own = 0.5 * 2 * Math.sin((Math.PI * 331.7) / RATE);
    const steps = heard.slice(4800).map((x, i) => Math.abs(x - heard[4800 + i - 1]));
    expect(steps.slice(1).reduce((most, x) => Math.max(most, x), 0)).toBeLessThan(1.5 * own);
  });
});

describe('all decks are as late as the latest', () => {
  const late = { kind: 'transpose', settings: { interval: 0, formants: 'moved' } };
  const planOf = (stages: object[]) => planStages(BUILT_INS, chainOf(stages as never), RATE);

  test('dry and a late chain lie on one another, and cancel in no switch', () => {
    const source = noise(RATE, RATE, 2);
    const engine = new LiveEngine(BUILT_INS, RATE);
    engine.load('work', { head: headOfClip(source), plan: planOf([late]), gain: 0 });
    engine.load('dry', { head: headOfClip(source), plan: NOTHING, gain: 0 });
    engine.listen('work');
    engine.play(0, undefined, Infinity);
    const heard = run(engine, RATE / 4);
    engine.listen('dry');
    run(engine, RATE / 4, heard);
    const { latency } = engine;
    expect(latency).toBe(4096);
    // Through the switch as before it: the sound, so many frames late.
    for (let i = 12_000; i < RATE / 2; i++)
      if (Math.abs(heard[i] - source.channels[0][i - latency]) > 1e-4) throw new Error(`differs at ${i}`);
  });

  test('a sound is heard to its end, however late it comes', () => {
    const source = noise(24_000, RATE, 2);
    const engine = new LiveEngine(BUILT_INS, RATE);
    engine.load('work', { head: headOfClip(source), plan: planOf([late]), gain: 0 });
    engine.listen('work');
    engine.play(0, undefined, 24_000);
    const heard = run(engine, 40_000);
    expect(Math.abs(heard[24_000 + 4096 - 500] - source.channels[0][23_500])).toBeLessThan(1e-3);
    expect(engine.playing).toBe(false);
  });

  test('where it sounds is told, round a loop too', () => {
    const engine = new LiveEngine(BUILT_INS, RATE);
    engine.load('work', { head: headOfClip(HELD), plan: planOf([late]), gain: 0 });
    engine.listen('work');
    engine.play(1280, { start: 1280, end: 1280 + 12_800 }, Infinity);
    run(engine, 2560);
    expect(engine.soundingAt(0)).toBe(1280);
    run(engine, 5120);
    expect(engine.soundingAt(1000)).toBe(1280 + 7680 - 4096 - 1000);
    run(engine, 6400);
    // 14,080 frames on, 1,280 into the second round; 4,096 frames ago it was in the first.
    expect(engine.soundingAt(0)).toBe(1280 + 14_080 - 4096);
  });

  test.each([
    ['a late stage comes in', [], [late]],
    ['and goes', [late], []],
    ['between others', [{ kind: 'gain' }], [{ kind: 'gain' }, late]],
  ])('%s: no hole in a held tone', (_, before, after) => {
    // As many periods as the stage is late: both arrangements have the same phase.
    const tone = sine((RATE * 85) / 4096, 0.5, 40_960 / RATE, RATE, 2);
    const engine = playing(tone, planOf(before));
    const heard = run(engine, 24_000);
    engine.replan('work', planOf(after));
    run(engine, 24_000, heard);
    // Every two milliseconds from the change on: never below half of its power, the crossfade of another place included.
    for (let at = 20_000; at < 46_000; at += 96) {
      const power = heard.slice(at, at + 96).reduce((sum, x) => sum + x * x, 0) / 96;
      expect(decibels(Math.sqrt(power) / (0.5 * Math.SQRT1_2)), `${at}`).toBeGreaterThan(-3.2);
    }
  });
});
