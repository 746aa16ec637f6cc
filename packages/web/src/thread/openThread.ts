import { wrap, type Remote } from 'comlink';
import type { Work } from './threadScript.ts';

export interface Thread {
  readonly work: Remote<Work>;
  readonly worker: Worker;
}

/** Starts a thread; it ends with `worker.terminate()`. */
export function openThread(): Thread {
  const worker = new Worker(new URL('./threadScript.ts', import.meta.url), { type: 'module' });
  return { worker, work: wrap<Work>(worker) };
}
