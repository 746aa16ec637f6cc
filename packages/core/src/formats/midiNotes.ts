/** Played notes from a Standard MIDI File. */
import { InputError } from '../model/errors.ts';
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
    // By channel and key.
    const held = Array.from({ length: 16 }, () => new Map<number, Held>());
    const end = (channel: number, key: number, quarter: number) => {
      const one = held[channel].get(key);
      if (!one) return;
      held[channel].delete(key);
      const { quarter: at, velocity, pressure } = one;
      notes.push({ at, length: quarter - at, key, velocity, pressure });
    };
    for (const event of track) {
      ticks += event.deltaTime;
      const quarter = ticks / ticksPerQuarter;
      if (event.type === 'noteOn' && event.velocity > 0) {
        end(event.channel, event.noteNumber, quarter);
        held[event.channel].set(event.noteNumber, { quarter, velocity: event.velocity / 127, pressure: 0 });
      } else if (event.type === 'noteOff' || event.type === 'noteOn') {
        end(event.channel, event.noteNumber, quarter);
      } else if (event.type === 'channelAftertouch') {
        for (const one of held[event.channel].values()) one.pressure = Math.max(one.pressure, event.amount / 127);
      } else if (event.type === 'noteAftertouch') {
        const one = held[event.channel].get(event.noteNumber);
        if (one) one.pressure = Math.max(one.pressure, event.amount / 127);
      }
    }
    held.forEach((keys, channel) => {
      for (const key of [...keys.keys()]) end(channel, key, ticks / ticksPerQuarter);
    });
  }
  if (notes.length === 0) throw new InputError('The MIDI file has no notes.');
  if (notes.length > MOST_NOTES)
    throw new InputError(`The MIDI file has ${notes.length} notes; at most ${MOST_NOTES} are allowed.`);
  return notes.sort((a, b) => a.at - b.at || a.key - b.key);
}
