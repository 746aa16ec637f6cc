import { gainToDecibels } from '../dsp/portableMath.ts';
import { frameCount, type Clip } from '../model/clip.ts';
import { LoudnessMeter } from './loudness.ts';
import { TruePeakMeter } from './truePeak.ts';

/** What is kept about every sound. Levels are −Infinity for silence. */
export interface Measures {
  /** Sample peak, dBFS. */
  readonly peak: number;
  /** True peak, dBTP. */
  readonly truePeak: number;
  /** Integrated loudness, LUFS. */
  readonly loudness: number;
}

/** Measures a sound as it streams by. */
export class MeasureStream {
  private peak = 0;
  private readonly truePeak: TruePeakMeter | undefined;
  private readonly loudness: LoudnessMeter;

  /** The true peak costs as much as all the rest; without it, it is given as the sample peak. */
  constructor(sampleRate: number, channels: number, withTruePeak = true) {
    this.truePeak = withTruePeak ? new TruePeakMeter(channels) : undefined;
    this.loudness = new LoudnessMeter(sampleRate, channels);
  }

  process(channels: readonly Float32Array[], frames: number): void {
    for (const samples of channels) {
      for (let i = 0; i < frames; i++) {
        const size = Math.abs(samples[i]);
        if (size > this.peak) this.peak = size;
      }
    }
    this.truePeak?.process(channels, frames);
    this.loudness.process(channels, frames);
  }

  finish(): Measures {
    this.truePeak?.finish();
    return {
      peak: gainToDecibels(this.peak),
      truePeak: gainToDecibels(this.truePeak?.take() ?? this.peak),
      loudness: this.loudness.integrated(),
    };
  }
}

/** Frames measured between two moments in which whoever drives the work may breathe or give up. */
const STEP = 1 << 16;

/** Measures a clip step by step. */
export function* measureInSteps(clip: Clip, withTruePeak = true): Generator<void, Measures, void> {
  const stream = new MeasureStream(clip.sampleRate, clip.channels.length, withTruePeak);
  const frames = frameCount(clip);
  for (let from = 0; from < frames; from += STEP) {
    const to = Math.min(frames, from + STEP);
    stream.process(
      clip.channels.map((samples) => samples.subarray(from, to)),
      to - from,
    );
    yield;
  }
  return stream.finish();
}

export function measureClip(clip: Clip, withTruePeak = true): Measures {
  const work = measureInSteps(clip, withTruePeak);
  for (;;) {
    const { done, value } = work.next();
    if (done) return value;
  }
}
