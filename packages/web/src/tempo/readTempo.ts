import { InputError, TEMPO_RANGE, parseNumber } from '@hexenkessel/core/model';

/** Reads `93 bpm` or `93`; InputError for what is out of range. */
export function readTempo(text: string): number {
  const tempo = parseNumber(text, ['bpm']);
  if (tempo < TEMPO_RANGE.min || tempo > TEMPO_RANGE.max)
    throw new InputError(`${tempo} bpm is out of range; allowed is ${TEMPO_RANGE.min} to ${TEMPO_RANGE.max}.`);
  return tempo;
}
