/** Runs in a web worker: reads files of a user's that would hold up the page. */
import { InputError } from '@hexenkessel/core/model';
import { lanesFromCsv, readMidiLanes, readMidiNotes, readTempoMap } from '@hexenkessel/core/formats';

const READERS = {
  /** The changes of a tempo map; the map itself does not pass between threads. */
  tempo: (bytes: Uint8Array) => readTempoMap(bytes).changes,
  midiLanes: readMidiLanes,
  midiNotes: readMidiNotes,
  csvLanes: (bytes: Uint8Array) => lanesFromCsv(new TextDecoder().decode(bytes)),
};

export type FileKind = keyof typeof READERS;
export type ReadFile<K extends FileKind> = ReturnType<(typeof READERS)[K]>;

export interface FileTask {
  readonly kind: FileKind;
  readonly bytes: Uint8Array;
}
export type FileAnswer = { readonly read: unknown } | { readonly refused: string };

self.onmessage = ({ data: { kind, bytes } }: MessageEvent<FileTask>) => {
  let answer: FileAnswer;
  try {
    answer = { read: READERS[kind](bytes) };
  } catch (error) {
    if (!(error instanceof InputError)) throw error;
    answer = { refused: error.message };
  }
  self.postMessage(answer);
};
