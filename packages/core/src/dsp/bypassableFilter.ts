import { log } from './portableMath.ts';
import { constant, type Ramp } from '../model/ramp.ts';
import { StateVariableFilter } from './stateVariableFilter.ts';

/** Octaves from the end of its range over which a cut comes into effect. */
const ONSET_OCTAVES = 0.25;
const LONGEST = 128;

/**
 * A cut, 12 dB an octave, that does nothing at the end of its range and comes into effect just beside it, so that "off" is
 * no special case and can be turned to without a click.
 */
export class BypassableFilter {
  private readonly filter: StateVariableFilter;
  private readonly passes: 'low' | 'high';
  /** Where it does nothing, in Hz. */
  private readonly off: number;
  private readonly effect: Ramp = constant(0);
  /** The frequencies that the effect was worked out for. */
  private readonly known: Ramp = constant(-1);
  private readonly uncut = new Float64Array(LONGEST);

  constructor(passes: 'low' | 'high', off: number, sampleRate: number) {
    this.filter = new StateVariableFilter(sampleRate);
    this.passes = passes;
    this.off = off;
  }

  reset(): void {
    this.filter.reset();
  }

  /** Cuts up to 128 frames in place. */
  process(samples: Float64Array, frames: number, frequency: Ramp): void {
    const { effect, uncut } = this;
    this.takeEffect(frequency);
    const start = effect.start;
    const end = effect.end;
    if (start === 0 && end === 0) return;
    for (let i = 0; i < frames; i++) uncut[i] = samples[i];
    this.filter.process(samples, frames, this.passes, frequency);
    if (start === 1 && end === 1) return;
    const step = (end - start) / frames;
    for (let i = 0; i < frames; i++) samples[i] = uncut[i] + (start + i * step) * (samples[i] - uncut[i]);
  }

  private takeEffect(frequency: Ramp): void {
    const { known, effect } = this;
    if (frequency.start === known.start && frequency.end === known.end) return;
    known.start = frequency.start;
    known.end = frequency.end;
    effect.start = this.effectOf(frequency.start);
    effect.end = this.effectOf(frequency.end);
  }

  private effectOf(frequency: number): number {
    const ratio = this.passes === 'high' ? frequency / this.off : this.off / frequency;
    return Math.max(0, Math.min(1, log(ratio) / log(2) / ONSET_OCTAVES));
  }
}
