/** Scripts as stages of chains: rendered, played, moved, refused. */
import { beforeAll, describe, expect, test } from 'vitest';
import { BUILT_INS } from '../catalogue/builtIns.ts';
import { LiveMeters } from '../engine/live/liveMeters.ts';
import { LiveEngine } from '../engine/live/liveEngine.ts';
import { BOARD, createMeterBoard } from '../engine/live/meterBoard.ts';
import { finishRender, renderChain } from '../engine/offline/renderer.ts';
import type { Planned } from '../engine/plan/planned.ts';
import { prepareStage, withPrepared } from '../engine/plan/prepare.ts';
import { planStages } from '../engine/plan/plan.ts';
import { headOfClip } from '../heads/clip/clip.ts';
import { noise, sine } from '../testing/signals.ts';
import { AMOUNT, chainOf, header } from '../testing/scriptChains.ts';
import { Catalogue } from '../catalogue/catalogue.ts';
import { STAGES } from '../stages/builtin/index.ts';
import { clipHead } from '../heads/clip/clip.ts';
import type { PreparedScript } from './scriptRuntime.ts';
import { learnScripts } from './learnScripts.ts';
import { SCRIPTS } from './scriptLanguage.ts';

beforeAll(learnScripts);

const TIME = "time: time({ default: '1/8', min: '1 ms', max: '2 s', doc: 'How late it is.' })";
const REPEAT = `${header(`${TIME}, ${AMOUNT}`, 'export const tail = (p) => p.time;')}
export function channel() {
  const line = delayLine(2);
  return (x, p) => {
    const late = line.read(p.time);
    line.write(x);
    return x + p.amount * late;
  };
}`;

const render = (chain: ReturnType<typeof chainOf>, source: ReturnType<typeof noise>) =>
  finishRender(renderChain(BUILT_INS, { chain, source }));

test('rendered: what a script says, for as long as its tail says', () => {
  const source = noise(4800, 48000, 2);
  const { channels } = render(chainOf(REPEAT, { render: { tail: { mode: 'fixed', length: 0.5 } } }), source);
  channels.forEach((out, side) => {
    for (let n = 0; n < 20_000; n++) {
      const at = (frame: number) => source.channels[side][frame] ?? 0;
      expect(Math.abs(out[n] - (at(n) + 0.5 * at(n - 12_000)))).toBeLessThan(1e-6);
    }
  });
  const rings = render(chainOf(REPEAT), source);
  expect(rings.channels[0].length).toBeGreaterThanOrEqual(16_800);
});

test('played by a thread that has neither compiler nor text: the same samples', () => {
  const text = `${header(`${TIME}, ${AMOUNT}, on: toggle({ default: true, doc: 'Whether.' }), tone: choice(['soft', 'hard'], { default: 'hard', doc: 'How.' })`)}
  export function channel() {
    const line = delayLine(2);
    const low = onePole();
    return (x, p) => {
      const late = line.read(p.time);
      line.write(x + 0.3 * (p.tone === 'soft' ? low.lowpass(late, 800) : late));
      watch('late', late);
      return p.on ? x + p.amount * late + 0.01 * noise() + 0.01 * Math.sin(2 * Math.PI * beat) : x;
    };
  }`;
  const chain = chainOf(text, {
    modulators: [{ id: 'wave', kind: 'lfo' }],
    routes: [{ id: 'r', from: 'wave', to: 'own.amount', depth: 0.2 }],
  });
  playedAsRendered(chain);
  // And where no module can be sent, by the bytes alone.
  const [planned] = planStages(BUILT_INS, chain, 48_000);
  const { module, ...bare } = prepareStage(BUILT_INS, planned, 48_000)!['script'] as PreparedScript;
  expect(module).toBeInstanceOf(WebAssembly.Module);
  const [one, other] = [{ module, ...bare }, bare].map((script) => {
    const engine = new LiveEngine(BUILT_INS, 48_000);
    const source = noise(4800, 48_000, 2);
    engine.load('work', { head: headOfClip(source), plan: [{ ...planned, prepared: { script } }], gain: 0 });
    engine.listen('work');
    engine.play(0, undefined, 4800);
    return Array.from({ length: 30 }, () => {
      const block = new Float32Array(128);
      engine.process(block, new Float32Array(128), 128);
      return block;
    });
  });
  expect(one[20].some((x) => x !== 0)).toBe(true);
  expect(other).toEqual(one);
});

/** Plays a chain in a thread that has neither compiler nor text; each sample is the one that is rendered. */
function playedAsRendered(chain: ReturnType<typeof chainOf>): void {
  const source = noise(48_000, 48_000, 2);
  const rendered = render(chain, source).channels;
  const prepared = structuredCloneOf(
    withPrepared(planStages(BUILT_INS, chain, 48_000), (stage) => prepareStage(BUILT_INS, stage, 48_000)),
  );
  expect(JSON.stringify(prepared)).not.toContain('delayLine');
  expect(rendered[0].some((y, n) => y !== source.channels[0][n])).toBe(true);
  const plays = new Catalogue({
    stages: STAGES,
    heads: [clipHead],
    languages: [{ name: SCRIPTS.name, read: () => expect.fail('text was read'), stage: SCRIPTS.stage }],
  });
  const engine = new LiveEngine(plays, 48_000);
  engine.load('work', { head: headOfClip(source), plan: prepared, gain: 0 });
  engine.listen('work');
  engine.play(0, undefined, 96_000);
  const played = [new Float32Array(48_000), new Float32Array(48_000)];
  for (let at = 0; at + 128 <= 48_000; at += 128)
    engine.process(played[0].subarray(at, at + 128), played[1].subarray(at, at + 128), 128);
  // It comes as late as the chain is, and is faded in.
  const { latency } = engine;
  for (const c of [0, 1]) expect(played[c].slice(latency + 480)).toEqual(rendered[c].slice(480, 48_000 - latency));
}

test('in both ways of a split and in the loop of an echo: played as rendered', () => {
  const bend = `${header(AMOUNT, 'export const tail = 0;')}
  export function channel() {
    const bend = oversampled(2, (x) => Math.tanh(x));
    return (x, p) => bend(x) * (1 - p.amount) + 0.001 * noise();
  }`;
  const own = (id: string, script: string, settings: object = {}) => ({ id, kind: 'script', script, settings });
  const inside = {
    id: 'parts',
    kind: 'split',
    branches: [
      { id: 'one', stages: [own('first', 'bend'), own('second', 'repeat', { time: { beats: 0.25 } })] },
      { id: 'other', stages: [own('third', 'repeat', { time: 0.03, amount: 0.9 })] },
    ],
  };
  const echo = {
    id: 'echo',
    kind: 'echo',
    settings: { time: { beats: 0.5 }, feedback: 0.6 },
    branches: [{ id: 'loop', stages: [own('fourth', 'bend', { amount: 0.2 }), own('fifth', 'repeat')] }],
  };
  const scripts = Object.entries({ bend, repeat: REPEAT }).map(([id, text]) => ({ id, language: 'hexenkessel', text }));
  for (const stages of [[inside], [echo], [echo, inside, own('last', 'bend')]])
    playedAsRendered(chainOf(REPEAT, { stages, scripts }));
});

/** What a message makes of a plan; modules go along as they are. */
function structuredCloneOf<T>(plan: T): T {
  return structuredClone(plan);
}

test('both sides at once: a pair widens, and sees left and right', () => {
  const text = `${header(AMOUNT)}
  export function pair() {
    return (left, right, p) => [right + p.amount * left, -left];
  }`;
  const stereo = noise(1000, 48_000, 2);
  const both = render(chainOf(text, { render: { tail: { mode: 'none' } } }), stereo).channels;
  expect(
    Math.max(...both[0].map((y, n) => Math.abs(y - stereo.channels[1][n] - 0.5 * stereo.channels[0][n]))),
  ).toBeLessThan(1e-6);
  expect(Math.max(...both[1].map((y, n) => Math.abs(y + stereo.channels[0][n])))).toBeLessThan(1e-6);
  const mono = sine(1000, 0.1, 0.5);
  const wide = render(chainOf(text, { render: { tail: { mode: 'none' } } }), mono).channels;
  expect(wide).toHaveLength(2);
  expect(Math.max(...wide[0].map((y, n) => Math.abs(y - 1.5 * mono.channels[0][n])))).toBeLessThan(1e-6);
});

test('noise has its own sequence on each side, and the same again at the same seed', () => {
  const text = `${header(AMOUNT)} export function channel() { return (x, p) => p.amount * noise(); }`;
  const source = noise(4800, 48_000, 2);
  const chain = chainOf(text, { render: { tail: { mode: 'none' } } });
  const one = render(chain, source).channels;
  expect(render(chain, source).channels).toEqual(one);
  const power = (a: Float32Array, b: Float32Array) => a.reduce((sum, x, n) => sum + x * b[n], 0) / a.length;
  // Uniform from −1/2 to 1/2: a variance of 1/12.
  expect(power(one[0], one[0])).toBeCloseTo(1 / 12, 2);
  expect(Math.abs(power(one[0], one[1]))).toBeLessThan(0.005);
  expect(Math.abs(power(one[0].slice(1), one[0].slice(0, -1)))).toBeLessThan(0.005);
});

test('what takes long to be made ready is made ahead, and is the same, also after it was played', () => {
  const text = `${header(AMOUNT)}
  export function channel() {
    const table = array(50000);
    for (let i = 0; i < 50000; i++) table[i] = Math.sin(i / 7);
    let at = 0;
    return (x, p) => {
      at = (at + 1) % 50000;
      table[at] = 0.999 * table[at];
      return x + p.amount * table[at];
    };
  }`;
  playedAsRendered(chainOf(text));
  const chain = chainOf(text, { render: { tail: { mode: 'none' } } });
  const [out] = render(chain, noise(4800, 48_000, 1)).channels;
  const { channels } = noise(4800, 48_000, 1);
  for (const n of [0, 1, 99, 4000]) expect(out[n] - channels[0][n]).toBeCloseTo(0.5 * 0.999 * Math.sin((n + 1) / 7), 5);
  // Made in less time than the 50,000 sines take, and made anew alike.
  const [planned] = planStages(BUILT_INS, chain, 48_000);
  const prepared = prepareStage(BUILT_INS, planned, 48_000)!['script'] as PreparedScript;
  expect(prepared.begun!.length).toBeGreaterThan(400_000);
  const engine = new LiveEngine(BUILT_INS, 48_000);
  const source = { sampleRate: 48_000, origin: 0, channels: [new Float32Array(48_000).fill(0.25)] };
  engine.load('work', { head: headOfClip(source), plan: [{ ...planned, prepared: { script: prepared } }], gain: 0 });
  engine.listen('work');
  const heard = () => {
    engine.play(0, undefined, 48_000);
    const block = new Float32Array(12_800);
    for (let at = 0; at < block.length; at += 128)
      engine.process(block.subarray(at, at + 128), new Float32Array(128), 128);
    engine.stop();
    for (let n = 0; n < 20; n++) engine.process(new Float32Array(128), new Float32Array(128), 128);
    return block;
  };
  const first = heard();
  const second = heard();
  expect(second).toEqual(first);
});

test('a chain whose scripts take too much memory is refused before any is taken', () => {
  const text = `${header(AMOUNT)}
  export function channel() {
    const line = delayLine(9);
    return (x, p) => { line.write(x); return p.amount * line.read(8); };
  }`;
  const many = (count: number) => ({
    stages: Array.from({ length: count }, (_, n) => ({ id: `own${n}`, kind: 'script', script: 'trial' })),
  });
  expect(chainOf(text, many(3)).stages).toHaveLength(3);
  expect(() => chainOf(text, many(5))).toThrow(/scripts take \d\d MiB of memory at 192 kHz; at most 64 are allowed/);
});

test('a stage that cannot be made is silent, and told, and the others go on', () => {
  const chain = chainOf(REPEAT, {
    stages: [
      {
        id: 'ways',
        kind: 'split',
        branches: [
          { id: 'one', stages: [{ id: 'own', kind: 'script', script: 'trial' }] },
          { id: 'other', stages: [{ id: 'level', kind: 'gain' }] },
        ],
      },
    ],
  });
  // Nothing was prepared, and the text has not come along.
  const [split] = planStages(BUILT_INS, chain, 48_000);
  const bare = structuredClone(split);
  const [own] = bare.branches[0].stages;
  const plan = [
    {
      ...bare,
      branches: [
        {
          ...bare.branches[0],
          stages: [{ ...own, definition: { ...own.definition!, key: 'elsewhere', source: undefined } }],
        },
        bare.branches[1],
      ],
    },
  ];
  const engine = new LiveEngine(BUILT_INS, 48_000);
  const source = { sampleRate: 48_000, origin: 0, channels: [new Float32Array(48_000).fill(0.25)] };
  engine.load('work', { head: headOfClip(source), plan: plan as unknown as Planned[], gain: 0 });
  engine.listen('work');
  engine.play(0, undefined, 48_000);
  const block = new Float32Array(128);
  for (let n = 0; n < 20; n++) engine.process(block, new Float32Array(128), 128);
  expect(Math.abs(block[127])).toBeGreaterThan(0.05);
  const board = new Float64Array(createMeterBoard());
  new LiveMeters(board, 48_000).stages(engine.heard!.section);
  expect(board[BOARD.faultStage]).toBe(2);
});

describe('another text while it sounds', () => {
  const RATE = 48_000;
  /** What is heard of a click at frame 4800 when the text is exchanged at frame 9600. */
  const heard = (first: string, second: string) => {
    const samples = new Float32Array(RATE);
    samples[4800] = 0.5;
    const source = { sampleRate: RATE, origin: 0, channels: [samples] };
    const engine = new LiveEngine(BUILT_INS, RATE);
    const plan = (body: string) => planStages(BUILT_INS, chainOf(`${header(AMOUNT)}\n${body}`), RATE);
    engine.load('work', { head: headOfClip(source), plan: plan(first), gain: 0 });
    engine.listen('work');
    engine.play(0, undefined, RATE);
    const out = new Float32Array(RATE);
    const block = [new Float32Array(128), new Float32Array(128)];
    for (let at = 0; at + 128 <= RATE; at += 128) {
      if (at === 9600) engine.replan('work', plan(second));
      engine.process(block[0], block[1], 128);
      out.set(block[0], at);
    }
    return out;
  };
  const repeat = (gain: number, seconds = 1) => `export function channel() {
    const line = delayLine(${seconds});
    return (x, p) => {
      line.write(x);
      return ${gain} * line.read(0.5);
    };
  }`;
  const peak = (out: Float32Array) => out.reduce((best, x, n) => (Math.abs(x) > Math.abs(out[best]) ? n : best), 0);

  test('a line goes on with what is in it, at another length too', () => {
    // It is read after it is written, so a frame earlier than half a second.
    for (const [seconds, other] of [
      [1, 1],
      [1, 2],
      [2, 0.6],
    ]) {
      const out = heard(repeat(1, seconds), repeat(0.5, other));
      expect(peak(out)).toBe(4800 + RATE / 2 - 1);
      expect(out[peak(out)]).toBeCloseTo(0.25, 6);
    }
  });

  test('what is called otherwise, or is of another kind, begins anew', () => {
    expect(Math.max(...heard(repeat(1), repeat(0.5).replaceAll('line', 'other')).map(Math.abs))).toBe(0);
    const kept = `export function channel() { let n = 0; return (x, p) => { n += 1; return n / 1e6; }; }`;
    const out = heard(kept, kept.replace('n / 1e6', 'n / 1e6 + 0'));
    // It counts on: after both were there for 36 ms, as if nothing had been.
    expect(out[20_000]).toBeCloseTo(20_001 / 1e6, 7);
    const renamed = heard(kept, kept.replaceAll(/\bn\b/g, 'm'));
    expect(renamed[20_000]).toBeLessThan(0.015);
  });

  test('what is filled before the first sample says what the text says', () => {
    const table = (value: number) => `export function channel() {
      const table = array(8);
      for (let i = 0; i < 8; i++) table[i] = ${value};
      return (x, p) => table[3];
    }`;
    const out = heard(table(0.25), table(0.75));
    expect([out[9000], out[20_000]]).toEqual([0.25, 0.75]);
  });
});
