import { BUILT_INS } from '../catalogue/builtIns.ts';
import { parseChainText } from '../chain/validate.ts';
import { finishRender, renderChain } from '../engine/offline/renderer.ts';
import { bytesInMemory } from './common/byteSource.ts';
import { openSound } from './decoding/decodeSound.ts';
import { timeReferenceOf } from './placement.ts';
import { encodeRender } from './renderedWav.ts';
import { join } from './wav/chunks.ts';
import type { WavDepth } from './wav/writer.ts';

export interface RenderBytesOptions {
  /** Sample format of the result; 24 bits when left out. */
  readonly depth?: WavDepth;
  /** What the file calls itself; the chain's name when left out. */
  readonly name?: string;
}

/**
 * Renders a sound through a chain: `chain` is the text of a chain file, `sound` a whole WAV, AIFF, FLAC, Ogg Vorbis, Opus
 * or MP3 file. Gives a whole WAV file, with its time reference, as the command line writes it. Sounds that the chain
 * names are missing here, see the doors `chain`, `engine` and `formats` for those. InputError says what is wrong with
 * either.
 */
export async function renderBytes(
  chain: string,
  sound: Uint8Array,
  { depth = '24', name }: RenderBytesOptions = {},
): Promise<Uint8Array> {
  // Only who has scripts needs what reads them.
  if (chain.includes('scripts')) (await import('../script/learnScripts.ts')).learnScripts();
  const document = parseChainText(BUILT_INS, chain);
  const reader = await openSound(bytesInMemory(sound));
  const clip = finishRender(renderChain(BUILT_INS, { chain: document, source: await reader.readClip() }));
  const pieces = encodeRender({
    clip,
    depth,
    name: name ?? document.name,
    chain: document,
    version: '',
    sourceTimeReference: timeReferenceOf(reader.timeReference, reader.sampleRate),
  });
  return join([...pieces]);
}
