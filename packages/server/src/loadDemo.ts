import { createReadStream } from 'node:fs';
import { Readable } from 'node:stream';
import { DEMO_CHAINS, DEMO_SOUNDS } from '@hexenkessel/demo';
import { encodeWav } from '@hexenkessel/core';
import type { Services } from './app.ts';

/** Fills an empty store with the Fog Museum's sounds and presets. Does nothing when there is a sound already. */
export async function loadDemo({ sounds, intake, chains }: Services): Promise<boolean> {
  if ((await sounds.count()) > 0) return false;
  // Backwards, so that the first of the list is the newest and stands first.
  for (const sound of [...DEMO_SOUNDS].reverse()) {
    const bytes =
      'file' in sound
        ? createReadStream(sound.file)
        : Readable.from(encodeWav(sound.create(), { depth: '24', info: { name: sound.name } }));
    await intake.take(sound.name, bytes);
  }
  for (const document of [...DEMO_CHAINS].reverse()) {
    const { id, revision } = await chains.create(document);
    await chains.saveVersion(id, revision, document, 'Made for the museum');
  }
  return true;
}
