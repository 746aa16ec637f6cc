import { BetweenReader } from './resample.ts';

/**
 * A sound at another rate, piece by piece and in bounded memory: the same samples as `resample` makes of all of it at once.
 * Give every piece to `push`, then take what `finish` gives.
 */
export class ResampleStream {
  private readonly ratio: number;
  private readonly reader: BetweenReader;
  /** Frames that are read on either side of a place, and one more for a place at a frame. */
  private readonly reach: number;
  /** Frames of the sound that may still be read; the first of them is frame `base` of the sound. */
  private held = new Float32Array(0);
  private base = 0;
  private written = 0;

  /** `ratio`: the new rate by the old one. */
  constructor(ratio: number) {
    this.ratio = ratio;
    this.reader = new BetweenReader(ratio, 1 / ratio);
    this.reach = this.reader.reach + 1;
  }

  /** What comes of a piece that follows those before; it may be nothing yet. */
  push(piece: Float32Array): Float32Array {
    const joined = new Float32Array(this.held.length + piece.length);
    joined.set(this.held);
    joined.set(piece, this.held.length);
    this.held = joined;
    const known = this.base + joined.length;
    return this.write(Math.max(this.written, Math.floor((known - this.reach) * this.ratio)));
  }

  /** What is left when the sound has ended. */
  finish(): Float32Array {
    const frames = this.base + this.held.length;
    return this.write(frames === 0 ? 0 : Math.max(1, Math.round(frames * this.ratio)));
  }

  /** All frames up to one of the new rate; what none of the later ones needs is let go of. */
  private write(end: number): Float32Array {
    const out = new Float32Array(end - this.written);
    // Taken from a place, a whole number of frames leaves its fraction as it is.
    for (let i = 0; i < out.length; i++)
      out[i] = this.reader.read(this.held, (this.written + i) / this.ratio - this.base);
    this.written = end;
    const done = Math.min(this.held.length, Math.floor(end / this.ratio) - this.reach - this.base);
    if (done > 0) {
      this.held = this.held.slice(done);
      this.base += done;
    }
    return out;
  }
}

/** Pieces of a sound of some channels, at another rate. */
export async function* resampled(
  pieces: AsyncIterable<Float32Array[]>,
  channels: number,
  ratio: number,
): AsyncGenerator<Float32Array[]> {
  const streams = Array.from({ length: channels }, () => new ResampleStream(ratio));
  for await (const piece of pieces) {
    const out = streams.map((stream, side) => stream.push(piece[side]));
    if (out[0].length > 0) yield out;
  }
  const last = streams.map((stream) => stream.finish());
  if (last[0].length > 0) yield last;
}
