/** What the server asks of its workers, and what they answer. */
import type { MessagePort } from 'node:worker_threads';
import type { Span } from '@hexenkessel/core/model';
import type { ChainDocument } from '@hexenkessel/core/chain';
import type { RegionRender } from '@hexenkessel/core/engine';
import type { SoundMarks, WavDepth } from '@hexenkessel/core/formats';
import type { SoundFileKind } from '@hexenkessel/core/protocol';
import type { NewSound } from '../sounds/sounds.ts';

/** Goes through a sound that has come in, and decodes it where it is not kept as it is. */
export interface TakeOrder {
  readonly path: string;
  /** Where it is written when it is decoded. */
  readonly outputPath: string;
  /** Which channels of the file, from 0; undefined: the first two. */
  readonly channels: readonly number[] | undefined;
  /** Another sample rate; undefined: the file's own. */
  readonly rate: number | undefined;
}

export interface RenderTask {
  readonly task: 'render';
  readonly sourcePath: string;
  readonly outputPath: string;
  readonly chain: ChainDocument;
  /** The sounds that its stages name and that are there. */
  readonly sounds: readonly { readonly name: string; readonly sha256: string; readonly path: string }[];
  readonly name: string;
  readonly version: string;
  /** undefined: all of the sound. */
  readonly region: RegionRender | undefined;
  /** Gets the share done, 0…1. */
  readonly port: MessagePort;
  /** One Int32; anything but 0 asks the worker to give up. */
  readonly cancel: SharedArrayBuffer;
}

/** What is said of how a sound is written that its samples depend on. */
export interface Sampling {
  readonly sourcePath: string;
  readonly depth: WavDepth;
  /** undefined: its own. */
  readonly rate: number | undefined;
  /** Frames that were worked on; null: all of them. */
  readonly touched: Span | null;
}

/** Finds out where a file would be dithered. */
export interface DitherTask extends Sampling {
  readonly task: 'dither';
}

export interface ExportTask extends Sampling {
  readonly task: 'export';
  readonly outputPath: string;
  readonly kind: SoundFileKind;
  readonly marks: SoundMarks;
  readonly name: string;
  readonly comment: string;
  /** undefined: the file gets no place. */
  readonly timeReference: number | undefined;
}

/** Adds sounds up. */
export interface MixTask {
  readonly task: 'mix';
  readonly outputPath: string;
  readonly sampleRate: number;
  readonly timeReference: number | null;
  /** Where each begins, in frames of the mix, and a factor; 0: not heard. */
  readonly parts: readonly { readonly path: string; readonly at: number; readonly gain: number }[];
}

export type Task = RenderTask | DitherTask | ExportTask | MixTask;

export type Measured = Pick<
  NewSound,
  'frames' | 'sampleRate' | 'channels' | 'format' | 'timeReference' | 'peak' | 'truePeak' | 'loudness'
>;

/** A sound that has come in. `written`: it was decoded, to where it was asked to be. */
export type Taken = Measured &
  Pick<NewSound, 'sourceFormat' | 'marks'> & {
    readonly written?: Pick<NewSound, 'sha256' | 'bytes'>;
    /** What was wrong with the file and did not keep it from being read. */
    readonly warning?: string | undefined;
  };

export type Rendered = Measured &
  Pick<NewSound, 'sha256' | 'bytes' | 'originFrames' | 'touched'> & {
    /** Stages that passed the sound on from somewhere, in words. */
    readonly gaveUp: readonly string[];
  };

export type MixedDown = Measured & Pick<NewSound, 'sha256' | 'bytes'>;

/** Errors lose their class and code between threads, so what a user did wrong and a full disk are answered, not thrown. */
export type Answer<T> =
  | { readonly outcome: 'done'; readonly result: T }
  | { readonly outcome: 'cancelled' }
  | { readonly outcome: 'disk full' }
  | { readonly outcome: 'refused'; readonly message: string; readonly faults: readonly string[] };

/** What a process that goes through a sound says: that it can begin, that it goes on, and what came of it. */
export type FromTaking =
  { readonly type: 'ready' } | { readonly type: 'alive' } | { readonly type: 'answer'; readonly answer: Answer<Taken> };
