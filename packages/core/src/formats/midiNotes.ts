/** Played notes from a Standard MIDI File. */
import { InputError } from '../errors.ts';
import { MOST_NOTES, type Note } from '../modulation/notes.ts';
import { openMidi } from './midi.ts';

/** A note that is still held, and the highest pressure on it so far. */
interface Held {
  readonly quarter: number;
  readonly velocity: number;
  pressure: number;
}

/**
 * The notes of all tracks and channels, in order, their places in quarter notes. A note that is not let go ends with the
 * file. InputError as `openMidi`, and when there are none or too many.
 */
export function readMidiNotes(bytes: Uint8Array): Note[] {
  const { tracks, ticksPerQuarter } = openMidi(bytes);
  const notes: Note[] = [];
  for (const track of tracks) {
    let ticks = 0;
    const held = new Map<string, Held>();
    const end = (name: string, quarter: number) => {
      const one = held.get(name);
      if (!one) return;
      held.delete(name);
      const key = Number(name.split(' ')[1]);
      const { quarter: at, velocity, pressure } = one;
      notes.push({ at, length: quarter - at, key, velocity, pressure });
    };
    for (const event of track) {
      ticks += event.deltaTime;
      const quarter = ticks / ticksPerQuarter;
      if (event.type === 'noteOn' && event.velocity > 0) {
        const name = `${event.channel} ${event.noteNumber}`;
        end(name, quarter);
        held.set(name, { quarter, velocity: event.velocity / 127, pressure: 0 });
      } else if (event.type === 'noteOff' || event.type === 'noteOn') {
        end(`${event.channel} ${event.noteNumber}`, quarter);
      } else if (event.type === 'channelAftertouch') {
        for (const [name, one] of held)
          if (name.startsWith(`${event.channel} `)) one.pressure = Math.max(one.pressure, event.amount / 127);
      } else if (event.type === 'noteAftertouch') {
        const one = held.get(`${event.channel} ${event.noteNumber}`);
        if (one) one.pressure = Math.max(one.pressure, event.amount / 127);
      }
    }
    for (const name of [...held.keys()]) end(name, ticks / ticksPerQuarter);
  }
  if (notes.length === 0) throw new InputError('The MIDI file has no notes.');
  if (notes.length > MOST_NOTES)
    throw new InputError(`The MIDI file has ${notes.length} notes; at most ${MOST_NOTES} are allowed.`);
  return notes.sort((a, b) => a.at - b.at || a.key - b.key);
}
