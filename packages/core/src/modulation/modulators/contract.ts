import type { Random } from '../../dsp/random.ts';
import type { Clip, Span } from '../../model/clip.ts';
import type { BlockValues, ResolvedValues } from '../../stages/contract.ts';
import type { Params } from '../../params/params.ts';
import type { PhaseAccumulator } from './phaseAccumulator.ts';

/** Frames between two values of a modulator; between them it moves in a straight line. */
export const CONTROL_FRAMES = 32;

/** For those that hear nothing. */
export const NO_INPUT: readonly Float32Array[] = [];

/** The range a modulator moves in: −1…1 around the setting, or 0…1 from it. */
export type Polarity = 'both' | 'up';

export interface ModulatorContext {
  readonly sampleRate: number;
  readonly seed: number;
  readonly random: Random;
  /** Where the source lies, in frames of the timeline. */
  readonly span: Span;
  /** The sounds that its parameters name; undefined where one is not there. */
  readonly sounds: Readonly<Record<string, Clip | undefined>>;
  /** True for a parameter that something moves. */
  moves(key: string): boolean;
}

/**
 * A modulator at work. It is asked for its value every CONTROL_FRAMES frames. What depends on nothing but the place on
 * the timeline is worked out from it, so that it is the same wherever playing begins. Takes no memory once made.
 */
export interface ModulatorProcessor<P extends Params> {
  /** The latest values, left and right. */
  readonly output: Float64Array;
  /** Where it goes round: how far it has come. */
  readonly turns?: PhaseAccumulator;
  /** Makes it as it is where a run begins: `output` holds its value at that place of the timeline. */
  start(position: number, values: BlockValues<P>): void;
  /**
   * Moves on by `frames` ≤ CONTROL_FRAMES from `position`: hears the input's frames from `at` on; `output` then holds the
   * value at the end.
   */
  advance(input: readonly Float32Array[], at: number, frames: number, position: number, values: BlockValues<P>): void;
}

/** What a kind of modulator is: its words, its parameters, its processor. */
export interface Modulator<P extends Params = Params> {
  readonly kind: string;
  readonly title: string;
  /** One sentence: how it moves. */
  readonly summary: string;
  readonly keywords: readonly string[];
  readonly polarity: Polarity;
  readonly params: P;
  /** True when left and right move differently with these words and numbers. */
  parts?(values: ResolvedValues<P>): boolean;
  /** Key of the parameter that, as soon as it is moved itself, may part left and right. */
  readonly partsMovedBy?: string;
  /** Key of the parameter that says how often it goes round, where it does. */
  readonly turnsBy?: string;
  /** True when it listens to the sound that is played. */
  hears?(values: ResolvedValues<P>): boolean;
  create(context: ModulatorContext, values: ResolvedValues<P>): ModulatorProcessor<P>;
}

/** Declares a modulator; the parameters' types flow into its processor. */
export function defineModulator<const P extends Params>(modulator: Modulator<P>): Modulator {
  return modulator as unknown as Modulator;
}
