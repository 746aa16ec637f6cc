import { CONTROL_FRAMES } from '../../modulation/modulators/contract.ts';
import type { BlockValues } from '../../stages/contract.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import { isScaled, type Params } from '../../params/params.ts';
import type { ModulationSource } from './modulationSource.ts';
import { ModulatedParameter } from './modulatedParameter.ts';
import { ModulatedSwitch } from './modulatedSwitch.ts';
import type { PlannedMove } from '../plan/plannedModulation.ts';

/**
 * The settings of a stage, branch or modulator while it runs: numbers that ramp, switches, words that stand. A block is
 * cut where a breakpoint stands, where a switch is thrown and where something moves too quickly for one straight line.
 * Allocates nothing once made, but for `setMoves`.
 */
export class ModulatedSettings {
  /** What a processor reads; good for the frames of the last `over`. */
  readonly values: BlockValues<Params>;
  private readonly numberKeys: string[] = [];
  private readonly numbers: ModulatedParameter[] = [];
  private readonly switchKeys: string[] = [];
  private readonly switches: ModulatedSwitch[] = [];
  /** In the order in which they are listed: a number's index, or −1 minus a switch's. */
  private readonly order: number[] = [];
  /** What `jumpTo` was given last. */
  private readonly latest: number[] = [];
  private readonly marks = new Uint8Array(BLOCK_FRAMES);
  private cut = false;
  private frames = BLOCK_FRAMES;
  private moved = false;
  /** What each move moves, in order, and by how many routes. */
  private routed: readonly {
    readonly value: ModulatedParameter | ModulatedSwitch | undefined;
    readonly routes: number;
  }[] = [];

  constructor(params: Params, settled: Readonly<Record<string, unknown>>, sampleRate: number) {
    const values: Record<string, unknown> = {};
    for (const [key, value] of Object.entries(settled)) {
      const param = params[key];
      if (typeof value === 'number' && isScaled(param)) {
        const moving = new ModulatedParameter(value, param, sampleRate);
        this.order.push(this.numbers.length);
        this.latest.push(value);
        this.numberKeys.push(key);
        this.numbers.push(moving);
        values[key] = moving;
      } else {
        if (typeof value === 'boolean') {
          this.order.push(-1 - this.switches.length);
          this.latest.push(Number(value));
          this.switchKeys.push(key);
          this.switches.push(new ModulatedSwitch(value));
        }
        values[key] = value;
      }
    }
    this.values = values as BlockValues<Params>;
  }

  /** Takes on what moves them, heard on a side; allocates. */
  setMoves(moves: readonly PlannedMove[], movement: ModulationSource, side = 0): void {
    const moveOf = (key: string) => moves.find((move) => move.key === key);
    this.numbers.forEach((value, n) => value.setMove(moveOf(this.numberKeys[n]), movement, side));
    this.switches.forEach((value, n) => value.setMove(moveOf(this.switchKeys[n]), movement, side));
    this.moved = moves.length > 0;
    this.routed = moves.map(({ key, routes }) => ({
      value: this.numbers[this.numberKeys.indexOf(key)] ?? this.switches[this.switchKeys.indexOf(key)],
      routes: routes.length,
    }));
  }

  /** `setValues` at once, without a way there; true when any is another one. */
  jumpTo(flat: ArrayLike<number>, from: number): boolean {
    let changed = false;
    for (let n = 0; n < this.order.length; n++) {
      const which = this.order[n];
      const value = flat[from + n];
      if (value !== this.latest[n]) changed = true;
      this.latest[n] = value;
      if (which >= 0) this.numbers[which].jump(value);
      else this.switches[-1 - which].aim(value !== 0);
    }
    return changed;
  }

  /** How many numbers and switches there are. */
  get count(): number {
    return this.order.length;
  }

  /** How many depths of routes there are. */
  get depths(): number {
    let sum = 0;
    for (let m = 0; m < this.routed.length; m++) sum += this.routed[m].routes;
    return sum;
  }

  /** Takes numbers and switches from a list, in order; returns the place behind them. */
  setValues(flat: ArrayLike<number>, from: number): number {
    let at = from;
    for (let n = 0; n < this.order.length; n++) {
      const which = this.order[n];
      if (which >= 0) this.numbers[which].aim(flat[at++]);
      else this.switches[-1 - which].aim(flat[at++] !== 0);
    }
    return at;
  }

  /** Takes the depths of what moves them from a list, in order; returns the place behind them. */
  setDepths(flat: ArrayLike<number>, from: number): number {
    let at = from;
    for (let m = 0; m < this.routed.length; m++) {
      const { value, routes } = this.routed[m];
      for (let r = 0; r < routes; r++) value?.setDepth(r, flat[at + r]);
      at += routes;
    }
    return at;
  }

  reset(): void {
    for (let n = 0; n < this.numbers.length; n++) this.numbers[n].reset();
    for (let n = 0; n < this.switches.length; n++) this.switches[n].reset();
  }

  /** Goes to a block of `frames` frames at `position` of the timeline. */
  advance(position: number, frames: number): void {
    let quick = false;
    for (let n = 0; n < this.numbers.length; n++) if (this.numbers[n].advance(position, frames)) quick = true;
    for (let n = 0; n < this.switches.length; n++) this.switches[n].advance(position, frames);
    this.frames = frames;
    if (!this.moved) return;
    const { marks } = this;
    if (this.cut) for (let i = 0; i < BLOCK_FRAMES; i++) marks[i] = 0;
    this.cut = quick;
    if (quick) for (let at = CONTROL_FRAMES; at < frames; at += CONTROL_FRAMES) marks[at] = 1;
    for (let n = 0; n < this.numbers.length; n++) if (this.numbers[n].mark(marks)) this.cut = true;
    for (let n = 0; n < this.switches.length; n++) if (this.switches[n].mark(marks)) this.cut = true;
  }

  /** The frame behind the piece that begins at frame `at`; the end of the block where it is not cut. */
  endOfPiece(at: number): number {
    if (!this.cut) return this.frames;
    let end = at + 1;
    while (end < this.frames && this.marks[end] === 0) end++;
    return Math.min(end, this.frames);
  }

  /** Sets all values for `count` frames from frame `at` of the block on. */
  over(at: number, count: number): void {
    for (let n = 0; n < this.numbers.length; n++) this.numbers[n].over(at, count);
    const values = this.values as Record<string, boolean>;
    for (let n = 0; n < this.switches.length; n++) values[this.switchKeys[n]] = this.switches[n].standsAt(at);
  }
}
