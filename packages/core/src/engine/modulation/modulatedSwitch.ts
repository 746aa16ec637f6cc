import { BLOCK_FRAMES } from '../../model/block.ts';
import type { PlannedMove } from '../plan/plannedModulation.ts';
import { Lane } from './laneReader.ts';
import type { ModulationSource } from './modulationSource.ts';
import { RouteSum } from './routeSum.ts';

/** A switch that a lane or modulators may throw: on from a half on. */
export class ModulatedSwitch {
  private on: boolean;
  private lane: Lane | undefined;
  private pull: RouteSum | undefined;
  private position = 0;
  private frames = BLOCK_FRAMES;

  constructor(on: boolean) {
    this.on = on;
  }

  setMove(move: PlannedMove | undefined, movement: ModulationSource, side: number): void {
    this.lane = move?.lane && new Lane(move.lane, undefined, movement.sampleRate, movement.span);
    const pull = move && new RouteSum(move, movement, side);
    this.pull = pull?.still === false ? pull : undefined;
  }

  aim(on: boolean): void {
    this.on = on;
  }

  setDepth(index: number, depth: number): void {
    this.pull?.setDepth(index, depth);
  }

  reset(): void {
    this.pull?.reset();
  }

  advance(position: number, frames: number): void {
    this.position = position;
    this.frames = frames;
    this.pull?.advance(position, frames);
  }

  /** Marks the frames on which it is thrown. */
  mark(marks: Uint8Array): boolean {
    const byLane = this.lane !== undefined && this.lane.mark(this.position, this.frames, marks);
    const { pull } = this;
    if (!pull) return byLane;
    let last = this.valueAt(0) >= 0.5;
    let any = byLane;
    for (let frame = 1; frame < this.frames; frame++) {
      const now = this.valueAt(frame) >= 0.5;
      if (now !== last) {
        marks[frame] = 1;
        any = true;
      }
      last = now;
    }
    return any;
  }

  /** How it stands from a frame of the block on. */
  standsAt(frame: number): boolean {
    return this.valueAt(frame) >= 0.5;
  }

  private valueAt(frame: number): number {
    const under = this.lane ? this.lane.valueAt(this.position + frame) : this.on ? 1 : 0;
    return this.pull ? under + this.pull.at(frame, this.frames) : under;
  }
}
