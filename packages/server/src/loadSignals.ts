import { Readable } from 'node:stream';
import { TEST_SIGNALS } from '@hexenkessel/core/analysis';
import { encodeWav } from '@hexenkessel/core/formats';
import type { Services } from './app.ts';

/** Puts the test signals that are not there yet into the store. */
export async function loadSignals({ sounds, intake }: Services): Promise<void> {
  for (const { id, name, create } of TEST_SIGNALS) {
    if (await sounds.hasSignal(id)) continue;
    await intake.take(name, Readable.from(encodeWav(create(), { depth: '32f', info: { name } })), { signal: id });
  }
}
