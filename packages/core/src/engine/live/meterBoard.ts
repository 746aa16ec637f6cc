/** What the audio thread shows of itself, in shared memory: written once a block, read whenever a picture is drawn. */
import { LIMITS } from '../../model/limits.ts';

/** Places on the board. */
export const BOARD = {
  /** Frames from the source's first. */
  head: 0,
  playing: 1,
  blocks: 2,
  /** Amplitudes, falling slowly. */
  peakLeft: 3,
  peakRight: 4,
  /** Highest since the meters were reset. */
  truePeak: 5,
  /** LUFS over the last three seconds. */
  shortTerm: 6,
  /** −1…1 between left and right. */
  correlation: 7,
  /** Shares of the time there is. */
  load: 8,
  worstLoad: 9,
  /** 1 when the output has passed full scale since the reset. */
  over: 10,
  /** 1 + place of the first stage above full scale at that moment; 0 when it was none. */
  overStage: 11,
  changing: 12,
  /** Number of the plan that runs. */
  plan: 13,
  /** How often stages had to be started afresh. */
  failures: 14,
  stages: 15,
  /** Number of the play that was begun last. */
  turn: 16,
  /** 1 + place of the first stage that is silent because it threw; 0 when there is none. */
  faultStage: 17,
  /** How many modulators stand still because they threw. */
  modulatorFaults: 18,
  /** 1 + place of the first stage that has given up and passes the sound on, or is held within bounds; 0 when there is none. And what its `givenUp` says. */
  passingStage: 19,
  passingLine: 20,
} as const;

const FIRST_STAGE = 22;
const PER_STAGE = 2;

export function createMeterBoard(): SharedArrayBuffer {
  return new SharedArrayBuffer((FIRST_STAGE + PER_STAGE * LIMITS.stages) * 8);
}

/** Amplitude of the nth stage, falling slowly. Stages count as in `allStages`, those that are off left out. */
export const stagePeakPlace = (n: number): number => FIRST_STAGE + PER_STAGE * n;
/** Share of the time there is that the nth stage takes. */
export const stageCostPlace = (n: number): number => FIRST_STAGE + PER_STAGE * n + 1;
