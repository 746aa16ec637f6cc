import type { PreparedScript } from './scriptRuntime.ts';

/** What the module of a script gives: globals by which it is told where and how far, and what it does. */
export interface ScriptExports {
  readonly memory: WebAssembly.Memory;
  /** Where the memory of the side that is worked on begins. */
  readonly base: { value: number };
  /** Steps that are left; the line at which there were none, 0 where that has not happened. */
  readonly steps: { value: number };
  readonly late: { value: number };
  /** Of a channel or a pair. */
  readonly start: () => void;
  readonly process: (frames: number) => void;
  /** Of a whole clip, with the addresses of its samples. */
  readonly sound: { value: number };
  readonly out: { value: number };
  readonly clip: () => void;
  /** Steps that must be left; those at which `clip` rests, and other than 0 where it does; samples that it has written. */
  readonly limit: { value: number };
  readonly rest: { value: number };
  readonly resting: { value: number };
  readonly written: { value: number };
}

/** A script with a memory of its own. */
export function instanceOf({ module, bytes }: Pick<PreparedScript, 'module' | 'bytes'>): ScriptExports {
  return new WebAssembly.Instance(module ?? new WebAssembly.Module(bytes)).exports as unknown as ScriptExports;
}
