import type { Clip, Span } from '../model/clip.ts';
import type { ClipPicture, OverClip, StagePicture } from '../model/picture.ts';
import type { Kernels } from '../dsp/kernels/contract.ts';
import type { Random } from '../dsp/random.ts';
import type { Timing } from '../timing/tempo.ts';
import type { Ramp } from '../model/ramp.ts';
import type { Breakpoints } from '../modulation/curve.ts';
import type { Note } from '../modulation/notes.ts';
import type {
  ChoiceParam,
  CurveParam,
  ListParam,
  NotesParam,
  Param,
  Params,
  SoundParam,
  ToggleParam,
} from '../params/params.ts';

export const FAMILIES = [
  'time',
  'space',
  'motion',
  'tone',
  'drive',
  'dynamics',
  'pitch',
  'grain',
  'clip',
  'plumbing',
] as const;
export type Family = (typeof FAMILIES)[number];

/** What a family is called; the ids stand in code and colours. */
export const FAMILY_TITLES: Readonly<Record<Family, string>> = {
  time: 'delay',
  space: 'reverb',
  motion: 'modulation',
  tone: 'filter & EQ',
  drive: 'distortion',
  dynamics: 'dynamics',
  pitch: 'pitch',
  grain: 'granular & glitch',
  clip: 'clip editing',
  plumbing: 'utility',
};

type ValueOf<T extends Param, Numeric> =
  T extends ChoiceParam<infer C>
    ? C
    : T extends ToggleParam
      ? boolean
      : T extends SoundParam
        ? string
        : T extends CurveParam
          ? Breakpoints
          : T extends ListParam
            ? readonly number[]
            : T extends NotesParam
              ? readonly Note[]
              : Numeric;

/** A stage's values over one block: numbers ramp, words and switches stand. */
export type BlockValues<P extends Params> = { readonly [K in keyof P]: ValueOf<P[K], Ramp> };

/**
 * A stage's values at one moment, in canonical units; a sound as the text that stands for its content, empty for none; a
 * curve over shares of the clip or seconds.
 */
export type ResolvedValues<P extends Params> = { readonly [K in keyof P]: ValueOf<P[K], number> };

/** What a stage works out beforehand from its sounds and its fixed values: plain data over memory that threads share. */
export type Prepared = Readonly<Record<string, unknown>>;

/** From a frame on: which quarter note it is, and how many of them a minute has. */
export interface Beats {
  readonly frame: number;
  readonly quarter: number;
  readonly tempo: number;
}

export interface LiveContext {
  readonly sampleRate: number;
  /** Channels in and out; a widening stage gets 2 out for 1 in. */
  readonly inputChannels: number;
  readonly outputChannels: number;
  /** Seeded for this stage of this chain: the same chain gives the same sequence. */
  readonly random: Random;
  /** The sounds that the stage's parameters name; undefined where one is not there. */
  readonly sounds: Readonly<Record<string, Clip | undefined>>;
  /** The hot loops, to be used in place of any of one’s own. */
  readonly kernels: Kernels;
  /** What `prepare` gave. */
  readonly prepared: Prepared | undefined;
  /** The tempos of the timeline, each from its frame on; for stages that hear beats. */
  readonly beats: readonly Beats[];
  /** The branch that stands in the place of a sound that a parameter names; undefined where there is none. */
  side(key: string): BranchProcessor | undefined;
  /** What a stage that holds stages runs its parts through; empty for all others. */
  readonly branches: readonly BranchProcessor[];
}

/** What `givenUp` of a stage says that is muted, because it takes more of the time than there is to spare. */
export const OVERDUE = -2;
/** What it says of one whose output had to be held within ±64, which goes on. */
export const HELD = -3;

/** A branch of a stage that holds stages, at work. All branches of a stage are equally late. */
export interface BranchProcessor {
  /** Frames by which its output lags its input. */
  readonly latency: number;
  /** Left and right, already at the branch's level and place. */
  readonly output: readonly Float32Array[];
  /** Reads `frames` frames of as many channels as the stage has said for this branch; `position` as for the stage. */
  process(input: readonly Float32Array[], frames: number, position: number): void;
}

/** Where the sound of a branch goes when it is mono: on both sides, on one, or with opposite signs. */
export type Placement = 'both' | 'left' | 'right' | 'opposed';

/** What a stage that holds stages says about its branches. */
export interface BranchRule<P extends Params> {
  /** How many there may be with these values. */
  count(values: ResolvedValues<P>): { readonly min: number; readonly max: number };
  /** What one goes by when the designer has given it no name. */
  title(values: ResolvedValues<P>, index: number, count: number): string;
  inputChannels(values: ResolvedValues<P>, stageInputChannels: number): number;
  placement(values: ResolvedValues<P>, index: number): Placement;
  /** True where stages that need the whole clip may stand in them: it needs nothing of its own output. */
  readonly clipStages?: boolean;
}

/**
 * The real-time half of a live stage. All memory is taken when it is created; `process` and `reset` take none, throw
 * nothing and log nothing. Numbers and switches may change from block to block and must be followed without a click;
 * when a word changes, a new processor is made and faded in.
 */
export interface LiveProcessor<P extends Params> {
  /** Frames it can be silent for and still have something to say: the longest delay inside. */
  readonly memoryFrames: number;
  /** Where it has given up and passes its input on as it is: the line at which it worked too long, −1 where it came to a value that is no number; `HELD`; 0 otherwise. */
  readonly givenUp?: number;
  /**
   * Goes on where another processor of the same stage is, as far as it has the same in memory: for one that is exchanged
   * while it sounds. True where it does. Called between blocks; allocates.
   */
  takeOver?(before: LiveProcessor<never>): boolean;
  /** Makes it as it was when created. */
  reset(): void;
  /**
   * Reads `frames` ≤ BLOCK_FRAMES frames of each input channel and writes as many to each output channel. `position` is
   * where the first of them lies on the timeline, in frames from the source's first: what keeps to the beat reads it.
   */
  process(
    input: readonly Float32Array[],
    output: readonly Float32Array[],
    frames: number,
    values: BlockValues<P>,
    position: number,
  ): void;
}

export interface ClipContext {
  /** Where the source lies in the clip by now: what reverse flips about, and what a curve is drawn over. */
  readonly span: Span;
  readonly random: Random;
  /**
   * Renders a clip through the stages of a branch, as a source of its own: its origin must be 0. Empty for stages that
   * hold none.
   */
  readonly branches: readonly ((clip: Clip) => ClipWork)[];
  /** What is set at each branch, in the same order. */
  readonly settings: readonly BranchSettings[];
  /** Called where what comes out had to be held within ±64. */
  readonly onHeld?: () => void;
}

/** Where the sound of a branch goes. */
export interface BranchSettings {
  /** dB. */
  readonly level: number;
  /** −1 left … 1 right. */
  readonly pan: number;
  readonly muted: boolean;
  readonly inverted: boolean;
}

/** Work on a whole clip that takes its time: yields the share done, 0…1. */
export type ClipWork = Generator<number, Clip, void>;

/** A clip that comes piece by piece; it begins at the source's first frame. */
export interface ChunkedClip {
  readonly frames: number;
  pieces(): Generator<Float32Array[], void>;
}

/** What a whole-clip stage says before it works. */
export interface ClipEstimate {
  /** Frames that will come out for a source of `frames` frames. */
  readonly frames: number;
  /** Nanoseconds of work a frame and channel that comes out, on a common machine. */
  readonly cost: number;
}

interface StageText<P extends Params> {
  readonly kind: string;
  readonly family: Family;
  readonly title: string;
  /** One sentence: what it does to a sound. */
  readonly summary: string;
  /** What a person would type when looking for it. */
  readonly keywords: readonly string[];
  /** How dry and wet are weighed by `mix`: equal power when the wet is unlike the dry, linear when it is the same sound. */
  readonly mixLaw: 'equal-power' | 'linear';
  readonly params: P;
  /** Its parameters by what they are about, in the order in which they are shown; each in one group. All in one when left out. */
  readonly groups?: Readonly<Record<string, readonly string[]>>;
  /** The mix it has when it is added, where that is not all wet. */
  readonly firstMix?: number;
  /** What the tests hold it to. */
  readonly heldTo?: readonly Measure[];
  /** What of the trials that every stage undergoes does not hold for this one. */
  readonly exempt?: readonly Exemption[];
  /** True where it may play its sound at another speed, and so needs more of it than a region is long. */
  readonly hearsBeyond?: boolean;
  /** True where it puts a sound at another pitch, so that its root note is not what it was. */
  readonly retunes?: boolean;
  /** How much louder it may make a sound; left out where it does not. */
  readonly mayRise?: Rise<P>;
  /** Semitones by which it moves the pitch of all that runs through it; left out where that is none or varies. */
  shiftOf?(values: ResolvedValues<P>): number;
}

/** Something that a stage is held to. */
export interface Measure {
  /** What holds: a sentence as far as its limit, without a point. */
  readonly what: string;
  /** Within, below or at least how much: word, number, unit; left out where it holds or does not. */
  readonly limit?: readonly [word: string, value: number, unit: string];
  /** How it is measured: goes on behind “measured”. */
  readonly how: string;
}

/** A measure as a sentence. */
export function measureText({ what, limit }: Measure): string {
  if (!limit) return `${what}.`;
  const [word, value, unit] = limit;
  const number = String(value).replace('-', '\u2212');
  const held = [word, number, unit].filter((part) => part !== '').join(' ');
  return `${what}${word === 'within' && !what.endsWith(',') ? ',' : ''} ${held}.`;
}

/** A trial that a stage is spared, and why. */
export interface Exemption {
  /** A setting that jumps; one that is moved at 20 Hz; no direct current that did not come in; the same in blocks of any length. */
  readonly trial: 'jump' | 'move' | 'direct current' | 'block length';
  /** The parameter that it is about; all of the stage when left out. */
  readonly param?: string;
  /** How far off it may be instead, as an amplitude; as far as it is when left out. */
  readonly within?: number;
  readonly because: string;
}

/** The exemption of a stage from a trial, of one of its parameters where that is said. */
export function exemptionOf(
  { exempt = [] }: { readonly exempt?: readonly Exemption[] },
  trial: Exemption['trial'],
  param?: string,
): Exemption | undefined {
  return exempt.find((one) => one.trial === trial && (one.param === undefined || one.param === param));
}

/** What a stage draws its picture from. */
export interface PictureRequest<P extends Params> {
  /** The stage itself, to be run and measured. */
  readonly stage: LiveStage;
  readonly values: ResolvedValues<P>;
  readonly timing: Timing;
  /** Semitones by which the stages in its branches move the pitch. */
  readonly shiftInside: number;
  /** The moment that is drawn of what moves by itself, from the source's first frame; undefined: its course as a whole. */
  readonly seconds?: number | undefined;
}

/** How much louder a stage may make a sound of −18 LUFS, all wet and at level 0. */
export interface Rise<P extends Params> {
  /** What that depends on: a phrase behind “by up to”. */
  readonly by: string;
  /** LU, at least; `sounds` are those that its parameters name. */
  most(values: ResolvedValues<P>, sounds: Readonly<Record<string, Clip | undefined>>): number;
}

/** Steps that a sample takes at the most, and those it may; `open`: some loop goes on as long as it likes, and counts once. */
export interface StageSteps {
  readonly most: number;
  readonly allowed: number;
  readonly open: boolean;
}

export interface LiveStage<P extends Params = Params> extends StageText<P> {
  readonly runs: 'live';
  /** True when a mono sound leaves it in stereo. */
  readonly widens?: boolean;
  /** Key of the time that divides the timeline into equal parts from frame 0 on, where it keeps to such a grid. */
  readonly grid?: string;
  /** True where it asks for the beat by itself, beside settings that follow the tempo. */
  readonly hearsBeats?: boolean;
  /** Steps that a sample takes, of a stage whose text they are counted in. */
  readonly steps?: StageSteps;
  /** Bytes of memory that it takes at the highest rate, of such a stage. */
  readonly memoryBytes?: number;
  /** True when left and right do not touch each other: run one by one they give the same. */
  readonly sidesApart?: boolean;
  /** Present in a stage that holds stages. */
  readonly holds?: BranchRule<P>;
  /** True when the stage takes the latency of its branches off by itself, so that it is not late by it. */
  readonly takesUpLatency?: boolean;
  /** Frames by which the output lags the input; none when left out. Only words may change it. */
  latencyFrames?(values: ResolvedValues<P>, sampleRate: number): number;
  /** Seconds until the output has fallen by 60 dB after the input ends; Infinity when it never does. */
  tailSeconds(values: ResolvedValues<P>, branchTails: readonly number[]): number;
  /**
   * Only where there is much to do before the first block: what can be worked out from sounds, words and fixed values
   * alone. Runs outside the audio thread where there is another.
   */
  prepare?(
    context: Pick<LiveContext, 'sampleRate' | 'sounds' | 'kernels'>,
    values: ResolvedValues<P>,
  ): Prepared | undefined;
  create(context: LiveContext, values: ResolvedValues<P>): LiveProcessor<P>;
  /** True where its picture is another one at each moment, whatever is modulated. */
  readonly pictureMoves?: boolean;
  /** What is drawn of it beside its rows, from its values alone. */
  picture?(request: PictureRequest<P>): StagePicture;
}

export interface ClipStage<P extends Params = Params> extends StageText<P> {
  readonly runs: 'offline';
  /** Present in a stage that runs other stages on parts of the clip. */
  readonly holds?: Pick<BranchRule<P>, 'count' | 'title'>;
  /** What follows from its values for a source of so many frames, where a designer wants to know: a sentence. */
  says?(values: ResolvedValues<P>, frames: number, sampleRate: number): string | undefined;
  /** Long work comes as steps. InputError when the clip cannot be worked on with these values. */
  transform(clip: Clip, values: ResolvedValues<P>, context: ClipContext): Clip | ClipWork;
  /**
   * The same as `transform`, piece by piece, for a stage whose result can be much longer than memory should hold. Nothing
   * before the source may come out.
   */
  stream?(clip: Clip, values: ResolvedValues<P>, context: ClipContext): ChunkedClip;
  /**
   * Where frame `at` of the clip lies behind the stage, a fraction of a frame too; left out where it lies nowhere, or in
   * several places. `span` is where the source lies before it.
   */
  placeOf?(at: number, values: ResolvedValues<P>, span: Span): { readonly at: number; readonly span: Span };
  /** Only where the length changes or the work is long. InputError as for `transform`, as far as it can be told. */
  estimate?(frames: number, values: ResolvedValues<P>, sampleRate: number): ClipEstimate;
  /** What is drawn over the clip that goes into it. Yields the share done. */
  clipPicture?(over: OverClip, clip: Clip, span: Span, values: ResolvedValues<P>): Generator<number, ClipPicture, void>;
}

/** `placeOf` of a whole-clip stage that leaves everything in its place. */
export const inPlace = (at: number, _values: unknown, span: Span) => ({ at, span });

export type Stage = LiveStage | ClipStage;

/** Declares a live stage; the parameters' types flow into its processor. */
export function defineLiveStage<const P extends Params>(stage: Omit<LiveStage<P>, 'runs'>): LiveStage {
  return { ...stage, runs: 'live' } as unknown as LiveStage;
}

/** Declares a whole-clip stage. */
export function defineClipStage<const P extends Params>(stage: Omit<ClipStage<P>, 'runs'>): ClipStage {
  return { ...stage, runs: 'offline' } as unknown as ClipStage;
}
