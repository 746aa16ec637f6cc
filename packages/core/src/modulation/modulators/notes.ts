import { choice, key, notes, semitones, time } from '../../params/params.ts';
import { smoothStep } from '../../dsp/smoothStep.ts';
import { NoteRow } from '../noteRow.ts';
import { NO_INPUT, defineModulator } from './contract.ts';
import { words } from '../../model/words.ts';

const OUTPUTS = ['pitch', 'velocity', 'pressure', 'held'] as const;
/** Seconds that a value takes at least to get to the next note's. */
const LEAST_GLIDE = 0.004;

export const playedNotes = defineModulator({
  kind: 'notes',
  title: 'MIDI notes',
  summary: 'Follows played notes: how high they are, how hard they are struck or pressed, or whether one is held.',
  keywords: words(
    'keyboard, midi, pitch, velocity, pressure, key tracking, melody, notes, midi notes, key, aftertouch, gate',
  ),
  polarity: 'both',
  params: {
    notes: notes({ doc: 'The notes, in beats from the start of the sound; typed, or imported from a MIDI file.' }),
    by: choice(OUTPUTS, {
      label: 'follow',
      shown: { held: 'gate' },
      default: 'pitch',
      doc: 'What of the notes is followed.',
    }),
    centre: key({
      label: 'centre note',
      default: 60,
      min: 0,
      max: 127,
      doc: 'The note at which pitch is in the middle of its range.',
    }),
    range: semitones({
      label: 'note range',
      default: 24,
      min: 1,
      max: 96,
      doc: 'How far from the centre a note has to be for the full depth.',
    }),
    glide: time({
      label: 'glide (smoothing)',
      default: 0.01,
      min: 0,
      max: 10,
      doc: 'How long it takes from one note to the next.',
    }),
  },
  create({ sampleRate }, settings) {
    const by = settings.by;
    const row = new NoteRow(settings.notes, sampleRate);
    const output = new Float64Array(2);
    const valueOf = (index: number, frame: number, centre: number, range: number): number => {
      if (index < 0) return by === 'pitch' ? 0 : -1;
      const note = row.notes[index];
      if (by === 'held') return frame < row.endOf(index) ? 1 : -1;
      if (by === 'pitch') return Math.max(-1, Math.min(1, (note.key - centre) / range));
      return 2 * (by === 'velocity' ? note.velocity : note.pressure) - 1;
    };
    return {
      output,
      start(position, values) {
        this.advance(NO_INPUT, 0, 0, position, values);
      },
      advance(_input, _at, frames, position, values) {
        const frame = position + frames;
        const index = row.lastAt(frame);
        const centre = values.centre.end;
        const range = values.range.end;
        const now = valueOf(index, frame, centre, range);
        const glide = Math.max(LEAST_GLIDE, values.glide.end) * sampleRate;
        // What changed last: a note that began, or, held, one that ended.
        const ended = by === 'held' && index >= 0 && frame >= row.endOf(index);
        const since = index < 0 ? glide : frame - (ended ? row.endOf(index) : row.startOf(index));
        const before = ended
          ? 1
          : index > 0
            ? valueOf(index - 1, row.startOf(index) - 1, centre, range)
            : valueOf(-1, 0, centre, range);
        output[0] = before + (now - before) * smoothStep(since / glide);
        output[1] = output[0];
      },
    };
  },
});
