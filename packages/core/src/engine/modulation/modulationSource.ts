import type { Span } from '../../model/clip.ts';
import type { Polarity } from '../../modulation/modulators/contract.ts';

/** A modulator at work, as far as what it moves needs to know it. */
export interface Mover {
  readonly polarity: Polarity;
  /** Left and right: rings of values, as far back as the latest stage hears them. */
  readonly kept: readonly [Float64Array, Float64Array];
}

/** Where what is moved hears modulators: the bus, seen from its listeners. */
export interface ModulationSource {
  readonly sampleRate: number;
  /** Where the source lies, in frames of the timeline. */
  readonly span: Span;
  find(id: string): Mover | undefined;
  /** A modulator's value on a side at a place of the timeline. */
  value(mover: Mover, side: number, position: number): number;
}
