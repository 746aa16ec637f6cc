import { beforeEach, expect, test, vi } from 'vitest';
import { Player } from './player.ts';

/** Stands in for the browser's audio: notes down what it is asked and lets the test turn the clock. */
class FakeContext {
  static state = 'running';
  static newest: FakeContext;
  currentTime = 0;
  state = FakeContext.state;
  destination = {};
  constructor() {
    FakeContext.newest = this;
  }
  async resume() {}
  async close() {}
  createBuffer(_channels: number, frames: number, rate: number) {
    return { duration: frames / rate, copyToChannel: () => undefined };
  }
}
class FakeNode {
  static newest: FakeNode;
  loop = false;
  loopStart = 0;
  loopEnd = 0;
  onended: (() => void) | null = null;
  started: number[] = [];
  stopped = false;
  constructor() {
    FakeNode.newest = this;
  }
  connect() {}
  disconnect() {}
  start(...times: number[]) {
    this.started = times;
  }
  stop() {
    this.stopped = true;
  }
}

beforeEach(() => {
  FakeContext.state = 'running';
  vi.stubGlobal('AudioContext', FakeContext);
  vi.stubGlobal('AudioBufferSourceNode', FakeNode);
});

// Two seconds that begin one second before the source.
const clip = { sampleRate: 1000, origin: -1000, channels: [new Float32Array(2000)] };

test('the position counts on the ruler, from before the source on', async () => {
  const player = new Player();
  await player.play(clip, { from: -1, onEnd: () => undefined });
  expect(FakeNode.newest.started).toEqual([0, 0]);
  expect(player.position).toBe(-1);
  FakeContext.newest.currentTime = 1.5;
  expect(player.position).toBe(0.5);
});

test('a loop goes round between its ends', async () => {
  const player = new Player();
  await player.play(clip, { from: -0.5, loop: { start: -0.5, end: 0 }, onEnd: () => undefined });
  expect(FakeNode.newest).toMatchObject({ loop: true, loopStart: 0.5, loopEnd: 1, started: [0, 0.5] });
  FakeContext.newest.currentTime = 1.2;
  expect(player.position).toBeCloseTo(-0.3, 9);
});

test('a region plays once to its end; an end past the clip is the clip’s', async () => {
  const player = new Player();
  await player.play(clip, { from: 0.25, until: 0.5, onEnd: () => undefined });
  expect(FakeNode.newest.started).toEqual([0, 1.25, 0.25]);
  await player.play(clip, { from: 0.5, until: 9, onEnd: () => undefined });
  expect(FakeNode.newest.started).toEqual([0, 1.5, 0.5]);
});

test('a loop that lies outside the clip is none', async () => {
  const player = new Player();
  await player.play(clip, { from: 5, loop: { start: 5, end: 6 }, onEnd: () => undefined });
  expect(FakeNode.newest.loop).toBe(false);
});

test('the end is told once, whether it comes or is made', async () => {
  const player = new Player();
  const onEnd = vi.fn();
  await player.play(clip, { from: 0, onEnd });
  FakeNode.newest.onended?.();
  expect([onEnd.mock.calls.length, player.playing, player.position]).toEqual([1, false, undefined]);
  await player.play(clip, { from: 0, onEnd });
  const first = FakeNode.newest;
  await player.play(clip, { from: 0, onEnd });
  expect([first.stopped, onEnd.mock.calls.length, player.playing]).toEqual([true, 2, true]);
  player.stop();
  expect([onEnd.mock.calls.length, player.playing]).toEqual([3, false]);
});

test('a page that may not sound yet says what to do', async () => {
  FakeContext.state = 'suspended';
  await expect(new Player().play(clip, { from: 0, onEnd: () => undefined })).rejects.toThrow('click anywhere');
});
