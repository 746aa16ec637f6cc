/** What goes round at a rate that is itself moved stands where it stands in a render of the whole sound. */
import { headOfClip } from '../../heads/clip/clip.ts';
import { BUILT_INS } from '../../catalogue/builtIns.ts';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { chainOf, renderOf } from '../../testing/chains.ts';
import { clipOf } from '../../testing/signals.ts';
import { LiveEngine } from '../live/liveEngine.ts';
import { finishRender } from '../offline/renderer.ts';
import { planStages } from '../plan/plan.ts';
import { renderRegion } from '../offline/region.ts';

const SECONDS = 4;
const BLOCK = 128;

/** A gain moved by something that goes round, whose rate is moved by a lane, an envelope or another that is moved too. */
const movement = fc.record({
  sampleRate: fc.constantFrom(44100, 48000, 96000),
  turning: fc.oneof(
    fc.record({
      kind: fc.constant('lfo'),
      wave: fc.constantFrom('sine', 'triangle', 'saw', 'square', 'drift', 'steps'),
    }),
    fc.record({ kind: fc.constant('random') }),
    fc.record({ kind: fc.constant('sequence') }),
  ),
  note: fc.constantFrom('1/2', '1/4', '1/8', '1/8t', '1/16'),
  by: fc.constantFrom('lane', 'envelope', 'lfo', 'moved lfo'),
  depth: fc.integer({ min: -30, max: 30 }).map((hundredths) => hundredths / 100),
});

type Case = typeof movement extends fc.Arbitrary<infer T> ? T : never;

function chainFor({ turning, note, by, depth }: Case, bpm: number) {
  const { kind, ...words } = turning as { kind: string; wave?: string };
  const curve = {
    over: 'seconds',
    points: [
      { at: 0, value: 0.5 },
      { at: 1.1, value: 9 },
      { at: SECONDS, value: 1 },
    ],
  };
  return chainOf([{ kind: 'gain' }], {
    timing: { tempo: bpm },
    modulators: [
      { id: 'turning', kind, settings: { ...(words.wave ? words : {}), rate: { note } } },
      { id: 'env', kind: 'envelope', settings: {} },
      { id: 'slow', kind: 'lfo', settings: { rate: { note: '1/1' } } },
    ],
    routes: [
      { id: 'r', from: 'turning', to: 'gain.gain', depth: 0.03 },
      ...(by === 'envelope' ? [{ id: 'r1', from: 'env', to: 'turning.rate', depth }] : []),
      ...(by.endsWith('lfo') ? [{ id: 'r2', from: 'slow', to: 'turning.rate', depth }] : []),
      ...(by === 'moved lfo' ? [{ id: 'r3', from: 'env', to: 'slow.rate', depth: 0.2 }] : []),
    ],
    lanes: by === 'lane' ? [{ target: 'turning.rate', curve }] : [],
  });
}

const steady = (sampleRate: number) => clipOf([new Float32Array(SECONDS * sampleRate).fill(0.5)], sampleRate);

/** Share of frames on which two stretches differ by over 2 % of the swing: an edge between other control steps is no fault. */
function apart(found: ArrayLike<number>, wanted: ArrayLike<number>): number {
  let count = 0;
  for (let i = 0; i < found.length; i++) if (Math.abs(20 * Math.log10(found[i] / wanted[i])) > 0.15) count++;
  return count / found.length;
}

function play(engine: LiveEngine, frames: number): Float32Array {
  const heard = new Float32Array(Math.floor(frames / BLOCK) * BLOCK);
  const [left, right] = [new Float32Array(BLOCK), new Float32Array(BLOCK)];
  for (let at = 0; at < heard.length; at += BLOCK) {
    engine.process(left, right, BLOCK);
    heard.set(left, at);
  }
  return heard;
}

function engineFor(chain: ReturnType<typeof chainOf>, clip: ReturnType<typeof steady>): LiveEngine {
  const engine = new LiveEngine(BUILT_INS, clip.sampleRate);
  engine.load('work', { head: headOfClip(clip), plan: planStages(BUILT_INS, chain, clip.sampleRate), gain: 0 });
  engine.listen('work');
  return engine;
}

const RUNS = { numRuns: process.env['LONG'] ? 200 : 12, endOnFailure: true };

describe('what goes round at a moved rate', () => {
  test('is where the render has it, wherever playing begins, and at once where it was loaded a while before', () => {
    fc.assert(
      fc.property(movement, fc.double({ min: 0.2, max: 2.5, noNaN: true }), fc.boolean(), (drawn, begin, waited) => {
        const clip = steady(drawn.sampleRate);
        const chain = chainFor(drawn, 117);
        const whole = renderOf(chain, clip).channels[0];
        const engine = engineFor(chain, clip);
        if (waited) play(engine, drawn.sampleRate / 2);
        const from = Math.round(begin * drawn.sampleRate);
        engine.play(from, undefined, Infinity);
        // The sound itself comes in over 10 ms.
        const settled = Math.round((waited ? 0.012 : 0.3) * drawn.sampleRate);
        const heard = play(engine, drawn.sampleRate);
        expect(apart(heard.subarray(settled), whole.subarray(from + settled))).toBeLessThan(0.05);
      }),
      RUNS,
    );
  });

  test('is where the render has it after the tempo was changed', () => {
    fc.assert(
      fc.property(movement, fc.integer({ min: 40, max: 220 }), (drawn, bpm) => {
        const { sampleRate } = drawn;
        const clip = steady(sampleRate);
        const engine = engineFor(chainFor(drawn, 117), clip);
        engine.play(0, undefined, Infinity);
        const before = play(engine, sampleRate);
        const chain = chainFor(drawn, bpm);
        engine.replan('work', planStages(BUILT_INS, chain, sampleRate));
        const settled = Math.round(0.3 * sampleRate);
        const heard = play(engine, sampleRate);
        const whole = renderOf(chain, clip).channels[0];
        expect(apart(heard.subarray(settled), whole.subarray(before.length + settled))).toBeLessThan(0.05);
      }),
      RUNS,
    );
  });

  test('is where the render has it in every round of a loop', () => {
    fc.assert(
      fc.property(movement, (drawn) => {
        const { sampleRate } = drawn;
        const clip = steady(sampleRate);
        const chain = chainFor(drawn, 117);
        const loop = { start: Math.round(1.3 * sampleRate), end: Math.round(1.9 * sampleRate) };
        const engine = engineFor(chain, clip);
        engine.play(0, loop, Infinity);
        const length = loop.end - loop.start;
        // The second round.
        const heard = play(engine, loop.end + 2 * length).subarray(loop.end + length);
        const whole = renderOf(chain, clip).channels[0];
        // Where it goes round it passes over.
        const settled = Math.round(0.05 * sampleRate);
        const share = apart(heard.subarray(settled), whole.subarray(loop.start + settled));
        expect(share).toBeLessThan(0.05);
      }),
      RUNS,
    );
  });

  test('is in a region, in the time of the sound, what it is in all of it', () => {
    fc.assert(
      fc.property(movement, fc.double({ min: 0.1, max: 3, noNaN: true }), (drawn, begin) => {
        const clip = steady(drawn.sampleRate);
        const chain = chainFor(drawn, 117);
        const start = Math.round(begin * drawn.sampleRate);
        const region = { start, end: start + drawn.sampleRate };
        const part = finishRender(
          renderRegion(BUILT_INS, { chain, source: clip, region, beyond: 'nothing', time: 'sound' }),
        ).channels[0];
        const whole = renderOf(chain, clip).channels[0];
        expect(apart(part, whole.subarray(start))).toBeLessThan(0.05);
      }),
      RUNS,
    );
  });

  test('is before the beginning what leads up to it', () => {
    fc.assert(
      fc.property(movement, fc.integer({ min: 1, max: 40_000 }), (drawn, lead) => {
        const early = { ...steady(drawn.sampleRate), origin: -lead };
        const chain = chainFor(drawn, 117);
        const whole = renderOf(chain, steady(drawn.sampleRate)).channels[0];
        const from = renderOf(chain, early).channels[0].subarray(lead);
        expect(apart(from, whole.subarray(0, from.length))).toBeLessThan(0.05);
      }),
      RUNS,
    );
  });
});
