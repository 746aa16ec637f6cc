import { beforeEach, describe, expect, test } from 'vitest';
import { SoundPlayer, type AudioOut } from './soundPlayer.ts';

/** An audio element that does what it is told by the test. */
class FakeOut implements AudioOut {
  src = '';
  readonly calls: string[] = [];
  private readonly listeners = new Map<string, () => void>();
  answer = () => Promise.resolve();
  play() {
    this.calls.push(`play ${this.src}`);
    return this.answer();
  }
  pause() {
    this.calls.push('pause');
  }
  addEventListener(event: string, listener: () => void) {
    this.listeners.set(event, listener);
  }
  happens(event: 'ended' | 'error') {
    this.listeners.get(event)?.();
  }
}

describe('the player of sounds', () => {
  let out: FakeOut;
  let player: SoundPlayer;
  let seen: string[];
  beforeEach(() => {
    out = new FakeOut();
    player = new SoundPlayer(() => out);
    seen = [];
    player.subscribe(() => seen.push(player.state.name));
  });

  test('plays one sound at a time, and the same again stops it', () => {
    player.toggle('a');
    player.toggle('b');
    expect(player.state).toEqual({ name: 'playing', soundId: 'b' });
    expect(out.src).toContain('/b/');
    player.toggle('b');
    expect(player.state).toEqual({ name: 'idle' });
    expect(out.calls.at(-1)).toBe('pause');
    expect(seen).toEqual(['playing', 'playing', 'idle']);
    expect(player.lastPlayed).toBe('b');
  });

  test('is idle when a sound has come to its end, and plays it again', () => {
    player.play('a');
    out.happens('ended');
    expect(player.state.name).toBe('idle');
    player.toggle('a');
    expect(player.state.name).toBe('playing');
  });

  test('says what could not be played, but not that another one was asked for', async () => {
    out.answer = () => Promise.reject(new Error('no'));
    player.play('a');
    out.answer = () => Promise.resolve();
    player.play('b');
    await Promise.resolve();
    await Promise.resolve();
    expect(player.state).toEqual({ name: 'playing', soundId: 'b' });
    out.happens('error');
    expect(player.state).toEqual({ name: 'failed', soundId: 'b' });
  });

  test('stops nothing where nothing plays; nobody hears of it', () => {
    player.stop();
    expect(seen).toEqual([]);
    expect(out.calls).toEqual([]);
  });
});
