/** Samples as whole steps of 16 or 24 bits, and where they need dither for it. */
import { createRandom } from '../../dsp/random.ts';
import type { Clip, Span } from '../../model/clip.ts';

export type IntegerDepth = '16' | '24';

const DITHER_SEED = 0x5eed;

const fullScaleOf = (depth: IntegerDepth) => (depth === '16' ? 32768 : 8388608);

/**
 * Finds out where a sound needs dither to be written with so many bits. It is told apart by where its samples come from:
 * a stretch that was worked on gets dither throughout, unless every sample of it is a whole step already; so does what
 * lies before and behind it, which was only copied and keeps its integers wherever the file has room for them.
 */
export class DitherScan {
  private readonly fullScale: number;
  private readonly cuts: readonly number[];
  private readonly broken: boolean[];
  private frames = 0;

  /** `touched`: frames that were worked on; all of them when left out. */
  constructor(depth: IntegerDepth, touched?: Span | null) {
    this.fullScale = fullScaleOf(depth);
    this.cuts = touched ? [0, Math.max(0, touched.start), Math.max(0, touched.end)] : [0];
    this.broken = this.cuts.map(() => false);
  }

  add(samples: readonly Float32Array[]): void {
    const count = samples[0].length;
    this.cuts.forEach((cut, part) => {
      if (this.broken[part]) return;
      const from = Math.max(0, cut - this.frames);
      const to = Math.min(count, (this.cuts[part + 1] ?? Infinity) - this.frames);
      this.broken[part] = samples.some((side) => !isWhole(side, from, to, this.fullScale));
    });
    this.frames += count;
  }

  /** Spans of frames that need dither, in their order; none that touch. */
  finish(): Span[] {
    const spans: Span[] = [];
    this.cuts.forEach((cut, part) => {
      const end = Math.min(this.frames, this.cuts[part + 1] ?? this.frames);
      if (!this.broken[part] || cut >= end) return;
      const before = spans.at(-1);
      if (before?.end === cut) spans.splice(-1, 1, { start: before.start, end });
      else spans.push({ start: cut, end });
    });
    return spans;
  }
}

function isWhole(samples: Float32Array, from: number, to: number, fullScale: number): boolean {
  for (let i = from; i < to; i++) if (!Number.isInteger(samples[i] * fullScale)) return false;
  return true;
}

/** Where a sound in memory needs dither, in frames from its first. */
export function ditheredSpans({ channels, origin, touched }: Clip, depth: IntegerDepth): Span[] {
  const scan = new DitherScan(depth, touched && { start: touched.start - origin, end: touched.end - origin });
  scan.add(channels);
  return scan.finish();
}

/**
 * Rounds to whole steps, with triangular dither of ±1 step where it is needed (Lipshitz, Wannamaker & Vanderkooy,
 * "Quantization and dither", 1992), seeded, so the same samples give the same steps however they are cut.
 */
export class Quantiser {
  private readonly random = createRandom(DITHER_SEED);
  private readonly fullScale: number;
  private readonly dithered: readonly Span[];
  private frames = 0;

  /** `dithered`: where dither is needed; everywhere when left out. */
  constructor(depth: IntegerDepth, dithered: readonly Span[] = [{ start: 0, end: Infinity }]) {
    this.fullScale = fullScaleOf(depth);
    this.dithered = dithered;
  }

  /** The next frames, interleaved. */
  steps(samples: readonly Float32Array[]): Int32Array<ArrayBuffer> {
    const { random, fullScale } = this;
    const channels = samples.length;
    const count = samples[0].length;
    const steps = new Int32Array(count * channels);
    const write = (from: number, to: number, dither: boolean) => {
      for (let i = from, at = from * channels; i < to; i++)
        for (let c = 0; c < channels; c++, at++) {
          const step = Math.floor(samples[c][i] * fullScale + (dither ? random() - random() : 0) + 0.5);
          steps[at] = Math.min(fullScale - 1, Math.max(-fullScale, step));
        }
    };
    let at = 0;
    for (const span of this.dithered) {
      const start = Math.min(count, Math.max(at, span.start - this.frames));
      const end = Math.min(count, Math.max(start, span.end - this.frames));
      write(at, start, false);
      write(start, end, true);
      at = end;
    }
    write(at, count, false);
    this.frames += count;
    return steps;
  }
}
