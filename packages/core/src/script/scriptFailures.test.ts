/** Scripts that work too long, grow too large, or come to what is no number: passed over, held or muted, and told. */
import { beforeAll, describe, expect, test } from 'vitest';
import { BUILT_INS } from '../catalogue/builtIns.ts';
import { LiveEngine } from '../engine/live/liveEngine.ts';
import { LiveMeters } from '../engine/live/liveMeters.ts';
import { BOARD, createMeterBoard } from '../engine/live/meterBoard.ts';
import { gaveUpText } from '../engine/offline/gaveUp.ts';
import { finishRender, renderChain } from '../engine/offline/renderer.ts';
import { planStages } from '../engine/plan/plan.ts';
import { headOfClip } from '../heads/clip/clip.ts';
import { noise } from '../testing/signals.ts';
import { AMOUNT, chainOf, header } from '../testing/scriptChains.ts';
import { OVERDUE } from '../stages/contract.ts';
import { learnScripts } from './learnScripts.ts';

beforeAll(learnScripts);

test('that a script has given up is seen on the board, with its line', () => {
  const text = `${header(AMOUNT)}
  export function channel() {
    let n = 0;
    return (x, p) => {
      n += 1;
      if (n > 100) while (true) n += 1;
      return x;
    };
  }`;
  const source = noise(4800, 48_000, 2);
  const chain = chainOf(text);
  const engine = new LiveEngine(BUILT_INS, 48_000);
  const board = new Float64Array(createMeterBoard());
  const meters = new LiveMeters(board, 48_000);
  engine.load('work', { head: headOfClip(source), plan: planStages(BUILT_INS, chain, 48_000), gain: 0 });
  engine.listen('work');
  engine.play(0, undefined, 4800);
  const block = [new Float32Array(128), new Float32Array(128)];
  engine.process(block[0], block[1], 128);
  meters.stages(engine.heard!.section);
  expect([board[BOARD.passingStage], text.split('\n')[board[BOARD.passingLine] - 1].trim()]).toEqual([
    1,
    'if (n > 100) while (true) n += 1;',
  ]);
});

describe('what takes more time than there is', () => {
  const BLOCKS = 60;
  /** What is heard, block by block, where each stage takes as long as the clock says; and what is told of it. */
  const heardAt = (stages: readonly object[], tick: (call: number) => number) => {
    let now = 0;
    let calls = 0;
    const engine = new LiveEngine(BUILT_INS, 48_000, () => (now += tick(calls++)));
    const board = new Float64Array(createMeterBoard());
    const meters = new LiveMeters(board, 48_000);
    const chain = chainOf(`${header(AMOUNT)} export function channel() { return (x, p) => x; }`, { stages });
    const source = { sampleRate: 48_000, origin: 0, channels: [new Float32Array(96_000).fill(0.5)] };
    engine.load('work', { head: headOfClip(source), plan: planStages(BUILT_INS, chain, 48_000), gain: 0 });
    engine.listen('work');
    const whole: number[] = [];
    const play = () => {
      engine.stop();
      for (let n = 0; n < 20; n++) engine.process(new Float32Array(128), new Float32Array(128), 128);
      engine.play(0, undefined, 96_000);
      return Array.from({ length: BLOCKS }, () => {
        const block = [new Float32Array(128), new Float32Array(128)];
        engine.process(block[0], block[1], 128);
        meters.stages(engine.heard!.section);
        whole.push(...block[0]);
        return block[0][127];
      });
    };
    return { play, board, whole };
  };
  const own = { id: 'own', kind: 'script', script: 'trial' };
  const builtIn = { id: 'gain', kind: 'gain' };

  test('a script is muted within 50 ms, told, and starts again with the next play', () => {
    const { play, board, whole } = heardAt([own], () => 1700); // of 2667 µs a block
    const first = play();
    expect(first[10]).toBeCloseTo(0.5, 5);
    expect(first.slice(20).every((y) => y === 0)).toBe(true);
    // Without a click.
    const steps = whole.map((y, n) => Math.abs(y - (whole[n - 1] ?? 0)));
    expect(Math.max(...steps)).toBeLessThan(0.01);
    expect([board[BOARD.passingStage], board[BOARD.passingLine]]).toEqual([1, OVERDUE]);
    expect(play()[10]).toBeCloseTo(0.5, 5);
  });

  test.each([
    ['takes half of the time', own, () => 1500],
    ['stood still once for 40 ms, with all else', own, (call: number) => (call === 41 ? 40_000 : 10)],
    ['is built in', builtIn, () => 2400],
  ])('what %s sounds on', (_, stage, tick) => {
    const { play, board } = heardAt([stage], tick);
    expect(play().at(-1)).toBeCloseTo(0.5, 5);
    expect(board[BOARD.passingStage]).toBe(0);
  });
});

describe('what goes wrong while it runs', () => {
  const source = noise(48_000, 48_000, 2);
  const run = (body: string, more: object = {}) => {
    const text = `${header(AMOUNT)} export function channel() { ${body} }`;
    const chain = chainOf(text, { render: { tail: { mode: 'none' } }, ...more });
    const told: string[] = [];
    const {
      channels: [left, right],
    } = finishRender(
      renderChain(BUILT_INS, { chain, source }),
      (step) => step.type === 'gave up' && told.push(gaveUpText(step.stage)),
    );
    return { left, right, told };
  };

  test('an endless loop passes the sound on from there', () => {
    const { left, right, told } = run(
      'let n = 0; return (x, p) => { n++; if (n > 1000) while (true) n++; return 0; };',
    );
    expect(left.slice(0, 1000)).toEqual(new Float32Array(1000));
    expect(left.slice(1000)).toEqual(source.channels[0].slice(1000));
    expect(right.slice(1024)).toEqual(source.channels[1].slice(1024));
    expect(told.join()).toMatch(/“Trial” worked too long \(line 6 of its text\)/);
  });
  test('a value that is no number is silent in its block, and the sound passes from the next on', () => {
    const { left, told } = run('let n = 0; return (x, p) => { n++; return n > 1000 ? 0 / 0 : 0.5 * x; };');
    expect(left.every((y) => Number.isFinite(y))).toBe(true);
    expect(left.slice(1024)).toEqual(source.channels[0].slice(1024));
    expect(left[999]).toBeCloseTo(0.5 * source.channels[0][999], 7);
    expect(told.join()).toMatch(/“Trial” came to a value that is no number/);
  });
  test('what grows is held', () => {
    const { left, told } = run(
      'let y = 1; return (x, p) => { y = Math.min(1e300, y * 1.01); return x > 0 ? y : -y; };',
    );
    expect(Math.max(...left.slice(10_000).map(Math.abs))).toBe(64);
    expect(told).toEqual(['“Trial” went beyond ±64 (36 dB above full scale) and was held there.']);
  });

  test.each([
    [
      'grows over the whole clip is held, too',
      64.5,
      ['“Trial” went beyond ±64 (36 dB above full scale) and was held there.'],
    ],
    ['comes up to the bound over the whole clip is nothing to tell', 64, []],
  ])('what %s', (_, top, expected) => {
    const chain = chainOf(
      `${header(AMOUNT)} export function clip(sound, out, p) { for (let n = 0; n < out.frames; n++) out.write(0, n, n === 7 ? -${top} : 0.5); }`,
      { render: { tail: { mode: 'none' } } },
    );
    const told: string[] = [];
    const { channels } = finishRender(
      renderChain(BUILT_INS, { chain, source }),
      (step) => step.type === 'gave up' && told.push(gaveUpText(step.stage)),
    );
    expect(channels[0].slice(6, 9)).toEqual(Float32Array.of(0.5, -64, 0.5));
    expect(told).toEqual(expected);
  });

  test('in the branch of a whole-clip stage, it is told once', () => {
    const own = { id: 'own', kind: 'script', script: 'trial' };
    const slicer = {
      id: 'slicer',
      kind: 'slices',
      settings: { by: 'grid', grid: 0.1 },
      branches: [{ id: 'each', stages: [own] }],
    };
    const { left, told } = run('return (x, p) => { while (x > 0) noise(); return 0; };', {
      stages: [slicer],
    });
    expect(told).toEqual([
      '“Trial” worked too long (line 6 of its text); from there on it passes the sound on as it is.',
    ]);
    expect(Math.max(...left)).toBeGreaterThan(0.5);
  });
});
