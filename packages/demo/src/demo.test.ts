import { createHash } from 'node:crypto';
import { expect, test } from 'vitest';
import { frameCount, type Clip } from '@hexenkessel/core/model';
import { BUILT_INS, headOfClip } from '@hexenkessel/core/stages';
import { allStages, emptyChain, parseChain, turnControl, type ChainDocument } from '@hexenkessel/core/chain';
import {
  finishRender,
  lastClipStage,
  liveEnd,
  planModulators,
  renderChain,
  traceMovement,
  type SoundBank,
} from '@hexenkessel/core/engine';
import { LiveEngine } from '@hexenkessel/core/live';
import { estimateTempo, noteStarts, integratedLoudness, peakOf } from '@hexenkessel/core/analysis';
import { DEMO_CHAINS, DEMO_SOUNDS, MUSEUM_TEMPO, type DemoSound } from './index.ts';
import { bankFor, clipOf } from './testing/museum.ts';
import { someOf } from './testing/some.ts';

test.each(DEMO_SOUNDS.map((sound) => [sound.name, sound] as const))(
  '%s sounds, does not clip, begins and ends without a click',
  async (_, sound) => {
    const clip = await clipOf(sound);
    const peak = peakOf(clip);
    expect(peak).toBeGreaterThan(0.4);
    expect(peak).toBeLessThanOrEqual(1);
    expect(integratedLoudness(clip)).toBeGreaterThan(-30);
    const seconds = clip.channels[0].length / clip.sampleRate;
    expect(seconds).toBeGreaterThan(2);
    expect(seconds).toBeLessThan(10);
    for (const samples of clip.channels) expect(Math.abs(samples[0])).toBeLessThan(0.1 * peak);
  },
);

test('the seeded sounds are the same every time', () => {
  const digest = (sound: DemoSound) => {
    if (!('create' in sound)) return '';
    const hash = createHash('sha256');
    for (const samples of sound.create().channels) hash.update(new Uint8Array(samples.buffer));
    return hash.digest('hex');
  };
  for (const sound of DEMO_SOUNDS.filter(({ name }) => /bell|clicks|rain/i.test(name)))
    expect(digest(sound)).toBe(digest(sound));
});

/** What the live engine gives from `from` on: the part up to the last whole-clip stage read, the live stages run. */
function playLive(chain: ChainDocument, source: Clip, from: number, frames: number, sounds: SoundBank): Float32Array[] {
  const last = lastClipStage(BUILT_INS, chain);
  const before = { ...chain, stages: chain.stages.slice(0, last + 1) };
  const clip = finishRender(
    renderChain(BUILT_INS, { chain: { ...before, render: { ...chain.render, anchor: 'source' } }, source }),
  );
  const engine = new LiveEngine(BUILT_INS, source.sampleRate);
  engine.load('chain', { head: headOfClip(clip), plan: liveEnd(BUILT_INS, chain, source.sampleRate, sounds), gain: 0 });
  engine.listen('chain');
  engine.play(from, undefined, Infinity);
  const late = engine.heard?.section.latency ?? 0;
  const sides = [0, 1].map(() => new Float32Array(frames));
  const block = [0, 1].map(() => new Float32Array(128));
  for (let at = -late; at < frames; at += 128) {
    engine.process(block[0], block[1], 128);
    sides.forEach((side, c) => {
      for (let i = Math.max(0, -at); i < Math.min(128, frames - at); i++) side[at + i] = block[c][i];
    });
  }
  return sides;
}

/** What each chain is tried on: a voice and drums by turns, the first ones on both. */
const TRIALS = DEMO_CHAINS.flatMap((chain, n) =>
  ['Harbour announcer', 'Boiler-room drums']
    .filter((_, which) => n < 6 || which === n % 2)
    .map((sound) => [chain.name, sound, chain] as const),
);

test.each(someOf(TRIALS, 20))(
  '%s on %s: sounds, at a level of its own, and played live it is the same',
  async (_, name, given) => {
    // Placing moves the render as a whole; here both lie where they fall.
    const chain = { ...given, render: { ...given.render, anchor: 'source' as const } };
    const source = await clipOf(DEMO_SOUNDS.find((sound) => sound.name === name) as DemoSound);
    const sounds = await bankFor(chain);
    const rendered = finishRender(renderChain(BUILT_INS, { chain, source, sounds }));
    expect(integratedLoudness(rendered)).toBeGreaterThan(-45);
    expect(peakOf(rendered)).toBeLessThan(1.42);
    const frames = frameCount(rendered);
    const live = playLive(chain, source, rendered.origin, frames, sounds);
    // Playing begins with a fade of 10 ms. Behind the source a render cuts each stage off where it has fallen silent.
    const from = Math.round(0.011 * source.sampleRate);
    const exact = frameCount(source) - rendered.origin;
    live.forEach((side, c) => {
      const same = rendered.channels[Math.min(c, rendered.channels.length - 1)];
      expect(side.subarray(from, exact).every((sample, i) => sample === same[from + i])).toBe(true);
      expect(side.subarray(exact).every((sample, i) => Math.abs(sample - same[exact + i]) < 1e-4)).toBe(true);
    });
  },
);

test('ten sounds and at least 24 chains that use every stage, each with what its sheet needs', () => {
  expect(DEMO_SOUNDS).toHaveLength(10);
  expect(DEMO_CHAINS.length).toBeGreaterThanOrEqual(24);
  expect(new Set(DEMO_CHAINS.map(({ name }) => name)).size).toBe(DEMO_CHAINS.length);
  const used = new Set(DEMO_CHAINS.flatMap(({ stages }) => allStages(stages).map(({ stage }) => stage.kind)));
  expect(BUILT_INS.stages.map(({ kind }) => kind).filter((kind) => !used.has(kind))).toEqual([]);
  for (const { about } of DEMO_CHAINS) expect(about.summary && about.notes && about.kind).toBeTruthy();
});

/** Steam on every eighth of the drums, which kicks and pipes share, and one kick on a sixteenth; in seconds. */
const STRUCK = [...Array.from({ length: 16 }, (_, eighth) => eighth / 2), 6.25].map(
  (beat) => (beat * 60) / MUSEUM_TEMPO,
);

test('attacks of the boiler-room drums: F-measure of at least 0.95 within 10 ms', () => {
  const drums = DEMO_SOUNDS.find(({ name }) => name === 'Boiler-room drums')!;
  const found = noteStarts((drums as { create: () => Clip }).create()).map((frame) => frame / 48000);
  const hits = STRUCK.filter((time) => found.some((at) => Math.abs(at - time) <= 0.01)).length;
  expect((2 * hits) / (STRUCK.length + found.length)).toBeGreaterThanOrEqual(0.95);
});

test('a triggered envelope goes off with each of them as they come, within 10 ms', async () => {
  const drums = await clipOf(DEMO_SOUNDS.find(({ name }) => name === 'Boiler-room drums')!);
  const settings = { by: 'attacks', attack: 0.002, decay: 0.02, gate: 0.02, release: 0.02 };
  const chain = parseChain(BUILT_INS, {
    ...emptyChain(BUILT_INS, 'Hits'),
    modulators: [{ id: 'hit', kind: 'trigger', settings }],
  });
  const process = traceMovement(BUILT_INS, [], planModulators(chain, drums.sampleRate), drums, {
    start: 0,
    end: frameCount(drums),
  });
  let step = process.next();
  while (!step.done) step = process.next();
  const values = step.value.modulators['hit'];
  const found = [...values.keys()]
    .filter((n) => values[n] >= 0.3 && (n === 0 || values[n - 1] < 0.3))
    .map((n) => (n * step.value.step) / drums.sampleRate);
  expect(found).toHaveLength(STRUCK.length);
  const late = found.map((at, n) => at - [...STRUCK].sort((a, b) => a - b)[n]);
  expect(Math.min(...late)).toBeGreaterThan(-0.005);
  expect(Math.max(...late)).toBeLessThan(0.01);
});

test.each(['Boiler-room drums', 'Pier bass line'])('the tempo of %s is found, within a hundredth', async (name) => {
  const clip = await clipOf(DEMO_SOUNDS.find((sound) => sound.name === name) as DemoSound);
  const [best] = estimateTempo(clip).candidates;
  expect(Math.abs(best.tempo / MUSEUM_TEMPO - 1)).toBeLessThan(0.01);
});

test('every preset names the sound of the museum that it was made on', () => {
  const names = DEMO_SOUNDS.map(({ name }) => name);
  for (const { name, about } of DEMO_CHAINS) expect(names, name).toContain(about.sound?.sound);
});

test('every preset has a panel of two to five controls, each with what it does, a rating and notes', () => {
  for (const { name, panel, about } of DEMO_CHAINS) {
    expect(panel.length, name).toBeGreaterThanOrEqual(2);
    expect(panel.length, name).toBeLessThanOrEqual(5);
    for (const control of panel) {
      expect(control.note, `${name}, ${control.name}`).not.toBe('');
      expect(control.unit !== '' || control.words.length > 1, `${name}, ${control.name}`).toBe(true);
      expect(control.value, `${name}, ${control.name}`).toBe(control.default);
    }
    expect(about.rating, name).toBeGreaterThan(0);
  }
});

/** A preset on the sound that it was made on, as it is or with a control at one of its ends. */
const OWN = DEMO_CHAINS.flatMap((chain) => [
  { title: chain.name, chain },
  ...chain.panel.flatMap(({ id, name, min, max }) =>
    [min, max].map((end) => ({
      title: `${chain.name}, ${name} ${end}`,
      chain: turnControl(BUILT_INS, chain, id, end),
    })),
  ),
]);

test.each(someOf(OWN, 10))(
  '$title: on its own sound it keeps below 0 dBFS and within 6 LU of the dry, 7.5 LU at the ends of its controls',
  async ({ title, chain }) => {
    const source = await clipOf(DEMO_SOUNDS.find(({ name }) => name === chain.about.sound?.sound)!);
    const out = finishRender(renderChain(BUILT_INS, { chain, source, sounds: await bankFor(chain) }));
    expect(peakOf(out)).toBeLessThanOrEqual(1);
    const away = Math.abs(integratedLoudness(out) - integratedLoudness(source));
    expect(away).toBeLessThan(title === chain.name ? 6 : 7.5);
  },
);
