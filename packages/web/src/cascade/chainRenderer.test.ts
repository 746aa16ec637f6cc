import { expect, test } from 'vitest';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { emptyChain, newStage, setSetting, type ChainDocument } from '@hexenkessel/core/chain';
import { ChainRenderer, type RenderThread } from './chainRenderer.ts';
import type { RenderReport, RowKey, RowPicture } from './renderReport.ts';

/** A thread that renders nothing by itself: the test says what it reports. */
function fakeThread() {
  const asked: { generation: number; chain: ChainDocument; report: (news: Partial<RenderReport>) => void }[] = [];
  let broke: (message: string) => void = () => undefined;
  let failing: Error | undefined;
  const thread = {
    render: (generation, _sound, chain, _sounds, report) => {
      asked.push({
        generation,
        chain,
        report: (news) => report({ generation, sampleRate: 44100, sourceFrames: 1000, ...news }),
      });
      return failing ? Promise.reject(failing) : Promise.resolve();
    },
    stop: () => asked.at(-1)?.report({ stopped: true }),
    close: () => undefined,
  } as Partial<RenderThread> as RenderThread;
  const renderer = new ChainRenderer((onError) => {
    broke = onError;
    return thread;
  });
  return {
    renderer,
    asked,
    break: (message: string) => broke(message),
    fail: (error: Error) => (failing = error),
    last: () => asked[asked.length - 1],
  };
}

const row = (key: RowKey, clipId: number, cost = 3): RowPicture & { cost: number; sharedBy: number } => ({
  key,
  clipId,
  cost,
  sharedBy: 1,
  start: 0,
  end: 1000,
  peak: -6,
  channels: 1,
  overview: {} as RowPicture['overview'],
});
const measures = { peak: -6, loudness: -18 } as never;

const chainOf = (kind: string) => {
  const chain = emptyChain(BUILT_INS, 'Kelp');
  return { ...chain, stages: [newStage(BUILT_INS, chain, { kind })] };
};
const echo = chainOf('echo');
const louder = setSetting(BUILT_INS, echo, 'echo.level', 3);
const bell = { id: 'bell', sha256: 'b'.repeat(64) };
const drum = { id: 'drum', sha256: 'd'.repeat(64) };

test('rows become ready one by one; what is rendered is over when it is measured', () => {
  const { renderer, last } = fakeThread();
  renderer.show(bell, echo, []);
  expect(renderer.state).toMatchObject({ busy: true, rows: {} });
  last().report({ row: row('source', 1) });
  last().report({ row: row('stage:echo', 2) });
  last().report({ row: row('result', 3), shift: 5, levelGain: -2 });
  expect(renderer.state).toMatchObject({ busy: true, shift: 5, levelGain: -2, sampleRate: 44100, sourceFrames: 1000 });
  expect(Object.keys(renderer.state.rows)).toEqual(['source', 'stage:echo', 'result']);
  last().report({ measures });
  expect(renderer.state).toMatchObject({ busy: false, measures });
  expect(renderer.state.latency).toBeGreaterThanOrEqual(0);
});

test('what sounds the same is not rendered again; names and notes change nothing', () => {
  const { renderer, asked } = fakeThread();
  renderer.show(bell, echo, []);
  renderer.show(bell, structuredClone(echo), []);
  renderer.show(bell, { ...echo, name: 'Other', about: { ...echo.about, notes: 'x' } }, []);
  expect(asked).toHaveLength(1);
  renderer.show(bell, louder, []);
  renderer.show(drum, louder, []);
  expect(asked.map(({ generation }) => generation)).toEqual([1, 2, 3]);
});

test('rows of an older chain stay and are stale until newer ones take their place', () => {
  const { renderer, asked, last } = fakeThread();
  renderer.show(bell, echo, []);
  for (const key of ['source', 'stage:echo', 'result'] as const) last().report({ row: row(key, 1) });
  renderer.show(bell, louder, []);
  expect([...renderer.state.stale]).toEqual(['source', 'stage:echo', 'result']);
  asked[0].report({ row: row('stage:echo', 7) });
  expect(renderer.state.rows['stage:echo']?.clipId).toBe(7);
  expect(renderer.state.stale.has('stage:echo')).toBe(true);
  asked[0].report({ measures });
  expect(renderer.state).toMatchObject({ busy: true, measures: undefined });
  last().report({ row: row('stage:echo', 8) });
  expect([...renderer.state.stale]).toEqual(['source', 'result']);
});

test('a row that is told again with the same content stays the same object; only its cost is another', () => {
  const { renderer, last } = fakeThread();
  renderer.show(bell, echo, []);
  last().report({ row: row('stage:echo', 4, 12) });
  const before = renderer.state.rows['stage:echo'];
  renderer.show(bell, louder, []);
  last().report({ row: row('stage:echo', 4, 0) });
  expect(renderer.state.rows['stage:echo']).toBe(before);
  expect(renderer.state.costs['stage:echo']).toEqual({ cost: 0, sharedBy: 1 });
});

test('another sound begins with nothing', () => {
  const { renderer, last } = fakeThread();
  renderer.show(bell, echo, []);
  last().report({ row: row('source', 1) });
  renderer.show(drum, echo, []);
  expect(renderer.state).toMatchObject({ rows: {}, busy: true });
});

test('stopped on request it stands, and goes on with the same chain', () => {
  const { renderer, asked } = fakeThread();
  renderer.show(bell, echo, []);
  renderer.stop();
  expect(renderer.state).toMatchObject({ busy: false, stopped: true });
  renderer.goOn();
  expect(asked[1].chain).toBe(echo);
  expect(renderer.state).toMatchObject({ busy: true, stopped: false });
});

test('a refusal, a render that fails and a thread that breaks are told, and a newer chain takes the word back', async () => {
  const { renderer, last, fail, ...thread } = fakeThread();
  renderer.show(bell, echo, []);
  last().report({ refused: 'Echo: the delay is too long.' });
  expect(renderer.state).toMatchObject({ busy: false, failure: 'Echo: the delay is too long.' });
  renderer.show(bell, louder, []);
  expect(renderer.state.failure).toBeUndefined();
  fail(new Error('no memory'));
  renderer.show(bell, echo, []);
  await Promise.resolve();
  await Promise.resolve();
  expect(renderer.state.failure).toBe('The renderer failed: Error: no memory');
  thread.break('out of bounds');
  expect(renderer.state.failure).toContain('out of bounds');
});

test('who listens is told of every change until it listens no more', () => {
  const { renderer, last } = fakeThread();
  let told = 0;
  const leave = renderer.subscribe(() => told++);
  renderer.show(bell, echo, []);
  last().report({ row: row('source', 1) });
  expect(told).toBe(2);
  leave();
  last().report({ measures });
  expect(told).toBe(2);
});
