/**
 * The kinds of parameter a stage can declare. A declaration is the single source for the parameter's type, validation,
 * JSON Schema, row in the interface, command-line form, reference and sheet.
 */
import { InputError, shortened } from '../model/errors.ts';
import { inSeconds, type Curve } from '../modulation/curve.ts';
import { parseNotes, printNotes, type Note } from '../modulation/notes.ts';
import { parseCurve, printCurve, refuseLong } from '../modulation/writtenCurve.ts';
import {
  parseDegrees,
  parseFrequency,
  parseInterval,
  parseKey,
  parseLevel,
  parseNumber,
  parseRate,
  parseRatio,
  parseTime,
  printDegrees,
  printFrequency,
  printInterval,
  printKey,
  printLevel,
  printRate,
  printRatio,
  printTime,
} from '../timing/expressions.ts';
import { beatSeconds, type RateValue, resolveRate, resolveTime, type Timing, type TimeValue } from '../timing/tempo.ts';

/** What may stand in a chain's `settings` for one parameter. */
export type SettingValue =
  TimeValue | RateValue | string | boolean | SoundRef | Curve | readonly number[] | readonly Note[];

/** Another sound that a stage uses: by its content where that is known, else by its name; an empty name for none. */
export interface SoundRef {
  readonly sound: string;
  readonly sha256?: string | undefined;
  /** Instead of a sound: the id of a branch that comes before the one it is used in. */
  readonly branch?: string | undefined;
}

interface ParamText {
  /** Name on the row; made from the key when left out. */
  readonly label?: string;
  /** One or two sentences: what is heard when it rises. */
  readonly doc: string;
}

interface NumericParam extends ParamText {
  /** Least and greatest value in the canonical unit, after the tempo is applied. */
  readonly min: number;
  readonly max: number;
  /** How the value spreads over the row's scale. */
  readonly curve: 'linear' | 'log';
  /** True when a new value needs a new processor, which is faded in; such a value cannot be moved by anything. */
  readonly fixed?: boolean;
}

export interface TimeParam extends NumericParam {
  readonly type: 'time';
  readonly default: TimeValue;
}
export interface RateParam extends NumericParam {
  readonly type: 'rate';
  readonly default: RateValue;
}
export interface PlainParam extends NumericParam {
  readonly type: 'frequency' | 'level' | 'ratio' | 'semitones' | 'degrees' | 'number' | 'key';
  readonly default: number;
}
export interface ChoiceParam<C extends string = string> extends ParamText {
  readonly type: 'choice';
  readonly options: readonly C[];
  readonly default: C;
}
export interface ToggleParam extends ParamText {
  readonly type: 'toggle';
  readonly default: boolean;
  /** As for numbers. */
  readonly fixed?: boolean;
}

export interface SoundParam extends ParamText {
  readonly type: 'sound';
  readonly default: SoundRef;
  /** True when a branch may stand in its place. */
  readonly branches?: boolean;
}

/** A value drawn over the clip. */
export interface CurveParam extends ParamText {
  readonly type: 'curve';
  readonly unit: 'semitones' | 'ratio';
  readonly min: number;
  readonly max: number;
  readonly default: Curve;
}

/** Numbers in a row. */
export interface ListParam extends ParamText {
  readonly type: 'list';
  readonly unit: 'seconds' | 'whole' | 'plain';
  readonly min: number;
  readonly max: number;
  /** How many there may be. */
  readonly most: number;
  readonly default: readonly number[];
}

/** Played notes. */
export interface NotesParam extends ParamText {
  readonly type: 'notes';
  readonly default: readonly Note[];
}

export type ScaledParam = TimeParam | RateParam | PlainParam;
export type Param = ScaledParam | ChoiceParam | ToggleParam | SoundParam | CurveParam | ListParam | NotesParam;
export type Params = Readonly<Record<string, Param>>;

type Scaled<V> = ParamText & { default: V; min: number; max: number; curve?: 'linear' | 'log'; fixed?: boolean };

/** A length of time; canonical unit seconds. Can follow the tempo. */
export const time = (p: Scaled<TimeValue>): TimeParam => ({ type: 'time', curve: 'log', ...p });
/** A speed of movement; canonical unit hertz. Can follow the tempo. */
export const rate = (p: Scaled<RateValue>): RateParam => ({ type: 'rate', curve: 'log', ...p });
/** A place in the spectrum, in hertz. */
export const frequency = (p: Scaled<number>): PlainParam => ({ type: 'frequency', curve: 'log', ...p });
/** A level in decibels. */
export const level = (p: Scaled<number>): PlainParam => ({ type: 'level', curve: 'linear', ...p });
/** A share or factor, 1 = 100 %. */
export const ratio = (p: Omit<Scaled<number>, 'min' | 'max'> & { min?: number; max?: number }): PlainParam => ({
  type: 'ratio',
  curve: 'linear',
  min: 0,
  max: 1,
  ...p,
});
/** An angle in degrees. */
export const degrees = (p: Scaled<number>): PlainParam => ({ type: 'degrees', curve: 'linear', ...p });
/** An interval in semitones. */
export const semitones = (p: Scaled<number>): PlainParam => ({ type: 'semitones', curve: 'linear', ...p });
/** A note as its MIDI key, 60 for C4. */
export const key = (p: Scaled<number>): PlainParam => ({ type: 'key', curve: 'linear', ...p });
/** A plain number without a unit. */
export const number = (p: Scaled<number>): PlainParam => ({ type: 'number', curve: 'linear', ...p });
/** One of several words. */
export const choice = <const C extends string>(
  options: readonly C[],
  p: ParamText & { default: NoInfer<C> },
): ChoiceParam<C> => ({ type: 'choice', options, ...p });
/** On or off. */
export const toggle = (p: ParamText & { default: boolean; fixed?: boolean }): ToggleParam => ({ type: 'toggle', ...p });

/** Another sound; none at first. */
export const sound = (p: ParamText & { branches?: boolean }): SoundParam => ({
  type: 'sound',
  default: { sound: '' },
  ...p,
});

/** A value drawn over the clip. */
export const curve = (p: Omit<CurveParam, 'type'>): CurveParam => ({ type: 'curve', ...p });

/** Numbers in a row; none at first. */
export const list = (p: Omit<ListParam, 'type' | 'default'> & { default?: readonly number[] }): ListParam => ({
  type: 'list',
  default: [],
  ...p,
});

/** Played notes; none at first. */
export const notes = (p: ParamText & { default?: readonly Note[] }): NotesParam => ({
  type: 'notes',
  default: [],
  ...p,
});

const NOT_SCALED: readonly Param['type'][] = ['choice', 'toggle', 'sound', 'curve', 'list', 'notes'];

export function isScaled(param: Param): param is ScaledParam {
  return !NOT_SCALED.includes(param.type);
}

/** The value that stands for a branch in a sound's place. */
export const branchWord = (id: string): string => `branch ${id}`;

/** `preDelay` → `pre delay`, unless the declaration gives a label. */
export function labelOf(key: string, param: Param): string {
  return param.label ?? key.replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`);
}

/**
 * The value in its canonical unit under a tempo and sample rate. Choices, switches and lists stay as they are; a sound
 * becomes the text that stands for it, a curve over beats one over seconds.
 */
export function resolveSetting(
  param: Param,
  value: SettingValue,
  timing: Timing,
  sampleRate: number,
): number | string | boolean | Curve | readonly number[] | readonly Note[] {
  if (param.type === 'time') return resolveTime(value as TimeValue, timing, sampleRate);
  if (param.type === 'rate') return resolveRate(value as RateValue, timing);
  if (param.type === 'sound') {
    const { sound: name, sha256, branch } = value as SoundRef;
    return branch === undefined ? (sha256 ?? name) : branchWord(branch);
  }
  if (param.type === 'curve') return inSeconds(value as Curve, beatSeconds(timing));
  if (param.type === 'notes') {
    // Beats become seconds, as those of a curve.
    const beat = beatSeconds(timing);
    return (value as readonly Note[]).map((note) => ({ ...note, at: note.at * beat, length: note.length * beat }));
  }
  return value as number | string | boolean | readonly number[];
}

/** The exact written form of a value. */
export function printSetting(param: Param, value: SettingValue): string {
  switch (param.type) {
    case 'time':
      return printTime(value as TimeValue);
    case 'rate':
      return printRate(value as RateValue);
    case 'frequency':
      return printFrequency(value as number);
    case 'level':
      return printLevel(value as number);
    case 'ratio':
      return printRatio(value as number);
    case 'semitones':
      return printInterval(value as number);
    case 'degrees':
      return printDegrees(value as number);
    case 'key':
      return printKey(value as number);
    case 'toggle':
      return value === true ? 'on' : 'off';
    case 'sound':
      return (value as SoundRef).branch ? `branch ${(value as SoundRef).branch}` : (value as SoundRef).sound || 'none';
    case 'curve':
      return printCurve(value as Curve);
    case 'list':
      return (value as readonly number[]).join(' ') || 'none';
    case 'notes':
      return printNotes(value as readonly Note[]) || 'none';
    default:
      return String(value);
  }
}

/** Reads what a user typed for this parameter. The range is checked with the whole chain, where the tempo is known. */
export function parseSetting(param: Param, text: string): SettingValue {
  switch (param.type) {
    case 'time':
      return parseTime(text);
    case 'rate':
      return parseRate(text);
    case 'frequency':
      return parseFrequency(text);
    case 'level':
      return parseLevel(text);
    case 'ratio':
      return parseRatio(text);
    case 'semitones':
      return parseInterval(text);
    case 'degrees':
      return parseDegrees(text);
    case 'key':
      return parseKey(text);
    case 'number':
      return parseNumber(text);
    case 'toggle': {
      const word = text.trim().toLowerCase();
      if (word === 'on' || word === 'true') return true;
      if (word === 'off' || word === 'false') return false;
      throw new InputError(`"${shortened(text)}" is not allowed; write on or off.`);
    }
    case 'sound': {
      const branch = /^branch\s+(\S+)$/.exec(text.trim());
      if (branch && param.branches) return { sound: '', branch: branch[1] };
      return { sound: text.trim() === 'none' ? '' : text.trim() };
    }
    case 'curve':
      return parseCurve(text);
    case 'list':
      return parseList(text);
    case 'notes':
      return parseNotes(text);
    case 'choice': {
      const word = text.trim().toLowerCase();
      const found = param.options.find((option) => option.toLowerCase() === word);
      if (found === undefined)
        throw new InputError(`"${shortened(text)}" is not allowed; choose ${param.options.join(', ')}.`);
      return found;
    }
  }
}

function parseList(text: string): readonly number[] {
  refuseLong(text);
  const words = text
    .replaceAll('\u2212', '-')
    .split(/[\s,;]+/)
    .filter((word) => word !== '');
  if (words.length === 1 && words[0].toLowerCase() === 'none') return [];
  return words.map((word) => {
    const value = Number(word);
    if (!Number.isFinite(value))
      throw new InputError(`"${shortened(word)}" is not a number; write numbers with spaces between them, or none.`);
    return value;
  });
}

/** The parameter's range in words: `100 ms to 60 s`, `low, band, high or notch`. */
export function describeRange(param: Param): string {
  if (param.type === 'toggle') return 'on or off';
  if (param.type === 'choice') return param.options.join(', ');
  if (param.type === 'sound')
    return `the name of a sound${param.branches ? ', branch and the id of an earlier one' : ''}, or none`;
  if (param.type === 'curve') {
    const unit = param.unit === 'semitones' ? printInterval : printRatio;
    return `breakpoints from ${unit(param.min)} to ${unit(param.max)}, such as clip 0:${param.max} 1:${param.min}`;
  }
  if (param.type === 'notes') return `notes such as 0:1 C3 100, 1:0.5 Eb3 80, or none`;
  if (param.type === 'list') {
    const kind = { whole: 'whole numbers', seconds: 'times in seconds', plain: 'numbers' }[param.unit];
    return `none or up to ${param.most} ${kind} from ${param.min} to ${param.max}`;
  }
  return `${printSetting(param, param.min)} to ${printSetting(param, param.max)}`;
}

/**
 * Says what is wrong with a value that has the right shape but, under this tempo, the wrong size.
 * Returns undefined when it is in range.
 */
export function rangeFault(param: Param, value: SettingValue, timing: Timing, sampleRate: number): string | undefined {
  if (!isScaled(param)) return undefined;
  const resolved = resolveSetting(param, value, timing, sampleRate) as number;
  if (resolved >= param.min && resolved <= param.max) return undefined;
  const written = printSetting(param, value);
  const canonical = printSetting(param, Number(resolved.toPrecision(6)));
  const under = typeof value === 'object' && !('samples' in value) ? ` (${canonical} at ${timing.tempo} bpm)` : '';
  return `is ${written}${under}; allowed is ${describeRange(param)}`;
}
