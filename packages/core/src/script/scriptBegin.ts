import { instanceOf } from './scriptInstance.ts';
import type { PreparedScript } from './scriptRuntime.ts';

/** Steps that making it ready may take. */
export const STEPS_TO_START = 1e7;
/** Making a script ready that takes more is done ahead: a table of a few thousand places, some 50 µs. */
const MANY_STEPS = 20_000;

/**
 * The memory of the sides of a script that was made ready, up to the last byte that is not 0. Undefined where that takes no time to speak
 * of, differs each time, as with noise, or does not come to an end.
 */
export function begunMemory(prepared: PreparedScript): Uint8Array<ArrayBuffer> | undefined {
  const { facts } = prepared;
  if (facts.noise !== undefined) return undefined;
  const { memory, base, steps, late, start } = instanceOf(prepared);
  let most = 0;
  for (const address of facts.bases) {
    base.value = address;
    steps.value = STEPS_TO_START;
    start();
    most = Math.max(most, STEPS_TO_START - steps.value);
  }
  if (late.value !== 0 || most < MANY_STEPS) return undefined;
  const bytes = new Uint8Array(memory.buffer, facts.bases[0]);
  return bytes.slice(0, 1 + bytes.findLastIndex((byte) => byte !== 0));
}
