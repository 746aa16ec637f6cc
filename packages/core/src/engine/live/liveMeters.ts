import { TruePeakMeter } from '../../analysis/truePeak.ts';
import { StepEnergies, loudnessOfPower } from '../../analysis/loudness.ts';
import { exp } from '../../dsp/portableMath.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import type { RowAtWork, UnitAtWork } from '../run/row.ts';
import { BOARD, stageCostPlace, stagePeakPlace } from './meterBoard.ts';

const SHORT_TERM_STEPS = 30; // of 100 ms
const PEAK_FALL = 20; // dB a second
const CORRELATION_SECONDS = 0.3;
const LOAD_SECONDS = 1;

/** Measures what is heard and writes it on the board, a block at a time. Allocates nothing once made. */
export class LiveMeters {
  private readonly board: Float64Array;
  private readonly truePeak = new TruePeakMeter(2);
  private readonly energies: StepEnergies;
  private readonly steps = new Float64Array(SHORT_TERM_STEPS);
  private readonly stepsPlace = { at: 0, filled: 0 };
  private readonly fall: number;
  private readonly correlationShare: number;
  private readonly loadShare: number;
  private readonly blockMicroseconds: number;
  /** Of the last block. */
  private peak = 0;
  private products = 0;
  private lefts = 0;
  private rights = 0;
  private stage = 0;
  private firstOver = 0;

  constructor(board: Float64Array, sampleRate: number) {
    this.board = board;
    this.energies = new StepEnergies(sampleRate, 2);
    const block = BLOCK_FRAMES / sampleRate;
    this.fall = exp((-PEAK_FALL * block * 2.302585092994046) / 20);
    this.correlationShare = 1 - exp(-block / CORRELATION_SECONDS);
    this.loadShare = 1 - exp(-block / LOAD_SECONDS);
    this.blockMicroseconds = block * 1e6;
    this.reset();
  }

  /** Forgets what is held: true peak, worst load, overs. */
  reset(): void {
    const { board } = this;
    this.truePeak.take();
    board[BOARD.truePeak] = 0;
    board[BOARD.worstLoad] = 0;
    board[BOARD.over] = 0;
    board[BOARD.overStage] = 0;
    board[BOARD.failures] = 0;
    board[BOARD.shortTerm] = -Infinity;
    this.stepsPlace.filled = 0;
  }

  /** Takes in the output of a block and the microseconds it took. */
  process(output: readonly Float32Array[], frames: number, microseconds: number): void {
    const { board } = this;
    this.level(output, frames);
    this.truePeak.process(output, frames);
    // Held since the last reset, which also lets it pass over whatever cannot be higher.
    board[BOARD.truePeak] = this.truePeak.value;
    this.loudness(output, frames);
    const load = microseconds / this.blockMicroseconds;
    board[BOARD.load] += this.loadShare * (load - board[BOARD.load]);
    if (load > board[BOARD.worstLoad]) board[BOARD.worstLoad] = load;
    board[BOARD.blocks]++;
    if (this.peak > 1 && board[BOARD.over] === 0) {
      board[BOARD.over] = 1;
      board[BOARD.overStage] = this.firstOver;
    }
  }

  /** Takes in the peaks and costs of the stages of a block. Called before `process`. */
  stages(section: RowAtWork): void {
    this.stage = 0;
    this.firstOver = 0;
    this.board[BOARD.failures] = 0;
    this.board[BOARD.faultStage] = 0;
    this.board[BOARD.passingStage] = 0;
    this.board[BOARD.modulatorFaults] = section.modulatorFaults;
    this.walk(section);
    this.board[BOARD.stages] = this.stage;
  }

  private walk(section: RowAtWork): void {
    const units = section.stages;
    for (let u = 0; u < units.length; u++) {
      this.note(units[u]);
      const { branches } = units[u];
      for (let b = 0; b < branches.length; b++) this.walk(branches[b].section);
    }
  }

  private note(unit: UnitAtWork): void {
    const { board } = this;
    const place = stagePeakPlace(this.stage);
    const peak = unit.takePeak();
    board[place] = Math.max(peak, board[place] * this.fall);
    const cost = stageCostPlace(this.stage);
    board[cost] += this.loadShare * (unit.takeCost() / this.blockMicroseconds - board[cost]);
    board[BOARD.failures] += unit.failures;
    this.stage++;
    if (unit.givenUp !== 0 && board[BOARD.passingStage] === 0) {
      board[BOARD.passingStage] = this.stage;
      board[BOARD.passingLine] = unit.givenUp;
    }
    if (unit.faulted && board[BOARD.faultStage] === 0) board[BOARD.faultStage] = this.stage;
    if (peak > 1 && this.firstOver === 0) this.firstOver = this.stage;
  }

  private level(output: readonly Float32Array[], frames: number): void {
    const left = output[0];
    const right = output[1];
    let leftPeak = 0;
    let rightPeak = 0;
    let products = 0;
    let lefts = 0;
    let rights = 0;
    for (let i = 0; i < frames; i++) {
      const a = left[i];
      const b = right[i];
      leftPeak = Math.max(leftPeak, Math.abs(a));
      rightPeak = Math.max(rightPeak, Math.abs(b));
      products += a * b;
      lefts += a * a;
      rights += b * b;
    }
    const { board, correlationShare: share } = this;
    board[BOARD.peakLeft] = Math.max(leftPeak, board[BOARD.peakLeft] * this.fall);
    board[BOARD.peakRight] = Math.max(rightPeak, board[BOARD.peakRight] * this.fall);
    this.products += share * (products - this.products);
    this.lefts += share * (lefts - this.lefts);
    this.rights += share * (rights - this.rights);
    const power = Math.sqrt(this.lefts * this.rights);
    board[BOARD.correlation] = power > 1e-12 ? this.products / power : 0;
    this.peak = Math.max(leftPeak, rightPeak);
  }

  private loudness(output: readonly Float32Array[], frames: number): void {
    const { energies, steps, stepsPlace } = this;
    for (let at = 0; at < frames;) {
      at = energies.process(output, at, frames);
      if (!energies.endsStep) continue;
      steps[stepsPlace.at] = energies.energy;
      stepsPlace.at = (stepsPlace.at + 1) % SHORT_TERM_STEPS;
      stepsPlace.filled = Math.min(SHORT_TERM_STEPS, stepsPlace.filled + 1);
      let energy = 0;
      for (let s = 1; s <= stepsPlace.filled; s++)
        energy += steps[(stepsPlace.at - s + SHORT_TERM_STEPS) % SHORT_TERM_STEPS];
      this.board[BOARD.shortTerm] = loudnessOfPower(energy / (stepsPlace.filled * energies.stepFrames));
    }
  }
}
