/** What the server asks of its worker threads, and what they answer. */
import type { MessagePort } from 'node:worker_threads';
import type { ChainDocument } from '@hexenkessel/core';
import type { NewSound } from '../sounds/sounds.ts';

export interface InspectTask {
  readonly task: 'inspect';
  readonly path: string;
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
  /** Gets the share done, 0…1. */
  readonly port: MessagePort;
  /** One Int32; anything but 0 asks the worker to give up. */
  readonly cancel: SharedArrayBuffer;
}

export interface ExportTask {
  readonly task: 'export';
  readonly sourcePath: string;
  readonly outputPath: string;
  readonly depth: '16' | '24' | '32f';
  readonly name: string;
  readonly comment: string;
  /** undefined: the file gets no place. */
  readonly timeReference: number | undefined;
}

export type Task = InspectTask | RenderTask | ExportTask;

export type Measured = Pick<
  NewSound,
  'frames' | 'sampleRate' | 'channels' | 'format' | 'timeReference' | 'peak' | 'truePeak' | 'loudness'
>;

export type Rendered = Measured & Pick<NewSound, 'sha256' | 'bytes' | 'originFrames'>;

/** Errors lose their class between threads, so what a user did wrong is answered, not thrown. */
export type Answer<T> =
  | { readonly outcome: 'done'; readonly result: T }
  | { readonly outcome: 'cancelled' }
  | { readonly outcome: 'refused'; readonly message: string; readonly faults: readonly string[] };
