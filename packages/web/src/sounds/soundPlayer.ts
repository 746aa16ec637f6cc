/** Plays sounds as they are on the server, one at a time; every view with a play button asks the same player. */
import { useSyncExternalStore } from 'react';
import { audioUrl } from '../api/api.ts';
import { stoppedBy } from '../parts/othersPlaying.ts';

/** What of an audio element the player needs. */
export interface AudioOut {
  src: string;
  play(): Promise<void>;
  pause(): void;
  addEventListener(event: 'ended' | 'error', listener: () => void): void;
}

export type PlayerState =
  | { readonly name: 'idle' }
  | { readonly name: 'playing'; readonly soundId: string }
  | { readonly name: 'failed'; readonly soundId: string };

const IDLE: PlayerState = { name: 'idle' };

export class SoundPlayer {
  private readonly makeOut: () => AudioOut;
  private readonly listeners = new Set<() => void>();
  private out: AudioOut | undefined;
  private current: PlayerState = IDLE;
  private last: string | undefined;

  constructor(makeOut: () => AudioOut) {
    this.makeOut = makeOut;
  }

  get state(): PlayerState {
    return this.current;
  }

  /** The sound that was played last, also when it has ended. */
  get lastPlayed(): string | undefined {
    return this.last;
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => void this.listeners.delete(listener);
  };

  /** Plays a sound from its start; stops it where it is the one that plays. */
  toggle(soundId: string): void {
    if (this.current.name === 'playing' && this.current.soundId === soundId) this.stop();
    else this.play(soundId);
  }

  play(soundId: string): void {
    const out = (this.out ??= this.begin());
    out.src = audioUrl(soundId);
    this.last = soundId;
    this.become({ name: 'playing', soundId });
    // Asked to stop or to play another one meanwhile, it rejects; then this is nobody's failure any more.
    out.play().catch(() => this.fail(soundId));
  }

  stop(): void {
    if (this.current.name === 'idle') return;
    this.out?.pause();
    this.become(IDLE);
  }

  private begin(): AudioOut {
    const out = this.makeOut();
    out.addEventListener('ended', () => this.become(IDLE));
    out.addEventListener('error', () => {
      if (this.current.name === 'playing') this.fail(this.current.soundId);
    });
    return out;
  }

  private fail(soundId: string): void {
    if (this.current.name === 'playing' && this.current.soundId === soundId) this.become({ name: 'failed', soundId });
  }

  private become(state: PlayerState): void {
    this.current = state;
    for (const listener of this.listeners) listener();
  }
}

export const soundPlayer = new SoundPlayer(() => new Audio());
stoppedBy(() => soundPlayer.stop());

export function useSoundPlayer(): PlayerState {
  return useSyncExternalStore(soundPlayer.subscribe, () => soundPlayer.state);
}
