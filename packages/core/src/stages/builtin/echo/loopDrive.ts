import { TAU, exp } from '../../../dsp/portableMath.ts';
import { saturate } from '../../../dsp/saturate.ts';

/** Seconds in which the height that the curve is fitted to falls to a third, and over which powers are compared. */
const RELEASE_SECONDS = 0.01;
const POWER_SECONDS = 0.05;
const DC_CUT = 12; // Hz
const NOTHING = 1e-12;

/**
 * Saturation in a loop: bends what is loud and leaves what is soft as it is. A curve with a fixed ceiling would take from
 * every loud repeat; here it is stretched to the height that the wave has just now, and what the bend then adds to its
 * power, beside that height, is taken off again. So repeats get rougher and neither fainter nor louder, and nothing grows
 * in the loop. What the bend adds is without DC offset and what lies near it. Mono; allocates nothing once made.
 */
export class LoopDrive {
  private readonly release: number;
  private readonly keep: number;
  private readonly straight: Float64Array;
  /** The height of the wave, and what the curve makes of it. */
  private readonly heights: Float64Array;
  private readonly bent: Float64Array;
  private height = 0;
  /** Mean squares in shares of the height, before and behind the bend. */
  private before = 0;
  private behind = 0;
  private mean = 0;
  private readonly meanStep: number;

  constructor(sampleRate: number, maxFrames: number) {
    this.release = exp(-1 / (RELEASE_SECONDS * sampleRate));
    this.keep = exp(-1 / (POWER_SECONDS * sampleRate));
    this.meanStep = 1 - exp((-TAU * DC_CUT) / sampleRate);
    this.straight = new Float64Array(maxFrames);
    this.heights = new Float64Array(maxFrames);
    this.bent = new Float64Array(maxFrames);
  }

  reset(): void {
    this.height = 0;
    this.before = 0;
    this.behind = 0;
    this.mean = 0;
  }

  /** In place; the drive, 1 or more, moves in a straight line. */
  process(samples: Float64Array, frames: number, drive: number, driveEnd: number): void {
    const { straight, heights, bent, release, keep, meanStep } = this;
    let { height, before, behind, mean } = this;
    for (let i = 0; i < frames; i++) {
      const x = samples[i];
      const size = x < 0 ? -x : x;
      height *= release;
      if (size > height) height = size;
      straight[i] = x;
      heights[i] = height;
      bent[i] = height;
    }
    saturate(samples, frames, drive, driveEnd);
    saturate(bent, frames, drive, driveEnd);
    for (let i = 0; i < frames; i++) {
      const x = straight[i] / (heights[i] + NOTHING);
      const y = samples[i] / (bent[i] + NOTHING);
      before = keep * before + (1 - keep) * x * x;
      behind = keep * behind + (1 - keep) * y * y;
      const added = y * heights[i] * Math.sqrt((before + NOTHING) / (behind + NOTHING)) - straight[i];
      mean += meanStep * (added - mean);
      samples[i] = straight[i] + added - mean;
    }
    this.mean = mean < NOTHING && mean > -NOTHING ? 0 : mean;
    this.height = height < NOTHING ? 0 : height;
    this.before = before < NOTHING ? 0 : before;
    this.behind = behind < NOTHING ? 0 : behind;
  }
}
