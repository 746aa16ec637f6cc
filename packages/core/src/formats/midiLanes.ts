/** Curves from the controllers and the bend of a Standard MIDI File. */
import { InputError } from '../model/errors.ts';
import { MOST_POINTS, type CurvePoint } from '../modulation/curve.ts';
import { openMidi } from './midi.ts';

/** One row of values in a file: places in quarter notes, values 0…1. */
export interface MidiLane {
  /** `controller 74, channel 1`. */
  readonly name: string;
  readonly points: readonly CurvePoint[];
}

const MOST_BEND = 8192;

/**
 * All controllers and bends of a file, each with what it is called, the longest first. A controller stands until the next
 * event: two points on one place. InputError as `openMidi`, and when there is none.
 */
export function readMidiLanes(bytes: Uint8Array): MidiLane[] {
  const { tracks, ticksPerQuarter } = openMidi(bytes);
  const lanes = new Map<string, CurvePoint[]>();
  for (const track of tracks) {
    let ticks = 0;
    for (const event of track) {
      ticks += event.deltaTime;
      const at = ticks / ticksPerQuarter;
      if (event.type === 'controller')
        note(lanes, `controller ${event.controllerType}, channel ${event.channel + 1}`, at, event.value / 127);
      else if (event.type === 'pitchBend')
        note(lanes, `bend, channel ${event.channel + 1}`, at, (event.value + MOST_BEND) / (2 * MOST_BEND - 1));
      else if (event.type === 'channelAftertouch')
        note(lanes, `pressure, channel ${event.channel + 1}`, at, event.amount / 127);
    }
  }
  if (lanes.size === 0)
    throw new InputError('The MIDI file has no control change, pitch bend or aftertouch to read a lane from.');
  return [...lanes]
    .map(([name, points]) => ({ name, points: points.slice(0, MOST_POINTS) }))
    .sort((a, b) => b.points.length - a.points.length);
}

function note(lanes: Map<string, CurvePoint[]>, name: string, at: number, value: number): void {
  const points = lanes.get(name) ?? [];
  const bounded = Math.max(0, Math.min(1, value));
  const last = points.at(-1);
  if (last?.at === at) points.pop();
  else if (last && last.value !== bounded) points.push({ at, value: last.value, bend: 0 });
  points.push({ at, value: bounded, bend: 0 });
  lanes.set(name, points);
}
