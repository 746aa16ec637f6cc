import type { FrameSource } from '../../model/frameSource.ts';
import type { ChunkedClip } from '../../stages/contract.ts';

/** A clip in pieces as a sound that is read from its beginning to its end. */
export class ChunkedSource implements FrameSource {
  readonly sampleRate: number;
  readonly channels: number;
  readonly frames: number;
  private readonly pieces: Generator<Float32Array[], void>;
  private left: Float32Array[] | undefined;

  constructor(pieced: ChunkedClip, sampleRate: number, channels: number) {
    this.pieces = pieced.pieces();
    this.frames = pieced.frames;
    this.sampleRate = sampleRate;
    this.channels = channels;
  }

  async read(_from: number, count: number): Promise<Float32Array[]> {
    const out = Array.from({ length: this.channels }, () => new Float32Array(count));
    for (let at = 0; at < count;) {
      const piece = this.left ?? this.pieces.next().value;
      if (!piece) break;
      const taken = Math.min(count - at, piece[0].length);
      piece.forEach((samples, c) => out[c].set(samples.subarray(0, taken), at));
      this.left = taken < piece[0].length ? piece.map((samples) => samples.subarray(taken)) : undefined;
      at += taken;
    }
    return out;
  }
}
