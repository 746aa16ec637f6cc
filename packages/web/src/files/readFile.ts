import { InputError, LIMITS } from '@hexenkessel/core/model';
import type { FileAnswer, FileKind, FileTask, ReadFile } from './fileWorker.ts';

const MOST_BYTES: Readonly<Record<FileKind, number>> = {
  tempo: LIMITS.midiBytes,
  midiLanes: LIMITS.midiBytes,
  midiNotes: LIMITS.midiBytes,
  csvLanes: LIMITS.csvBytes,
};

/** Milliseconds that reading may take. */
const PATIENCE = 20_000;

/** Reads a file in a thread of its own, which is ended when it takes too long. InputError for what is not allowed. */
export async function readFile<K extends FileKind>(kind: K, file: File): Promise<ReadFile<K>> {
  if (file.size > MOST_BYTES[kind])
    throw new InputError(`${file.name} has ${file.size} bytes; at most ${MOST_BYTES[kind]} are allowed.`);
  const task: FileTask = { kind, bytes: new Uint8Array(await file.arrayBuffer()) };
  let patience: ReturnType<typeof setTimeout> | undefined;
  const worker = new Worker(new URL('./fileWorker.ts', import.meta.url), { type: 'module' });
  try {
    return await new Promise((resolve, reject) => {
      const refuse = (text: string) => reject(new InputError(text));
      patience = setTimeout(() => refuse(`${file.name} takes too long to read and was left.`), PATIENCE);
      worker.onerror = () => refuse(`${file.name} could not be read.`);
      worker.onmessage = ({ data }: MessageEvent<FileAnswer>) => {
        if ('refused' in data) refuse(data.refused);
        else resolve(data.read as ReadFile<K>);
      };
      worker.postMessage(task, [task.bytes.buffer]);
    });
  } finally {
    clearTimeout(patience);
    worker.terminate();
  }
}
