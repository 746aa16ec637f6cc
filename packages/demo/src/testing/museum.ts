/** The museum's sounds as clips, and what its chains name. */
import { readFile } from 'node:fs/promises';
import type { Clip } from '@hexenkessel/core/model';
import { BUILT_INS } from '@hexenkessel/core/stages';
import type { ChainDocument } from '@hexenkessel/core/chain';
import { bankOf, soundUses, type SoundBank } from '@hexenkessel/core/engine';
import { WavReader, bytesInMemory } from '@hexenkessel/core/formats';
import { DEMO_SOUNDS, type DemoSound } from '../index.ts';

export const clipOf = async (sound: DemoSound): Promise<Clip> =>
  'create' in sound
    ? sound.create()
    : (await WavReader.open(bytesInMemory(new Uint8Array(await readFile(sound.file))))).readClip();

/** The sounds that a chain names. */
export async function bankFor(chain: ChainDocument): Promise<SoundBank> {
  const named = await Promise.all(
    soundUses(BUILT_INS, chain).map(async ({ ref }) => {
      const sound = DEMO_SOUNDS.find(({ name }) => name === ref.sound);
      if (!sound) throw new Error(`${chain.name} names "${ref.sound}", which is none of the museum's sounds`);
      return { name: sound.name, sha256: sound.name, clip: await clipOf(sound) };
    }),
  );
  return bankOf(named);
}
