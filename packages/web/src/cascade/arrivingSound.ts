import { OutlineStream, type Outline } from '@hexenkessel/core/analysis';
import { refuseLongClip, type SoundReader } from '@hexenkessel/core/formats';
import type { Clip } from '@hexenkessel/core/model';

const PIECE_FRAMES = 65536;

/**
 * A sound that is being read into memory which all threads see: what has arrived can be played and drawn while the rest
 * still comes; that is silent as yet.
 */
export class ArrivingSound {
  readonly clip: Clip;
  /** All of it. */
  readonly whole: Promise<Clip>;
  /** Called after each piece. */
  onPiece: () => void = () => undefined;
  private frames = 0;
  private readonly stream: OutlineStream;
  private waiting: { readonly frame: number; readonly go: () => void }[] = [];

  /** InputError when it is longer than a clip may be. */
  constructor(reader: SoundReader) {
    const { frames, channels, sampleRate } = reader;
    refuseLongClip(frames, channels);
    this.clip = {
      sampleRate,
      origin: 0,
      channels: Array.from(
        { length: channels },
        () => new Float32Array(new SharedArrayBuffer(frames * Float32Array.BYTES_PER_ELEMENT)),
      ),
    };
    this.stream = new OutlineStream(0, frames, channels);
    this.whole = this.read(reader);
  }

  /** Frames that are there. */
  get arrived(): number {
    return this.frames;
  }

  /** What it looks like so far. */
  get outline(): Outline {
    return this.stream.soFar();
  }

  /** Waits until it is there up to a frame, or to its end. */
  async until(frame: number): Promise<void> {
    const reached = new Promise<void>((go) => {
      if (frame <= this.frames) go();
      else this.waiting.push({ frame, go });
    });
    await Promise.race([reached, this.whole]);
  }

  private async read(reader: SoundReader): Promise<Clip> {
    const { channels } = this.clip;
    for (let from = 0; from < reader.frames; from += PIECE_FRAMES) {
      const piece = await reader.read(from, Math.min(PIECE_FRAMES, reader.frames - from));
      piece.forEach((samples, c) => channels[c].set(samples, from));
      this.stream.take(piece, 0, piece[0].length, from);
      this.frames = from + piece[0].length;
      this.waiting = this.waiting.filter(({ frame, go }) => {
        if (frame > this.frames) return true;
        go();
        return false;
      });
      this.onPiece();
    }
    this.stream.finish();
    return this.clip;
  }
}
