import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { InputError } from '@hexenkessel/core/model';
import { BUILT_INS } from '@hexenkessel/core/stages';
import type { ChainDocument } from '@hexenkessel/core/chain';
import { bankOf, soundUses, type SoundBank } from '@hexenkessel/core/engine';
import { withSoundFile } from '../files.ts';

/** The sounds given for what the chain names; says on the error output what is missing. */
export async function readSounds(given: readonly string[], chain: ChainDocument): Promise<SoundBank> {
  const sounds = await Promise.all(
    given.map(async (text) => {
      const cut = text.indexOf('=');
      if (cut < 1) throw new InputError(`"${text}" names no sound; write name=file.wav, such as "Wind harp=harp.wav".`);
      const path = text.slice(cut + 1);
      const clip = await withSoundFile(path, (reader) => reader.readClip());
      return {
        name: text.slice(0, cut),
        sha256: createHash('sha256')
          .update(await readFile(path))
          .digest('hex'),
        clip,
      };
    }),
  );
  // A file given by name stands in for whatever the chain means by that name.
  const bank: SoundBank = (ref) => bankOf(sounds)(ref) ?? bankOf(sounds)({ sound: ref.sound });
  for (const { owner, label, ref } of soundUses(BUILT_INS, chain)) {
    if (bank(ref)) continue;
    console.error(
      `${owner}: the ${label} "${ref.sound}" is missing, so it works without. Give it with --sound "${ref.sound}=file.wav".`,
    );
  }
  return bank;
}
