/** What a head that is no clip says, as a sound that can be rendered. */
import type { Catalogue } from '../../catalogue/catalogue.ts';
import type { ChainDocument } from '../../chain/schema.ts';
import type { HeadVoice, PlannedHead } from '../../heads/contract.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import type { Clip } from '../../model/clip.ts';
import { InputError } from '../../model/errors.ts';
import type { FrameSource } from '../../model/frameSource.ts';
import { refuseTooLong } from './overhang.ts';

/** InputError with the reason when a chain can be played and not rendered. */
export function refusePlayedOnly(catalogue: Catalogue, chain: ChainDocument): void {
  const { title, playedOnly } = catalogue.headOf(chain.head);
  if (playedOnly !== undefined)
    throw new InputError(`A chain that begins with “${title}” is played and cannot be rendered: ${playedOnly}.`);
}

/** A bounded head read from its first frame to its last. Pieces have to be asked for in order. */
export class HeadSource implements FrameSource {
  readonly sampleRate: number;
  readonly channels: number;
  readonly frames: number;
  private readonly voice: HeadVoice;
  /** Frames that the voice has been read for. */
  private at: number;

  constructor(catalogue: Catalogue, planned: PlannedHead) {
    const head = catalogue.headOf(planned);
    this.sampleRate = planned.sampleRate;
    this.frames = head.frames(planned);
    this.channels = head.channels(planned);
    refuseTooLong(this.frames, this.channels, head.title);
    this.voice = head.create(planned, BLOCK_FRAMES);
    // What is late is asked for as much before.
    this.at = 0;
    this.skip(this.voice.latency);
  }

  read(from: number, count: number): Promise<Float32Array[]> {
    return Promise.resolve(this.readNow(from, count));
  }

  /** All of it. */
  clip(): Clip {
    return { sampleRate: this.sampleRate, origin: 0, channels: this.readNow(0, this.frames) };
  }

  private readNow(from: number, count: number): Float32Array[] {
    if (from !== this.at - this.voice.latency) throw new Error('A head is read in order.');
    const out = Array.from({ length: this.channels }, () => new Float32Array(count));
    for (let done = 0; done < count;) {
      const piece = Math.min(BLOCK_FRAMES, count - done);
      this.voice.read(this.at, 0, piece);
      for (const [c, samples] of out.entries()) samples.set(this.voice.output[c].subarray(0, piece), done);
      this.at += piece;
      done += piece;
    }
    return out;
  }

  private skip(frames: number): void {
    for (; this.at < frames;) {
      const piece = Math.min(BLOCK_FRAMES, frames - this.at);
      this.voice.read(this.at, 0, piece);
      this.at += piece;
    }
  }
}
