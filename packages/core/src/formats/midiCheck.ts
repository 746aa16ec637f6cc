import { InputError } from '../model/errors.ts';
import { LIMITS } from '../model/limits.ts';

/** A variable-length quantity has at most four bytes (RP-001). */
const LENGTH_BYTES = 4;

/**
 * Goes through the chunks and events of a Standard MIDI File once, and refuses what reaches out of its chunk: whoever
 * reads it afterwards comes forward with every event and ends. InputError says at which byte it is broken.
 */
export function checkMidi(bytes: Uint8Array): void {
  if (bytes.length > LIMITS.midiBytes)
    throw new InputError(`The MIDI file has ${bytes.length} bytes; at most ${LIMITS.midiBytes} (8 MiB) are allowed.`);
  if (asText(bytes, 0) !== 'MThd')
    throw new InputError('This is not a Standard MIDI File: it does not begin with MThd.');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let events = 0;
  for (let at = 0; at < bytes.length;) {
    const left = bytes.length - at - 8;
    const claimed = left >= 0 ? view.getUint32(at + 4) : 0;
    if (left < 0 || claimed > left)
      throw new InputError(
        `The MIDI file is broken or cut short: a chunk claims ${claimed} bytes, ${Math.max(0, left)} are there.`,
      );
    if (at === 0 && claimed < 6)
      throw new InputError(`The MIDI file is broken: its header has ${claimed} bytes; 6 are needed.`);
    if (asText(bytes, at) === 'MTrk') events += countEvents(bytes, at + 8, at + 8 + claimed);
    if (events > LIMITS.midiEvents)
      throw new InputError(`The MIDI file has more than ${LIMITS.midiEvents} events, which is the most allowed.`);
    at += 8 + claimed;
  }
}

const asText = (bytes: Uint8Array, at: number) => String.fromCharCode(...bytes.subarray(at, at + 4));

/** Events of a track from byte `start` to `end`. */
function countEvents(bytes: Uint8Array, start: number, end: number): number {
  let at = start;
  let status = 0;
  let events = 0;
  const broken = (what: string): never => {
    throw new InputError(`The MIDI file is broken at byte ${at}: ${what}.`);
  };
  const quantity = (): number => {
    let value = 0;
    for (let n = 0; n < LENGTH_BYTES; n++) {
      if (at >= end) broken('its track ends within a number');
      const byte = bytes[at++];
      value = value * 128 + (byte & 0x7f);
      if (byte < 0x80) return value;
    }
    return broken(`a number has more than ${LENGTH_BYTES} bytes`);
  };
  const pass = (count: number) => {
    if (count > end - at) broken(`an event claims ${count} bytes, ${end - at} are left of its track`);
    at += count;
  };
  for (; at < end; events++) {
    quantity();
    if (at >= end) broken('its track ends within an event');
    const first = bytes[at];
    if (first === 0xff) {
      pass(2);
      pass(quantity());
    } else if (first === 0xf0 || first === 0xf7) {
      pass(1);
      pass(quantity());
    } else if (first > 0xf0) broken(`${first} is no event of a file`);
    else {
      if (first >= 0x80) {
        status = first;
        at++;
      } else if (status === 0) broken('an event goes on with a status that none has set');
      pass(status >> 4 === 0xc || status >> 4 === 0xd ? 1 : 2);
    }
  }
  return events;
}
