import { beforeEach, describe, expect, test, vi } from 'vitest';
import type { Clip } from '@hexenkessel/core/model';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { emptyChain, newStage, setSetting } from '@hexenkessel/core/chain';
import { EMPTY, type CascadeState } from '../cascade/chainRenderer.ts';
import type { RowKey, RowPicture } from '../cascade/renderReport.ts';
import { Subject } from '../parts/subject.ts';
import { Playback, type Hearing, type Player } from './playback.ts';

const RATE = 48000;
const clipOf = (rate: number): Clip => ({ sampleRate: rate, origin: 0, channels: [new Float32Array(rate)] });
const picture = (key: RowKey, clipId: number, end: number): RowPicture =>
  ({ key, clipId, start: 0, end, peak: 0, overview: {} }) as RowPicture;

/** What is rendered, said by the test. */
class FakeRenderer extends Subject<CascadeState> {
  clips = new Map<RowKey, Clip | undefined>();
  fetched: RowKey[] = [];
  constructor() {
    super(EMPTY);
  }
  rendered(rate = RATE, ids = 1): void {
    for (const key of ['source', 'result'] as const) this.clips.set(key, clipOf(rate));
    const rows = { source: picture('source', ids, rate), result: picture('result', ids + 1, 2 * rate) };
    this.set({ ...this.state, sampleRate: rate, sourceFrames: rate, rows });
  }
  place(shift: number, levelGain: number): void {
    this.set({ ...this.state, shift, levelGain });
  }
  arrivedTo: number[] = [];
  arriving: Promise<void> = Promise.resolve();
  arrived(frame: number): Promise<void> {
    this.arrivedTo.push(frame);
    return this.arriving;
  }
  fetchClip(key: RowKey): Promise<Clip | undefined> {
    this.fetched.push(key);
    return Promise.resolve(this.clips.get(key));
  }
}

/** An audio thread that sounds as soon as it is told to, and ends when the test says so. */
class FakePlayer implements Player {
  onFailure: (text: string) => void = () => undefined;
  playing = false;
  position = 0;
  closed = false;
  readonly sampleRate: number;
  readonly log: (readonly [string, ...unknown[]])[] = [];
  constructor(sampleRate: number) {
    this.sampleRate = sampleRate;
  }
  setWork = (work: Parameters<Player['setWork']>[0]): void =>
    void this.log.push(['work', work.gain, work.shift, work.plan.length]);
  setDeck = (id: string): void => void this.log.push(['deck', id]);
  keep = (): void => undefined;
  listen = (id: string): void => void this.log.push(['listen', id]);
  play = (from: number, loop: unknown, end: number): Promise<void> => {
    this.log.push(['play', from, loop, end]);
    this.playing = true;
    return Promise.resolve();
  };
  setLoop = (loop: unknown, end: number): void => void this.log.push(['loop', loop, end]);
  stop = (): void => {
    this.log.push(['stop']);
    this.playing = false;
  };
  close = (): void => void (this.closed = true);
  of = (name: string) => this.log.filter(([what]) => what === name);
}

const chain = emptyChain(BUILT_INS, 'Kelp');
const document = { ...chain, stages: [newStage(BUILT_INS, chain, { kind: 'echo' })] };
const HEARING: Hearing = {
  document,
  region: null,
  loop: false,
  loopTail: false,
  gain: 0,
  atLevel: true,
  others: [],
  heard: 'work',
};

const settle = async () => {
  for (let n = 0; n < 20; n++) await Promise.resolve();
};

describe('playback', () => {
  let renderer: FakeRenderer;
  let players: FakePlayer[];
  let told: string[];
  let opening: Promise<void>;
  let playback: Playback<FakePlayer>;
  const player = () => players[players.length - 1];

  beforeEach(() => {
    vi.useFakeTimers();
    renderer = new FakeRenderer();
    players = [];
    told = [];
    opening = Promise.resolve();
    playback = new Playback<FakePlayer>(renderer as never, {
      open: async (rate) => {
        await opening;
        players.push(new FakePlayer(rate));
        return player();
      },
      prepare: (plan) => Promise.resolve(plan),
      tellFailure: (title, text) => told.push(`${title}: ${text}`),
    });
    playback.hear(HEARING);
    return () => {
      playback.close();
      vi.useRealTimers();
    };
  });

  test('from silence over starting to playing, and silent again when the sound has ended', async () => {
    renderer.rendered();
    playback.toggle('result');
    expect(playback.state).toEqual({ phase: 'starting', row: 'result' });
    await settle();
    expect(playback.state).toEqual({ phase: 'playing', row: 'result' });
    expect(player().of('play')).toEqual([['play', 0, undefined, 2 * RATE]]);
    player().position = 0.5;
    expect(playback.position).toBe(0.5);
    player().playing = false;
    vi.advanceTimersByTime(200);
    expect(playback.state).toEqual({ phase: 'silent', row: undefined });
    expect(playback.position).toBeUndefined();
  });

  test('it plays a sound that still arrives once two seconds of it are there; stopped before, it never sounds', async () => {
    renderer.rendered();
    let come: () => void = () => undefined;
    renderer.arriving = new Promise((resolve) => (come = resolve));
    playback.playFrom(0.5);
    await settle();
    expect(playback.state.phase).toBe('starting');
    expect(renderer.arrivedTo).toEqual([2.5 * RATE]);
    expect(player().of('play')).toEqual([]);
    come();
    await settle();
    expect(player().of('play')).toEqual([['play', RATE / 2, undefined, 2 * RATE]]);
    playback.stop();
    renderer.arriving = new Promise(() => undefined);
    playback.toggle('source');
    await settle();
    playback.stop();
    await settle();
    expect(player().of('play')).toHaveLength(1);
  });

  test('nothing rendered: it says so and stays silent', async () => {
    playback.toggle('result');
    await settle();
    expect(playback.state.phase).toBe('silent');
    expect(told).toEqual(['Nothing to play yet: The row is still being rendered; try again in a moment.']);
  });

  test('stopped while the audio thread is being started, it never sounds', async () => {
    renderer.rendered();
    let go: () => void = () => undefined;
    opening = new Promise((resolve) => (go = resolve));
    playback.toggle('result');
    playback.stop();
    go();
    await settle();
    expect(playback.state.phase).toBe('silent');
    expect(player().of('play')).toEqual([]);
    expect(told).toEqual([]);
  });

  test('closed while the audio thread is being started, that is closed too', async () => {
    renderer.rendered();
    let go: () => void = () => undefined;
    opening = new Promise((resolve) => (go = resolve));
    playback.toggle('result');
    playback.close();
    go();
    await settle();
    expect(player().closed).toBe(true);
    expect(playback.player).toBeUndefined();
  });

  test('another row while it plays goes on from there; the same row stops', async () => {
    renderer.rendered();
    playback.toggle('result');
    await settle();
    playback.toggle('source');
    await settle();
    expect(playback.state).toEqual({ phase: 'playing', row: 'source' });
    expect(player().of('play')).toHaveLength(1);
    expect(player().of('work').at(-1)?.[3]).toBe(0);
    playback.toggle('source');
    expect(playback.state.phase).toBe('silent');
    expect(player().playing).toBe(false);
  });

  test('a changed chain is brought to the audio thread, an unchanged one is not', async () => {
    renderer.rendered();
    playback.toggle('result');
    await settle();
    const before = player().of('work').length;
    playback.hear({ ...HEARING });
    await settle();
    expect(player().of('work')).toHaveLength(before);
    playback.hear({ ...HEARING, document: setSetting(BUILT_INS, document, 'echo.level', -3) });
    await settle();
    expect(player().of('work')).toHaveLength(before + 1);
  });

  test('the render is heard at its level and where it is placed, its source is not', async () => {
    renderer.rendered();
    renderer.place(-480, -4);
    playback.hear({ ...HEARING, gain: 1 });
    playback.toggle('result');
    await settle();
    expect(player().of('work').at(-1)?.slice(1, 3)).toEqual([-3, -480]);
    playback.toggle('source');
    await settle();
    expect(player().of('work').at(-1)?.slice(1, 3)).toEqual([1, 0]);
    playback.hear({ ...HEARING, gain: 1, atLevel: false });
    playback.toggle('result');
    await settle();
    expect(player().of('work').at(-1)?.slice(1, 3)).toEqual([1, -480]);
  });

  test('a region and its loop are followed while it plays, and once only', async () => {
    renderer.rendered();
    playback.toggle('result');
    await settle();
    const region = { start: 0.25, end: 0.5 };
    for (let n = 0; n < 3; n++) playback.hear({ ...HEARING, region: { ...region }, loop: true });
    const whole = { start: 0.25 * RATE, end: 0.5 * RATE };
    expect(player().of('loop').slice(1)).toEqual([['loop', whole, Infinity]]);
  });

  test('from a place: never outside of what is played, never at its very end', async () => {
    renderer.rendered();
    playback.hear({ ...HEARING, region: { start: 0.25, end: 0.5 } });
    const from: unknown[] = [];
    for (const seconds of [-Infinity, 0.3, 7]) {
      playback.playFrom(seconds);
      await settle();
      from.push(player().of('play').at(-1)?.[1]);
    }
    expect(from).toEqual([0.25 * RATE, 0.3 * RATE, 0.49 * RATE]);
  });

  test('a sound of another rate gets a player of its own and goes on from the same place', async () => {
    renderer.rendered();
    playback.toggle('result');
    await settle();
    const first = player();
    first.position = 0.75;
    renderer.rendered(44100, 9);
    await settle();
    expect(first.closed).toBe(true);
    expect(player().sampleRate).toBe(44100);
    expect(player().of('play')[0][1]).toBe(0.75 * 44100);
  });

  test('a device that is lost is told, and play starts it anew', async () => {
    renderer.rendered();
    playback.toggle('result');
    await settle();
    player().onFailure('The audio device was lost.');
    expect(told).toEqual(['Sound stopped: The audio device was lost.']);
    expect(playback.state.phase).toBe('silent');
    expect(player().closed).toBe(true);
    playback.toggle('result');
    await settle();
    expect(players).toHaveLength(2);
    expect(playback.state.phase).toBe('playing');
  });

  test('a clip is fetched once for the same content', async () => {
    renderer.rendered();
    playback.toggle('source');
    await settle();
    playback.stop();
    playback.toggle('source');
    await settle();
    expect(renderer.fetched).toEqual(['source']);
  });
});
