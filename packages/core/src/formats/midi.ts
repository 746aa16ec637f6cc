import { parseMidi } from 'midi-file';
import { InputError } from '../model/errors.ts';
import { TEMPO_RANGE } from '../timing/tempo.ts';
import { checkMidi } from './midiCheck.ts';
import { TempoMap, type TempoChange } from '../timing/tempoMap.ts';

const DEFAULT_TEMPO = 120;

/** What an event changes. */
type Change = Pick<TempoChange, 'quarter'> & Partial<TempoChange>;

/** A Standard MIDI File (RP-001). InputError when it cannot be read or counts in frames of film. */
export function openMidi(bytes: Uint8Array): { readonly tracks: MidiTracks; readonly ticksPerQuarter: number } {
  checkMidi(bytes);
  let midi: ReturnType<typeof parseMidi>;
  try {
    midi = parseMidi(bytes);
  } catch (error) {
    throw new InputError(`The MIDI file is broken or cut short: ${(error as Error | string).toString()}.`);
  }
  const { ticksPerBeat } = midi.header;
  if (!ticksPerBeat)
    throw new InputError('The MIDI file uses SMPTE time division; only ticks per quarter note (PPQ) are supported.');
  return { tracks: midi.tracks, ticksPerQuarter: ticksPerBeat };
}

type MidiTracks = ReturnType<typeof parseMidi>['tracks'];

/**
 * The tempo map of a Standard MIDI File: its tempo and meter events of all tracks. 120 and 4/4 where it does not say.
 * InputError when it has a tempo or meter that is not allowed, and as `openMidi`.
 */
export function readTempoMap(bytes: Uint8Array): TempoMap {
  const { tracks, ticksPerQuarter } = openMidi(bytes);
  const events = tracks.flatMap((track): Change[] => {
    let ticks = 0;
    return track.flatMap((event): Change[] => {
      ticks += event.deltaTime;
      const quarter = ticks / ticksPerQuarter;
      if (event.type === 'setTempo') return [{ quarter, tempo: 60_000_000 / event.microsecondsPerBeat }];
      if (event.type === 'timeSignature') return [{ quarter, meter: [event.numerator, event.denominator] as const }];
      return [];
    });
  });
  const changes: TempoChange[] = [{ quarter: 0, tempo: DEFAULT_TEMPO, meter: [4, 4] }];
  for (const event of events.sort((a, b) => a.quarter - b.quarter)) {
    const last = changes[changes.length - 1];
    const next = { ...last, ...event };
    checkChange(next);
    if (next.quarter === last.quarter) changes[changes.length - 1] = next;
    else changes.push(next);
  }
  return new TempoMap(changes);
}

function checkChange({ tempo, meter: [beats, value], quarter }: TempoChange): void {
  const { min, max } = TEMPO_RANGE;
  if (tempo < min || tempo > max)
    throw new InputError(
      `The MIDI file has a tempo of ${Number(tempo.toFixed(2))} at quarter ${quarter}; allowed is ${min} to ${max}.`,
    );
  if (beats < 1 || beats > 32 || ![1, 2, 4, 8, 16].includes(value))
    throw new InputError(
      `The MIDI file has a meter of ${beats}/${value} at quarter ${quarter}; allowed are 1 to 32 of a 1, 2, 4, 8 or 16.`,
    );
}
