/** A sound that is read piece by piece. */
export interface FrameSource {
  readonly sampleRate: number;
  readonly channels: number;
  readonly frames: number;
  /** `count` frames from frame `from`, one array a channel. */
  read(from: number, count: number): Promise<Float32Array[]>;
}
