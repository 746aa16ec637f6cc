import type { ChainDocument } from '../chain/schema.ts';
import type { Clip } from '../engine/clip.ts';
import { renderTimeReference } from './placement.ts';
import { encodeWav, type WavDepth } from './wav/writer.ts';

export interface RenderedWav {
  readonly clip: Clip;
  readonly depth: WavDepth;
  readonly name: string;
  readonly chain: ChainDocument;
  /** Which version of the chain made it, in words; empty for a chain file. */
  readonly version: string;
  /** Where the source lies, in frames from midnight. */
  readonly sourceTimeReference: number;
}

/** A render as a WAV file that knows its place, its name and the chain it was made with. */
export function encodeRender({
  clip,
  depth,
  name,
  chain,
  version,
  sourceTimeReference,
}: RenderedWav): Generator<Uint8Array> {
  return encodeWav(clip, {
    depth,
    timeReference: renderTimeReference(sourceTimeReference, clip.origin),
    info: { name, comment: ['Made with the chain', chain.name, version].filter(Boolean).join(' ') },
  });
}
