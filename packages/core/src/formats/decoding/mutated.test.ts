/** Files that were changed at random: each is read, or refused in words; nothing breaks, hangs or swells. */
import { readFile } from 'node:fs/promises';
import { expect, test, vi } from 'vitest';
import { createRandom } from '../../dsp/random.ts';
import { InputError } from '../../model/errors.ts';
import { LONG } from '../../testing/long.ts';
import { sine } from '../../testing/signals.ts';
import { bytesInMemory } from '../common/byteSource.ts';
import { lanesFromCsv } from '../laneCsv.ts';
import { readTempoMap } from '../midi.ts';
import { readMidiLanes } from '../midiLanes.ts';
import { readMidiNotes } from '../midiNotes.ts';
import { encodeWav } from '../wav/writer.ts';
import { decodeSound } from './decodeSound.ts';

const fixture = async (name: string) => new Uint8Array(await readFile(new URL(`./fixtures/${name}`, import.meta.url)));
const text = (words: string) => new TextEncoder().encode(words);

async function unpack(bytes: Uint8Array): Promise<void> {
  const stream = await decodeSound(bytesInMemory(bytes));
  let frames = 0;
  for await (const piece of stream.pieces()) {
    frames += piece[0].length;
    // What a file of a second says of hours is told by other tests.
    if (frames > 1e6) return;
  }
}

/** A type 1 file: a tempo, a meter, notes and a controller. */
const MIDI = Uint8Array.from([
  ...text('MThd'), 0, 0, 0, 6, 0, 0, 0, 1, 1, 0xe0,
  ...text('MTrk'), 0, 0, 0, 41,
  0, 0xff, 0x51, 3, 7, 0xa1, 0x20,
  0, 0xff, 0x58, 4, 3, 2, 24, 8,
  0, 0x90, 60, 100, 0x83, 0x60, 0x80, 60, 0,
  0, 0xb0, 1, 64, 0x83, 0x60, 0xb0, 1, 127,
  0, 0xe0, 0, 0x40, 0, 0xff, 0x2f, 0,
]); // prettier-ignore

const CSV =
  'target;over;at;value;bend\r\n"echo.mix";beats;0;0,5;0\r\nfilter.cutoff;beats;1,5;0,25;0,5\r\nfilter.cutoff;beats;4;1;0\r\n';

/** What is read, how, and how many of it are tried each time. */
const READERS: readonly (readonly [string, () => Promise<Uint8Array>, (bytes: Uint8Array) => unknown, number])[] = [
  ['flac', () => fixture('two-tones.flac'), unpack, 640],
  ['ogg', () => fixture('two-tones.ogg'), unpack, 120],
  ['opus', () => fixture('two-tones.opus'), unpack, 120],
  ['mp3', () => fixture('two-tones.mp3'), unpack, 120],
  ['aiff', () => fixture('two-tones.aiff'), unpack, 2000],
  ['wav', async () => Buffer.concat([...encodeWav(sine(440, 0.5, 0.02, 48000, 2), { depth: '24' })]), unpack, 7500],
  ['tempo map', async () => MIDI, (bytes) => readTempoMap(bytes), 3000],
  ['notes', async () => MIDI, (bytes) => readMidiNotes(bytes), 3000],
  ['lanes of MIDI', async () => MIDI, (bytes) => readMidiLanes(bytes), 3000],
  ['lanes', async () => text(CSV), (bytes) => lanesFromCsv(new TextDecoder().decode(bytes)), 500],
];

/** One to six changes, each of a kind that damaged or hostile files have. */
function mutate(given: Uint8Array, random: () => number): Uint8Array {
  let bytes = Buffer.from(given);
  const below = (count: number) => Math.floor(random() * count);
  for (let left = 1 + below(6); left > 0 && bytes.length > 1; left--) {
    // Headers are short and say the most: every other change is there.
    const at = below(random() < 0.5 ? Math.min(bytes.length, 128) : bytes.length);
    const size = 1 + below(Math.min(64, bytes.length - at));
    const kind = below(7);
    if (kind < 2) bytes[at] ^= 1 << below(8);
    else if (kind === 2) bytes[at] = below(256);
    else if (kind === 3) bytes.fill(random() < 0.5 ? 0xff : 0, at, at + Math.min(8, size));
    else if (kind === 4) bytes = bytes.subarray(0, at + 1);
    else if (kind === 5) bytes = Buffer.concat([bytes.subarray(0, at), bytes.subarray(at + size)]);
    else bytes = Buffer.concat([bytes.subarray(0, at + size), bytes.subarray(at)]);
  }
  return Uint8Array.from(bytes);
}

/** Milliseconds. */
const HANG = 10_000;

const TIMES = LONG ? 50 : 1;

test.each(READERS)('%s', async (_kind, original, read, count) => {
  // Decoders tell the console what they meet.
  vi.spyOn(console, 'error').mockReturnValue();
  const bytes = await original();
  await read(bytes);
  const random = createRandom(20261128);
  const broken: string[] = [];
  let slowest = 0;
  for (let n = 0; n < count * TIMES; n++) {
    const changed = mutate(bytes, random);
    const begun = performance.now();
    try {
      await read(changed);
    } catch (error) {
      if (!(error instanceof InputError)) broken.push(`${n}: ${(error as Error).stack?.slice(0, 400)}`);
    }
    slowest = Math.max(slowest, performance.now() - begun);
  }
  expect(broken).toEqual([]);
  // A hang is seconds; that of a busy machine is not.
  expect(slowest).toBeLessThan(HANG);
});
