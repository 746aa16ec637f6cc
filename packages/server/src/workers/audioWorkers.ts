import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import { MessageChannel } from 'node:worker_threads';
import { Piscina } from 'piscina';
import { InputError } from '@hexenkessel/core/model';
import type { Dither } from '@hexenkessel/core/protocol';
import { DiskFull } from '../store/diskFull.ts';
import type { Answer, DitherTask, ExportTask, MixTask, MixedDown, Rendered, RenderTask, Task } from './tasks.ts';

/** A render that was asked to give up has done so. */
export class RenderCancelled extends Error {}

export interface RunningRender {
  readonly result: Promise<Rendered>;
  cancel(): void;
}

/** Milliseconds that a render has to give up by itself. */
const CANCEL_PATIENCE = 2000;

/** The server's worker threads. */
export class AudioWorkers {
  private readonly pool = new Piscina<Task, Answer<unknown>>({
    // The built file, also when this one runs from source: worker threads cannot read TypeScript.
    filename: fileURLToPath(new URL('../../dist/workers/audioWorker.js', import.meta.url)),
    // Nothing said to this process about finding sources is meant for them. They import the file: Node 20 aborts the
    // whole process when a thread ends while it is requiring a module.
    execArgv: ['--no-experimental-require-module'],
    maxThreads: Math.max(1, availableParallelism() - 1),
  });

  async export(task: Omit<ExportTask, 'task'>): Promise<void> {
    settle(await this.pool.run({ ...task, task: 'export' }));
  }

  /** Writes a mix of sounds, and measures it. InputError when it would be too long. */
  async mix(task: Omit<MixTask, 'task'>): Promise<MixedDown> {
    return settle<MixedDown>(await this.pool.run({ ...task, task: 'mix' }));
  }

  /** Where a file written like this is dithered. */
  async dither(task: Omit<DitherTask, 'task'>): Promise<Dither> {
    return settle<Dither>(await this.pool.run({ ...task, task: 'dither' }));
  }

  render(task: Omit<RenderTask, 'task' | 'port' | 'cancel'>, onProgress: (done: number) => void): RunningRender {
    const { port1, port2 } = new MessageChannel();
    const cancel = new SharedArrayBuffer(4);
    port1.on('message', onProgress);
    const ending = new AbortController();
    let timer: NodeJS.Timeout | undefined;
    const answer = this.pool
      .run({ ...task, task: 'render', port: port2, cancel }, { transferList: [port2], signal: ending.signal })
      .catch((error: unknown) => {
        throw ending.signal.aborted ? new RenderCancelled() : error;
      });
    return {
      result: answer
        .then((value) => settle<Rendered>(value))
        .finally(() => {
          clearTimeout(timer);
          port1.close();
        }),
      cancel: () => {
        Atomics.store(new Int32Array(cancel), 0, 1);
        // A script that works on a whole clip does not look up; its thread is ended then.
        timer ??= setTimeout(() => ending.abort(), CANCEL_PATIENCE);
      },
    };
  }

  async close(): Promise<void> {
    await this.pool.close({ force: true });
  }
}

/** What came of it; throws what was refused as InputError. */
export function settle<T>(answer: Answer<unknown>): T {
  if (answer.outcome === 'done') return answer.result as T;
  if (answer.outcome === 'cancelled') throw new RenderCancelled();
  if (answer.outcome === 'disk full') throw new DiskFull();
  throw new InputError(answer.message, { faults: answer.faults });
}
