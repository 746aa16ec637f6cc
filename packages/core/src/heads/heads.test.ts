/** Three beginnings of a chain: a clip, one that never ends, one that is played and ends. */
import { describe, expect, test } from 'vitest';
import { Catalogue } from '../catalogue/catalogue.ts';
import { assign } from '../chain/edit.ts';
import { parseChain } from '../chain/validate.ts';
import { sin, TAU } from '../dsp/portableMath.ts';
import { LiveEngine } from '../engine/live/liveEngine.ts';
import { HeadSource } from '../engine/offline/headSource.ts';
import { finishRender, renderChain } from '../engine/offline/renderer.ts';
import { StreamedRender } from '../engine/offline/streamedRender.ts';
import { planHead } from '../engine/plan/planHead.ts';
import { planStages } from '../engine/plan/plan.ts';
import { BLOCK_FRAMES } from '../model/block.ts';
import { InputError } from '../model/errors.ts';
import { frequency } from '../params/params.ts';
import { STAGES } from '../stages/builtin/index.ts';
import { noise } from '../testing/signals.ts';
import { keyToFrequency } from '../timing/expressions.ts';
import { clipHead } from './clip/clip.ts';
import { defineHead, type HeadVoice, type PlannedHead } from './contract.ts';

const RATE = 48000;

/** A voice that is worked out from the place alone, `latency` frames late. */
function voiceOf(valueAt: (frame: number) => number, latency = 0): HeadVoice {
  const output = [new Float32Array(BLOCK_FRAMES)];
  return {
    output,
    latency,
    exchange: () => false,
    jump: () => undefined,
    settle: () => undefined,
    read(place, offset, frames) {
      for (let i = 0; i < frames; i++) output[0][offset + i] = valueAt(place + i - latency);
    },
  };
}

const endless = defineHead({
  kind: 'hum',
  title: 'Hum',
  summary: 'A tone that was there before and will be there after.',
  params: { pitch: frequency({ default: 50, min: 20, max: 400, doc: 'How high it hums.' }) },
  takes: 'nothing',
  playedOnly: 'it never ends',
  channels: () => 1,
  frames: () => Infinity,
  wantedLatency: 0.005,
  create: ({ values, sampleRate }) =>
    voiceOf((frame) => 0.5 * sin((TAU * Number(values['pitch']) * frame) / sampleRate)),
});

const LATE = 200;
const end = ({ notes }: PlannedHead) => Math.max(0, ...notes.map(({ at, length }) => at + length));
const played = defineHead({
  kind: 'pipe',
  title: 'Pipe',
  summary: 'A pipe for every note.',
  params: {},
  takes: 'notes',
  channels: () => 1,
  frames: (head) => Math.ceil(end(head) * head.sampleRate),
  create: ({ notes, sampleRate }) =>
    voiceOf((frame) => {
      const t = frame / sampleRate;
      const note = notes.find(({ at, length }) => t >= at && t < at + length);
      return note ? note.velocity * sin(TAU * keyToFrequency(note.key) * t) : 0;
    }, LATE),
});

const catalogue = new Catalogue({ stages: STAGES, heads: [clipHead, endless, played] });
const chainWith = (rest: object) =>
  parseChain(catalogue, {
    format: 'hexenkessel.chain',
    version: 2,
    name: 'Test',
    stages: [{ id: 'echo', kind: 'echo', settings: { time: 0.1 } }],
    render: { tail: { mode: 'none' } },
    ...rest,
  });

function live(head: PlannedHead, chain: ReturnType<typeof chainWith>, frames: number): Float32Array {
  const engine = new LiveEngine(catalogue, RATE);
  engine.load('work', { head, plan: planStages(catalogue, chain, RATE), gain: 0 });
  engine.listen('work');
  engine.play(0, undefined, Infinity);
  const out = new Float32Array(frames);
  const block = [new Float32Array(BLOCK_FRAMES), new Float32Array(BLOCK_FRAMES)];
  for (let at = 0; at + BLOCK_FRAMES <= frames; at += BLOCK_FRAMES) {
    engine.process(block[0], block[1], BLOCK_FRAMES);
    out.set(block[0], at);
  }
  return out;
}

test('a clip: what is rendered is what is played', () => {
  const source = noise(RATE, RATE, 1);
  const chain = chainWith({});
  const rendered = finishRender(renderChain(catalogue, { chain, source })).channels[0];
  const head = planHead(catalogue, chain, RATE, source);
  expect(catalogue.headOf(head).frames(head)).toBe(RATE);
  expect(live(head, chain, RATE).slice(512, 47_000)).toEqual(rendered.slice(512, 47_000));
});

describe('one that never ends', () => {
  const chain = chainWith({ head: { kind: 'hum', settings: { pitch: 100 } }, stages: [] });

  test('plays on, at what its settings say', () => {
    const heard = live(planHead(catalogue, chain, RATE), chain, 3 * RATE);
    const zeros = heard.slice(RATE, 2 * RATE).filter((x, i, all) => i > 0 && all[i - 1] < 0 && x >= 0).length;
    expect(zeros).toBeGreaterThanOrEqual(99);
    expect(zeros).toBeLessThanOrEqual(100);
    expect(Math.max(...heard.slice(2 * RATE))).toBeCloseTo(0.5, 3);
  });

  test('is refused offline with the reason', () => {
    const source = noise(RATE, RATE, 1);
    const refusal = '“Hum” is played and cannot be rendered: it never ends.';
    expect(() => finishRender(renderChain(catalogue, { chain, source }))).toThrow(refusal);
    const piecewise = { sampleRate: RATE, channels: 1, frames: 10, read: () => Promise.resolve([]) };
    expect(() => new StreamedRender(catalogue, chain, piecewise)).toThrow(refusal);
  });

  test('its settings are the chain’s: typed, checked, filled in', () => {
    expect(assign(catalogue, chain, 'head.pitch=60').head.settings).toEqual({ pitch: 60 });
    expect(() => assign(catalogue, chain, 'head.pitch=9000')).toThrow('20 Hz to 400 Hz');
    expect(chainWith({ head: { kind: 'hum' } }).head.settings).toEqual({ pitch: 50 });
    expect(() => chainWith({ head: { kind: 'siren' } })).toThrow(
      'no head of kind "siren". Known kinds: clip, hum, pipe',
    );
    expect(() => chainWith({ stages: [{ id: 'head', kind: 'gain' }] })).toThrow('"head" is used twice');
  });
});

describe('one that is played', () => {
  const notes = [
    { at: 0, length: 1, key: 57 },
    { at: 2, length: 1, key: 69, velocity: 0.5 },
  ];
  const chain = chainWith({ head: { kind: 'pipe' }, notes, stages: [] });
  const planned = planHead(catalogue, chain, RATE);

  test('ends with its last note, and gives what it is played, its lateness taken off', () => {
    const { channels } = new HeadSource(catalogue, planned).clip();
    expect(channels[0]).toHaveLength(1.5 * RATE);
    const at = (frame: number) => channels[0][frame];
    expect(at(6000)).toBeCloseTo(sin((TAU * 220 * 6000) / RATE), 6);
    expect(at(36_000)).toBe(0);
    expect(at(60_000)).toBeCloseTo(0.5 * sin((TAU * 440 * 60_000) / RATE), 6);
  });

  test('is rendered as it is played, as late as it says', () => {
    const source = new HeadSource(catalogue, planned).clip();
    const echoing = chainWith({ head: { kind: 'pipe' }, notes });
    const rendered = finishRender(renderChain(catalogue, { chain: echoing, source })).channels[0];
    const heard = live(planned, echoing, 70_000);
    let worst = 0;
    for (let i = 1000; i < 60_000; i++) worst = Math.max(worst, Math.abs(heard[i + LATE] - rendered[i]));
    expect(worst).toBeLessThan(1e-6);
  });

  test('in pieces it is the same', async () => {
    const whole = new HeadSource(catalogue, planned).clip().channels[0];
    const source = new HeadSource(catalogue, planned);
    const pieces: number[] = [];
    for (let at = 0; at < source.frames; at += 10_000)
      pieces.push(...(await source.read(at, Math.min(10_000, source.frames - at)))[0]);
    expect(pieces).toEqual([...whole]);
  });

  test('one that is too long is refused before it is made', () => {
    const long = { ...planned, notes: [{ at: 0, length: 90_000, key: 60, velocity: 1, pressure: 0 }] };
    expect(() => new HeadSource(catalogue, long)).toThrow(InputError);
  });
});
