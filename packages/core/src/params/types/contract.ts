/** What a type of parameter is: how its values are written, read, checked, worked out and passed between. */
import type { z } from 'zod';
import type { Breakpoints, Curve } from '../../modulation/curve.ts';
import type { Note } from '../../modulation/notes.ts';
import type { Meter, RateValue, Timing, TimeValue } from '../../timing/tempo.ts';

/** What schemas are made of, handed in where one is made: the audio thread does without it. */
export type Schemas = Pick<typeof z, 'array' | 'boolean' | 'enum' | 'number' | 'strictObject' | 'string' | 'union'>;

/** Another sound that a stage uses: by its content where that is known, else by its name; an empty name for none. */
export interface SoundRef {
  readonly sound: string;
  readonly sha256?: string | undefined;
  /** Instead of a sound: the id of a branch that comes before the one it is used in. */
  readonly branch?: string | undefined;
}

/** What may stand in a chain's `settings` for one parameter. */
export type SettingValue =
  TimeValue | RateValue | string | boolean | SoundRef | Curve | readonly number[] | readonly Note[];

export type Settings = Readonly<Record<string, SettingValue>>;

/** A value worked out under a tempo and a sample rate. */
export type Resolved = number | string | boolean | Breakpoints | readonly number[] | readonly Note[];

export interface ParamText {
  /** Name on the row; made from the key when left out. */
  readonly label?: string;
  /** One or two sentences: what is heard when it rises. */
  readonly doc: string;
  /** Whether it does anything, with these settings; always when left out. */
  readonly heard?: (settings: Settings) => boolean;
}

/** What every parameter whose values are numbers declares. */
export interface NumericParam extends ParamText {
  /** Least and greatest value in the canonical unit, after the tempo is applied. */
  readonly min: number;
  readonly max: number;
  /** How the value spreads over the row's scale. */
  readonly curve: 'linear' | 'log';
  /** True when a new value needs a new processor, which is faded in; such a value cannot be moved by anything. */
  readonly fixed?: boolean;
  /** The end of the range at which it does nothing: there it is written, and may be typed, as `off`. */
  readonly off?: 'min' | 'max';
}

/** What is declared of a number: the curve may be left out. */
export type Scaled<V> = ParamText & {
  readonly default: V;
  readonly min: number;
  readonly max: number;
  readonly curve?: 'linear' | 'log';
  readonly fixed?: boolean;
  readonly off?: 'min' | 'max';
};

/** One type of parameter. `P` are the parameters of that type, `V` what may be set for them. */
export interface ParamType<P, V extends SettingValue> {
  /** What its values come to: seconds, hertz, … */
  readonly unit: string;
  /** True where values are numbers on a scale. */
  readonly scaled: boolean;
  /** The value in its canonical unit under a tempo and sample rate. */
  resolve(param: P, value: V, timing: Timing, sampleRate: number): Resolved;
  /** The exact written form of a value. */
  print(param: P, value: V): string;
  /** Reads what a user typed. InputError with what is allowed. The range is checked where the tempo is known. */
  parse(param: P, text: string, meter?: Meter): V;
  /** The range in words: `100 ms to 60 s`. */
  range(param: P): string;
  /** What a chain file may hold. */
  schema(param: P, z: Schemas): z.ZodType;
  /** A value on the way from one to another, `share` 0…1 exclusive. */
  blend(param: P, from: V, to: V, share: number, timing: Timing): SettingValue;
}
