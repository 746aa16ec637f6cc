import { createReadStream } from 'node:fs';
import { Readable } from 'node:stream';
import { DEMO_CHAINS, DEMO_SOUNDS } from '@hexenkessel/demo';
import { encodeWav } from '@hexenkessel/core/formats';
import type { Services } from './app.ts';

/**
 * Fills an empty store with the Fog Museum's sounds and presets; true when it did. A store that somebody has filled is left
 * alone. When it is broken off it goes on at the next start: sounds that are there are not taken again, and the chains
 * come all at once.
 */
export async function loadDemo({ sounds, intake, chains, state, transaction }: Services): Promise<boolean> {
  const before = await state.demo();
  if (before === 'done') return false;
  if (before === undefined) {
    const empty = (await sounds.count()) === 0 && (await chains.count()) === 0;
    await state.setDemo(empty ? 'begun' : 'done');
    if (!empty) return false;
  }
  // Backwards, so that the first of the list is the newest and stands first.
  for (const sound of [...DEMO_SOUNDS].reverse()) {
    const bytes =
      'file' in sound
        ? createReadStream(sound.file)
        : Readable.from(encodeWav(sound.create(), { depth: '24', info: { name: sound.name } }));
    await intake.take(sound.name, bytes);
  }
  await transaction(async (within) => {
    for (const document of [...DEMO_CHAINS].reverse()) await chains.addKept(document, 'Made for the museum', within);
    await state.setDemo('done', within);
  });
  return true;
}
