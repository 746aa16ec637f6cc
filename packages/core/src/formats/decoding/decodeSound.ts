/** Any sound file that can be read, as pieces of samples: WAV and AIFF read here, the packed formats by WebAssembly decoders. */
import { InputError } from '../../model/errors.ts';
import { pickedChannels } from '../common/pickedChannels.ts';
import type { ByteSource } from '../common/byteSource.ts';
import { WavReader, refuseLongClip, type SoundReader } from '../wav/reader.ts';
import { ClipReader } from './clipReader.ts';
import type { Clip } from '../../model/clip.ts';
import { decodeAiffFrames, readAiffHeader } from './aiff.ts';
import { refuseRate, type SoundStream } from './soundStream.ts';
import { SOUND_FORMATS, foreignFormatOf, soundFormatOf } from './soundFormat.ts';

const PIECE_FRAMES = 65_536;

/** The whole sound as a clip. InputError when it is broken, or longer than a clip may be. */
export async function decodeClip(stream: SoundStream): Promise<Clip> {
  if (stream.promised !== undefined) refuseLongClip(stream.promised, stream.channels);
  const pieces: Float32Array[][] = [];
  let frames = 0;
  for await (const piece of stream.pieces()) {
    frames += piece[0].length;
    refuseLongClip(frames, stream.channels);
    pieces.push(piece);
  }
  const channels = Array.from({ length: stream.channels }, (_, c) => {
    const whole = new Float32Array(frames);
    let at = 0;
    for (const piece of pieces) {
      whole.set(piece[c], at);
      at += piece[c].length;
    }
    return whole;
  });
  return { sampleRate: stream.sampleRate, origin: 0, channels };
}

/** Opens any sound file that can be read; what is packed is decoded at once. */
export async function openSound(source: ByteSource, picked?: readonly number[]): Promise<SoundReader> {
  if (source.size >= 12 && (await soundFormatOf(source)) === 'wav') return WavReader.open(source, picked);
  const stream = await decodeSound(source, picked);
  return new ClipReader(await decodeClip(stream), stream.format, stream.timeReference, stream.marks);
}

/** `picked`: one or two channels of the file, from 0. InputError says what is wrong with it, or what can be read. */
export async function decodeSound(source: ByteSource, picked?: readonly number[]): Promise<SoundStream> {
  const format = source.size < 12 ? undefined : await soundFormatOf(source);
  if (format === undefined)
    throw new InputError(
      source.size === 0
        ? 'The file is empty; a sound file is needed.'
        : `This is not a sound file that can be read: it ${await nameOf(source)}; allowed are ${SOUND_FORMATS.join(', ')}.`,
    );
  if (format === 'wav') return wavStream(await WavReader.open(source, picked));
  if (format === 'aiff') return aiffStream(source, picked);
  // The decoders take tens of megabytes, so they are loaded only when there is something for them.
  return (await import('./packedSound.ts')).packedStream(source, format, picked);
}

/** `is …` where its kind is known, or how it begins. */
async function nameOf(source: ByteSource): Promise<string> {
  const known = source.size < 12 ? undefined : await foreignFormatOf(source);
  return known === undefined ? `begins with ${await opening(source)}` : `is ${known}`;
}

async function opening(source: ByteSource): Promise<string> {
  const bytes = await source.read(0, Math.min(4, source.size));
  return `"${String.fromCharCode(...bytes).replace(/[^\x20-\x7e]/g, '?')}"`;
}

function wavStream(reader: WavReader): SoundStream {
  const { header, sampleRate, channels } = reader;
  return {
    format: 'wav',
    sampleRate,
    channels,
    fileChannels: header.channels,
    marks: header.marks,
    timeReference: header.timeReference,
    warning: header.warning,
    async *pieces() {
      for await (const { samples } of reader.pieces()) yield samples;
    },
  };
}

async function aiffStream(source: ByteSource, wanted?: readonly number[]): Promise<SoundStream> {
  const header = await readAiffHeader(source);
  const { sampleRate, channels: all, frames, bits, dataOffset, marks } = header;
  refuseRate(sampleRate, 'AIFF');
  const picked = pickedChannels(all, wanted);
  const frameBytes = all * (bits / 8);
  return {
    format: 'aiff',
    sampleRate,
    channels: picked.length,
    fileChannels: all,
    marks,
    timeReference: undefined,
    async *pieces() {
      for (let from = 0; from < frames; from += PIECE_FRAMES) {
        const count = Math.min(PIECE_FRAMES, frames - from);
        const bytes = await source.read(dataOffset + from * frameBytes, count * frameBytes);
        const samples = decodeAiffFrames(bytes, header, picked);
        if (!samples.every((side) => side.every(Number.isFinite)))
          throw new InputError('The AIFF file contains a NaN or infinite sample; every sample must be finite.');
        yield samples;
      }
    },
  };
}
