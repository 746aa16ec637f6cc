/** What the page sends to the audio thread. Clips lie in shared memory and are not copied. */
import type { Span } from '@hexenkessel/core/model';
import type { PlannedHead } from '@hexenkessel/core/stages';
import type { RenderChannels } from '@hexenkessel/core/chain';
import type { Planned } from '@hexenkessel/core/engine';
import type { Stretch } from '@hexenkessel/core/live';

export interface DeckMessage {
  readonly head: PlannedHead;
  readonly plan: readonly Planned[];
  /** dB. */
  readonly gain: number;
  /** Where the source lies, and by how much the clip was moved to its anchor; frames. */
  readonly span: Span;
  readonly shift: number;
  /** As the render will have them. */
  readonly channels: RenderChannels;
}

export type EngineMessage =
  | { readonly type: 'deck'; readonly id: string; readonly number: number; readonly content: DeckMessage }
  | { readonly type: 'plan'; readonly id: string; readonly number: number; readonly plan: readonly Planned[] }
  | { readonly type: 'finish'; readonly id: string; readonly gain: number; readonly channels: RenderChannels }
  | { readonly type: 'unload'; readonly id: string }
  | { readonly type: 'listen'; readonly id: string }
  | {
      readonly type: 'play';
      readonly turn: number;
      readonly from: number;
      readonly loop: Stretch | undefined;
      readonly end: number;
      /** Seconds from what the engine puts out until it sounds. */
      readonly deviceLatency: number;
    }
  | { readonly type: 'loop'; readonly loop: Stretch | undefined; readonly end: number }
  | { readonly type: 'stop' }
  | { readonly type: 'resetMeters' };

/** Memory that page and audio thread share, given to the processor when it is made. */
export interface EngineMemory {
  readonly board: SharedArrayBuffer;
  readonly settings: SharedArrayBuffer;
  /** Microseconds, kept by a thread of its own: the audio thread has no clock. */
  readonly clock: SharedArrayBuffer;
}

/** The deck whose settings come through shared memory: the chain being worked on. */
export const WORK_DECK = 'work';
/** What the audio thread answers to something that it could not be sent. */
export const UNREADABLE = 'unreadable';
export const PROCESSOR_NAME = 'hexenkessel-engine';
