/** Where a chain's sound comes from: what stands before its first stage. */
import type { Clip } from '../model/clip.ts';
import type { Note } from '../modulation/notes.ts';
import type { Params } from '../params/params.ts';
import type { ResolvedValues } from '../stages/contract.ts';

/** What the head's settings are named by, as a stage's by its id: `head.KEY`. Nothing else in a chain has this id. */
export const HEAD_ID = 'head';

/** What a head is given: plain data, so that it can be sent to another thread. */
export interface PlannedHead {
  readonly kind: string;
  readonly values: ResolvedValues<Params>;
  /** Hz, that its sound has. */
  readonly sampleRate: number;
  readonly seed: number;
  /** For a head that takes a clip. */
  readonly clip?: Clip | undefined;
  /** For a head that takes notes: their places and lengths in seconds from frame 0. */
  readonly notes: readonly Note[];
}

/**
 * A head at work along a play head that counts frames of the timeline. All memory is taken when it is made; `read`, `jump`
 * and `settle` take none.
 */
export interface HeadVoice {
  /** As many channels as the head has said, of a block each. */
  readonly output: readonly Float32Array[];
  /** Frames by which what it reads lags the place it is asked for. */
  readonly latency: number;
  /** Goes on with other content of the same kind, from `place` on, without a click; false where it has to be made anew. */
  exchange(head: PlannedHead, place: number): boolean;
  /** Tells that the play head, which would have gone on at `place`, does not. */
  jump(place: number): void;
  /** Begins at once with what is asked for next: nothing sounds that would have to fade out. */
  settle(): void;
  /** Fills output[offset, offset + frames) with what lies from `place` on. */
  read(place: number, offset: number, frames: number): void;
}

/** What a head says of itself. */
export interface Head<P extends Params = Params> {
  readonly kind: string;
  readonly title: string;
  /** One sentence: where the sound comes from. */
  readonly summary: string;
  readonly params: P;
  /** What it is given beside its settings. A head that takes notes is given those of the chain. */
  readonly takes: 'clip' | 'notes' | 'nothing';
  /** Why a chain that begins with it can be played, but not rendered; left out where it can be rendered. */
  readonly playedOnly?: string;
  /** 1 or 2. */
  channels(head: PlannedHead): number;
  /** Frames until it has nothing more to say, from frame 0; Infinity where that never comes. */
  frames(head: PlannedHead): number;
  /** Hz that it wants to be run at; that of the engine when left out. */
  wantedRate?(values: ResolvedValues<P>): number | undefined;
  /** Seconds that may pass between an event and its sound; what the engine takes by itself when left out. */
  readonly wantedLatency?: number;
  create(head: PlannedHead, blockFrames: number): HeadVoice;
}

/** Declares a head. */
export function defineHead<const P extends Params>(head: Head<P>): Head {
  return head as unknown as Head;
}
