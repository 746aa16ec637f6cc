/** Oscillators inside stages stand where they would: in a region by the time of the sound, after silence, and where playing begins. */
import { expect, test } from 'vitest';
import { BUILT_INS } from '../../catalogue/builtIns.ts';
import { headOfClip } from '../../heads/clip/clip.ts';
import { chainOf } from '../../testing/chains.ts';
import { noise, sine } from '../../testing/signals.ts';
import { decibels } from '../../testing/spectrum.ts';
import { LiveEngine } from '../live/liveEngine.ts';
import { planStages } from '../plan/plan.ts';
import { renderRegion } from './region.ts';
import { finishRender, renderChain } from './renderer.ts';

/** With little memory, so that all that is left after a while is where its oscillators stand. */
const MOVING: readonly (readonly [string, object])[] = [
  ['flanger', { rate: 0.37, feedback: 0, shape: 'triangle' }],
  ['phaser', { rate: 0.53, feedback: 0 }],
  ['phaser', { rate: 1.7, feedback: 0, shape: 'random' }],
  ['vibrato', { rate: 3.1 }],
  ['tremolo', { rate: 0.6, shape: 'square', depth: 1 }],
  ['ringMod', { carrier: 431.7, shape: 'saw' }],
  ['shifter', { shift: -123.4, feedback: 0 }],
  ['ensemble', { rate: 0.6, voices: 3, wave: 'steps' }],
  ['echo', { time: 0.02, feedback: 0, movement: 0.003, movementRate: 0.9, drift: 20, flutter: 5 }],
];

test.each(MOVING)('%s %j: a region by the time of the sound, at 44.1 and 96 kHz', (kind, settings) => {
  for (const rate of [44_100, 96_000]) {
    const source = noise(3 * rate, rate, 2);
    const chain = chainOf([{ kind, settings }]);
    const region = { start: Math.round(1.2345 * rate), end: Math.round(2.6 * rate) };
    const whole = finishRender(renderChain(BUILT_INS, { chain, source })).channels[0];
    const inTime = (time: 'sound' | 'region') =>
      finishRender(renderRegion(BUILT_INS, { chain, source, region, beyond: 'nothing', time })).channels[0];
    // What the stage remembers of before the region is gone by then.
    const from = Math.round(0.3 * rate);
    const apart = (part: Float32Array) => {
      let [error, power] = [0, 0];
      for (let i = from; i < region.end - region.start; i++) {
        error += (part[i] - whole[region.start + i]) ** 2;
        power += whole[region.start + i] ** 2;
      }
      return 0.5 * decibels(error / power);
    };
    expect(apart(inTime('sound'))).toBeLessThan(-60);
    expect(apart(inTime('region'))).toBeGreaterThan(-30);
  }
});

test('where playing begins, and after a silence in which the stage slept', () => {
  const rate = 48_000;
  const tone = sine(997, 0.5, 4, rate);
  // Silent from 1 s to 3 s: a tremolo sleeps at once.
  tone.channels[0].fill(0, rate, 3 * rate);
  const chain = chainOf([{ kind: 'tremolo', settings: { rate: 0.7, shape: 'triangle', depth: 1, phase: 0 } }]);
  const rendered = finishRender(renderChain(BUILT_INS, { chain, source: tone })).channels[0];
  const place = (frame: number) => (0.7 * frame) / rate;
  const expected = (frame: number) => Math.abs(1 - 2 * (place(frame) - Math.floor(place(frame))));
  for (const frame of [rate / 2, 3.2 * rate, 3.9 * rate]) {
    const at = Math.round(frame);
    const around = (samples: Float32Array) => Math.max(...samples.slice(at - 60, at + 60).map(Math.abs));
    expect(around(rendered) / around(tone.channels[0])).toBeCloseTo(expected(at), 1);
  }
  const engine = new LiveEngine(BUILT_INS, rate);
  engine.load('work', { head: headOfClip(tone), plan: planStages(BUILT_INS, chain, rate), gain: 0 });
  engine.listen('work');
  const from = Math.round(3.1 * rate);
  engine.play(from, undefined, Infinity);
  const block = [new Float32Array(128), new Float32Array(128)];
  let worst = 0;
  for (let at = 0; at + 128 < 0.8 * rate; at += 128) {
    engine.process(block[0], block[1], 128);
    if (at > 600)
      for (let i = 0; i < 128; i++) worst = Math.max(worst, Math.abs(block[0][i] - rendered[from + at + i]));
  }
  expect(worst).toBeLessThan(1e-6);
});
