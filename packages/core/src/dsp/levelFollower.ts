import { exp } from './portableMath.ts';

/**
 * Follows the level of a sound: rises with the attack, falls with the release, the two one behind the other, so that a
 * steady tone is followed at its peak (D. Giannoulis, M. Massberg & J. Reiss, "Digital dynamic range compressor design",
 * 2012: smooth decoupled peak detector). Or, for its power, the square of the level. Allocates nothing once made.
 */
export class LevelFollower {
  private readonly sampleRate: number;
  private held = 0;
  private level = 0;
  private attack = NaN;
  private release = NaN;
  private attackStep = 1;
  private releaseKeep = 0;

  constructor(sampleRate: number) {
    this.sampleRate = sampleRate;
  }

  reset(): void {
    this.held = 0;
    this.level = 0;
  }

  /**
   * Writes the level of the louder channel, frame by frame; times in seconds to 63 % of the way. With `power` it is the
   * mean square that is followed, and its root that is written.
   */
  process(
    input: readonly Float32Array[],
    into: Float64Array,
    frames: number,
    attack: number,
    release: number,
    power = false,
  ): void {
    if (attack !== this.attack || release !== this.release) {
      this.attack = attack;
      this.release = release;
      this.attackStep = 1 - exp(-1 / Math.max(1, attack * this.sampleRate));
      this.releaseKeep = exp(-1 / Math.max(1, release * this.sampleRate));
    }
    const step = this.attackStep;
    const keep = this.releaseKeep;
    const left = input[0];
    const right = input[input.length - 1];
    let held = this.held;
    let level = this.level;
    for (let i = 0; i < frames; i++) {
      const a = left[i] < 0 ? -left[i] : left[i];
      const b = right[i] < 0 ? -right[i] : right[i];
      let now = a > b ? a : b;
      if (power) {
        now *= now;
        level += step * (now - level);
        held = level > held ? level : level + keep * (held - level);
        into[i] = Math.sqrt(held);
      } else {
        held = now > held ? now : now + keep * (held - now);
        level += step * (held - level);
        into[i] = level;
      }
    }
    this.held = held < 1e-20 ? 0 : held;
    this.level = level < 1e-20 ? 0 : level;
  }
}
