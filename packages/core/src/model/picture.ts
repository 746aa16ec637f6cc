/** What the picture of a stage shows: numbers to be drawn, worked out from its values. */

export interface Axis {
  readonly label: string;
  readonly min: number;
  readonly max: number;
  readonly scale: 'linear' | 'log';
  /** Where lines and figures stand. */
  readonly ticks: readonly number[];
  readonly unit: string;
}

export interface DrawnCurve {
  readonly label: string;
  /** x and y in turns. */
  readonly points: readonly number[];
  /** Drawn thinly, as what it is compared with. */
  readonly faint?: boolean;
}

export interface CurvePicture {
  readonly type: 'curves';
  readonly title: string;
  readonly x: Axis;
  readonly y: Axis;
  readonly curves: readonly DrawnCurve[];
  /** Points that stand for a parameter each way, to be dragged. */
  readonly handles: readonly {
    readonly label: string;
    readonly x: number;
    readonly y: number;
    readonly xParam: string;
    readonly yParam: string | undefined;
  }[];
}

/** One repeat of an echo. */
export interface Repeat {
  /** Seconds from the sound. */
  readonly at: number;
  /** As a factor of the sound. */
  readonly level: number;
  /** −1 on the first of the picture's sides … 1 on the second. */
  readonly pan: number;
  /** Semitones. */
  readonly pitch: number;
}

export interface RepeatsPicture {
  readonly type: 'repeats';
  readonly title: string;
  /** What is drawn upwards and what downwards. */
  readonly sides: readonly [string, string];
  readonly repeats: readonly Repeat[];
  /** Seconds shown, and of a beat. */
  readonly seconds: number;
  readonly beat: number;
  /** dB by which repeats give way while the sound is there; 0: not at all. */
  readonly ducking: number;
  /** Seconds until they are back. */
  readonly recovery: number;
}

export interface RoomPicture {
  readonly type: 'room';
  readonly title: string;
  readonly length: number;
  readonly width: number;
  readonly height: number;
  /** Along, across, up, as shares. */
  readonly source: readonly [number, number, number];
  readonly listener: readonly [number, number, number];
  /** Seconds until the late part has fallen by 60 dB. */
  readonly decay: number;
}

export interface StepsPicture {
  readonly type: 'steps';
  readonly title: string;
  /** 0…1 each. */
  readonly levels: readonly number[];
  readonly params: readonly string[];
  readonly swing: number;
  readonly gate: number;
}

export interface VoicesPicture {
  readonly type: 'voices';
  readonly title: string;
  readonly voices: readonly {
    /** Turns. */
    readonly phase: number;
    /** Seconds at rest. */
    readonly rest: number;
    readonly pan: number;
  }[];
  readonly wave: string;
  /** Hz, seconds. */
  readonly rate: number;
  readonly depth: number;
  readonly drift: number;
}

export type StagePicture = CurvePicture | RepeatsPicture | RoomPicture | StepsPicture | VoicesPicture;

/** What the picture of a whole-clip stage shows over the clip that goes into it. */
export interface OverClip {
  /** Seconds from the source's first frame. */
  readonly start: number;
  readonly end: number;
  /** Least and greatest sample of columns over it, in turns. */
  readonly waveform: readonly number[];
}

export interface PitchPicture extends OverClip {
  readonly type: 'pitch';
  /** Seconds between the values; the first lies at `start`. */
  readonly step: number;
  /** MIDI keys; NaN where there is no pitch. */
  readonly before: readonly number[];
  readonly after: readonly number[];
}

export interface CutsPicture extends OverClip {
  readonly type: 'cuts';
  /** Seconds from the source's first frame at which a piece begins, without the first. */
  readonly cuts: readonly number[];
  /** Where the source begins. */
  readonly origin: number;
  /** True when they are set by hand. */
  readonly byHand: boolean;
}

export type ClipPicture = PitchPicture | CutsPicture;
