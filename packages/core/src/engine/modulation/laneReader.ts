import { smoothStep } from '../../dsp/smoothStep.ts';
import { bentWay } from '../../modulation/curve.ts';
import { CONTROL_FRAMES } from '../../modulation/modulators/contract.ts';
import { toCanonical, toPlace, type Scale } from '../../params/types/paramScale.ts';
import type { Span } from '../../model/clip.ts';
import type { PlannedLane } from '../plan/plannedLane.ts';

/** Seconds before a jump in which the value already moves, so that it is there on the frame and nothing clicks. */
const EDGE_SECONDS = 0.008;

/**
 * A lane at work: breakpoints on whole frames. A number has a breakpoint's exact value on its frame and moves along the
 * parameter's scale between two; a switch, which has no scale, keeps the value of the last breakpoint. Allocates nothing
 * once made.
 */
export class Lane {
  private readonly frames: Float64Array;
  private readonly values: Float64Array;
  private readonly places: Float64Array;
  private readonly bends: Float64Array;
  private readonly scale: Scale | undefined;
  /** Index of the last breakpoint at or before the place asked for last; −1 before the first. */
  private cursor = -1;

  constructor(lane: PlannedLane, scale: Scale | undefined, sampleRate: number, span: Span) {
    const [origin, unit] = lane.over === 'clip' ? [span.start, span.end - span.start] : [0, sampleRate];
    const points = lane.points.map((point) => ({ ...point, frame: Math.round(origin + point.at * unit) }));
    const rounded =
      scale && lane.stepped !== true ? withEdges(points, Math.round(EDGE_SECONDS * sampleRate), scale) : points;
    this.frames = Float64Array.from(rounded, ({ frame }) => frame);
    this.values = Float64Array.from(rounded, ({ value }) => value);
    this.places = Float64Array.from(rounded, ({ value }) => (scale ? toPlace(scale, value) : value));
    this.bends = Float64Array.from(rounded, ({ bend }) => bend);
    this.scale = scale;
  }

  valueAt(position: number): number {
    const { frames, values, places, scale } = this;
    this.find(position);
    const at = this.cursor;
    if (at < 0) return values[0];
    if (scale === undefined || at === frames.length - 1 || frames[at] === position) return values[at];
    const share = (position - frames[at]) / (frames[at + 1] - frames[at]);
    const way = bentWay(share, this.bends[at]);
    if (scale.curve === 'linear') return values[at] + (values[at + 1] - values[at]) * way;
    return toCanonical(scale, places[at] + (places[at + 1] - places[at]) * way);
  }

  /** Marks the frames of a stretch, counted from `position`, on which a breakpoint stands. True when there are any. */
  mark(position: number, count: number, marks: Uint8Array): boolean {
    const { frames } = this;
    this.find(position);
    let any = false;
    for (let at = this.cursor + 1; at < frames.length && frames[at] < position + count; at++) {
      marks[frames[at] - position] = 1;
      any = true;
    }
    return any;
  }

  private find(position: number): void {
    const { frames } = this;
    while (this.cursor >= 0 && frames[this.cursor] > position) this.cursor--;
    while (this.cursor + 1 < frames.length && frames[this.cursor + 1] <= position) this.cursor++;
  }
}

interface Placed {
  readonly frame: number;
  readonly value: number;
  readonly bend: number;
}

/** Two breakpoints on one frame are a jump: the way to the second is laid before it, without a corner. */
function withEdges(points: readonly Placed[], edge: number, scale: Scale): Placed[] {
  const out: Placed[] = [];
  points.forEach((point, n) => {
    const before = points[n - 1] as Placed | undefined;
    const last = out.at(-1);
    if (!before || !last || before.frame !== point.frame) {
      out.push(point);
      return;
    }
    // The first of the two is reached as early as the edge begins, but not before the breakpoint in front of it.
    out.pop();
    const earliest = out.at(-1)?.frame ?? -Infinity;
    const begin = Math.max(earliest + 1, point.frame - edge);
    if (begin < point.frame) {
      const [from, to] = [toPlace(scale, last.value), toPlace(scale, point.value)];
      out.push({ frame: begin, value: last.value, bend: 0 });
      for (let frame = begin + CONTROL_FRAMES; frame < point.frame; frame += CONTROL_FRAMES) {
        const share = smoothStep((frame - begin) / (point.frame - begin));
        out.push({ frame, value: toCanonical(scale, from + (to - from) * share), bend: 0 });
      }
    }
    out.push(point);
  });
  return out;
}
