import { MOST_NOTES, parseNotes, printNotes, type Note } from '../../modulation/notes.ts';
import { beatSeconds } from '../../timing/tempo.ts';
import type { ParamText, ParamType } from './contract.ts';
import { shared } from './musical.ts';
import { halfWay } from './scale.ts';

/** Played notes. */
export interface NotesParam extends ParamText {
  readonly type: 'notes';
  readonly default: readonly Note[];
}

/** Played notes; none by default. */
export const notes = (p: ParamText & { default?: readonly Note[] }): NotesParam => ({
  type: 'notes',
  default: [],
  ...p,
});

export const playedNotesSchema = shared((z) => {
  const share = z.number().min(0).max(1);
  const note = z.strictObject({
    at: z.number().min(0).max(100_000).describe('Beats'),
    length: z.number().min(0).max(100_000).describe('Beats'),
    key: z.number().min(0).max(127),
    velocity: share.default(1),
    pressure: share.default(0),
  });
  return z.array(note).max(MOST_NOTES);
});

export const notesType: ParamType<NotesParam, readonly Note[]> = {
  unit: '',
  scaled: false,
  /** Beats become seconds, as those of a curve. */
  resolve(_param, value, timing) {
    const beat = beatSeconds(timing);
    return value.map((note) => ({ ...note, at: note.at * beat, length: note.length * beat }));
  },
  print: (_param, value) => printNotes(value) || 'none',
  parse: (_param, text) => parseNotes(text),
  range: () => 'notes such as 0:1 C3 100, 1:0.5 Eb3 80, or none',
  schema: (_param, z) => playedNotesSchema(z),
  blend: halfWay,
};
