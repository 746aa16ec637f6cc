import { InputError, shortened } from '../model/errors.ts';
import { parseKey, printKey } from '../timing/expressions.ts';
import { refuseLong } from './writtenCurve.ts';

/** A played note. */
export interface Note {
  /** Where it begins and how long it lasts, in beats. */
  readonly at: number;
  readonly length: number;
  /** MIDI key, 60 for C4. */
  readonly key: number;
  /** How hard it was struck and how hard it is pressed, 0…1. */
  readonly velocity: number;
  readonly pressure: number;
}

export const MOST_NOTES = 2000;

/** `0:1 C3 100`, several with commas: place and length in beats, the note, velocity and, where it is not 0, pressure in percent. */
export function printNotes(notes: readonly Note[]): string {
  const percent = (share: number) => Number((100 * share).toFixed(1));
  return notes
    .map(({ at, length, key, velocity, pressure }) =>
      [`${at}:${length}`, printKey(key), percent(velocity), ...(pressure === 0 ? [] : [percent(pressure)])].join(' '),
    )
    .join(', ');
}

const NUMBER = String.raw`((?:\d+(?:\.\d+)?|\.\d+))`;
const NOTE = new RegExp(`^${NUMBER}:${NUMBER}\\s+([a-g][#b]?-?\\d{1,2})(?:\\s+${NUMBER})?(?:\\s+${NUMBER})?$`, 'i');

/** Reads what `printNotes` writes; velocity 100 and pressure 0 may be left out. InputError with an example. */
export function parseNotes(text: string): Note[] {
  refuseLong(text);
  if (text.trim() === '' || text.trim().toLowerCase() === 'none') return [];
  const plain = text.replaceAll('\u2212', '-');
  const notes = plain.split(',').map((part): Note => {
    const match = NOTE.exec(part.trim());
    if (!match)
      throw new InputError(
        `"${shortened(part.trim())}" is not a note; write place:length in beats, the note and its velocity in percent, such as "0:1 C3 100, 1:0.5 Eb3 80".`,
      );
    const [velocity, pressure] = [Number(match[4] ?? 100) / 100, Number(match[5] ?? 0) / 100];
    if (velocity > 1 || pressure > 1)
      throw new InputError(`"${shortened(part.trim())}": velocity and pressure are in percent; allowed is 0 to 100.`);
    return { at: Number(match[1]), length: Number(match[2]), key: parseKey(match[3]), velocity, pressure };
  });
  return notes.sort((a, b) => a.at - b.at);
}
