import { frameCount, type Clip } from '../../model/clip.ts';
import { NO_MARKS, type SoundMarks } from '../common/soundMarks.ts';
import type { SoundReader } from '../wav/reader.ts';

const PIECE_FRAMES = 16_384;

/** A clip piece by piece. */
export function* piecesOf({ channels }: Clip): Generator<Float32Array[]> {
  for (let from = 0; from < channels[0].length; from += PIECE_FRAMES)
    yield channels.map((samples) => samples.subarray(from, from + PIECE_FRAMES));
}

/** A clip in memory, read as a file is. */
export class ClipReader implements SoundReader {
  readonly timeReference: number | undefined;
  readonly marks: SoundMarks;
  readonly format: string;
  private readonly clip: Clip;

  constructor(clip: Clip, format: string, timeReference?: number, marks: SoundMarks = NO_MARKS) {
    this.clip = clip;
    this.format = format;
    this.timeReference = timeReference;
    this.marks = marks;
  }

  get sampleRate(): number {
    return this.clip.sampleRate;
  }

  get channels(): number {
    return this.clip.channels.length;
  }

  get frames(): number {
    return frameCount(this.clip);
  }

  async read(from: number, count: number): Promise<Float32Array[]> {
    return this.clip.channels.map((samples) => samples.slice(from, from + count));
  }

  async readClip(): Promise<Clip> {
    return this.clip;
  }
}
