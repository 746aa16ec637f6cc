import { TAU, cos, sin } from './portableMath.ts';

/** A sine for slow movement, read once a block. Runs by rotation, so a block costs four multiplications. */
export class SlowOscillator {
  private x: number;
  private y: number;
  private readonly phase: number;
  private stepCos = 1;
  private stepSin = 0;
  private stepFrames = 0;
  private readonly radiansPerFrame: number;
  private fresh = true;

  /** `rate` in Hz, `phase` in turns. */
  constructor(rate: number, phase: number, sampleRate: number) {
    this.radiansPerFrame = (TAU * rate) / sampleRate;
    this.phase = TAU * phase;
    this.x = cos(this.phase);
    this.y = sin(this.phase);
  }

  /** Goes back to where it started. */
  reset(): void {
    this.x = cos(this.phase);
    this.y = sin(this.phase);
    this.fresh = true;
  }

  /**
   * Before its first block since it was made or reset: puts it where it would be had it run from frame 0 on.
   */
  begin(position: number): void {
    if (!this.fresh) return;
    this.fresh = false;
    if (position === 0) return;
    const angle = this.phase + this.radiansPerFrame * position;
    this.x = cos(angle);
    this.y = sin(angle);
  }

  /** The value now, −1…1. */
  get value(): number {
    return this.y;
  }

  /** Moves on by `frames`. */
  advance(frames: number): void {
    if (frames !== this.stepFrames) {
      this.stepFrames = frames;
      this.stepCos = cos(this.radiansPerFrame * frames);
      this.stepSin = sin(this.radiansPerFrame * frames);
    }
    const x = this.x * this.stepCos - this.y * this.stepSin;
    const y = this.y * this.stepCos + this.x * this.stepSin;
    // One Newton step towards unit length keeps rounding from adding up over hours.
    const correction = 1.5 - 0.5 * (x * x + y * y);
    this.x = x * correction;
    this.y = y * correction;
  }
}
