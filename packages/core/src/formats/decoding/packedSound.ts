/** Packed sound files, by WebAssembly decoders: the same on the server, the command line and the page. */
import { FLACDecoder } from '@wasm-audio-decoders/flac';
import { OggVorbisDecoder } from '@wasm-audio-decoders/ogg-vorbis';
import { MPEGDecoder } from 'mpg123-decoder';
import { OggOpusDecoder } from 'ogg-opus-decoder';
import { InputError } from '../../model/errors.ts';
import { pickedChannels } from '../common/pickedChannels.ts';
import { NO_MARKS } from '../common/soundMarks.ts';
import type { ByteSource } from '../common/byteSource.ts';
import { refuseLongSound, refuseRate, type SoundStream } from './soundStream.ts';
import { isMonoMp3, opusFrames, promisedFrames, refuseCutOgg, vorbisFrames } from './declaredLength.ts';
import type { SoundFormat } from './soundFormat.ts';

/** What is read at once. */
const READ_BYTES = 1 << 18;
/**
 * Bytes that are decoded at once. A frame of FLAC can be 65,535 frames of silence in 14 bytes, and a page of Opus half a
 * minute of it in 800, so that even this little may become 20 MB. A page of Ogg is looked through again with each piece of it,
 * which makes smaller ones slow.
 */
const STEP_BYTES: Record<PackedFormat, number> = { flac: 256, mp3: 1024, opus: 1024, 'ogg vorbis': 4096 };

interface Decoded {
  readonly channelData: Float32Array[];
  readonly samplesDecoded: number;
  readonly sampleRate: number;
  /** Where samples are whole steps. */
  readonly bitDepth?: number;
  readonly errors: readonly { readonly message: string }[];
}

interface Decoder {
  readonly ready: Promise<void>;
  decode(bytes: Uint8Array): Decoded | Promise<Decoded>;
  flush?(): Promise<Decoded>;
  free(): void;
}

/**
 * Where the channels that a WAV file has in the order left, right, centre, low, back, side stand in Ogg Vorbis and Opus
 * (Vorbis I specification 4.3.9), by how many there are.
 */
const OGG_ORDER: Readonly<Record<number, readonly number[]>> = {
  3: [0, 2, 1],
  5: [0, 2, 1, 3, 4],
  6: [0, 2, 1, 5, 3, 4],
  7: [0, 2, 1, 6, 5, 3, 4],
  8: [0, 2, 1, 7, 5, 6, 3, 4],
};

type PackedFormat = Exclude<SoundFormat, 'wav' | 'aiff'>;

const NAMES: Record<PackedFormat, string> = { flac: 'FLAC', 'ogg vorbis': 'Ogg Vorbis', opus: 'Opus', mp3: 'MP3' };

function decoderOf(format: PackedFormat): Decoder {
  if (format === 'flac') return new FLACDecoder();
  if (format === 'ogg vorbis') return new OggVorbisDecoder();
  // Channels as they are, not all on two.
  return format === 'opus' ? new OggOpusDecoder({ forceStereo: false }) : new MPEGDecoder();
}

/** The first piece is decoded at once: it tells rate and channels. */
export async function packedStream(
  source: ByteSource,
  format: PackedFormat,
  wanted: readonly number[] | undefined,
): Promise<SoundStream> {
  const name = NAMES[format];
  const promised = await promisedFrames(source, format);
  if (format === 'ogg vorbis' || format === 'opus') await refuseCutOgg(source, name);
  const decoding = decodedPieces(source, format, promised);
  const first = await decoding.next();
  if (first.done) throw new InputError(`The ${name} file holds no sound.`);
  const { sampleRate, channelData } = first.value;
  const length = format === 'opus' ? await opusFrames(source) : Infinity;
  const told = format === 'ogg vorbis' ? await vorbisFrames(source) : (promised ?? length);
  refuseRate(sampleRate, name);
  const fileChannels = format === 'mp3' && (await isMonoMp3(source)) ? 1 : channelData.length;
  const picked = pickedChannels(fileChannels, wanted);
  // Packed sounds are short to send and long to unpack: what says that it is too long is not unpacked at all.
  if (Number.isFinite(told)) refuseLongSound(told, sampleRate, picked.length);
  const order = format === 'ogg vorbis' || format === 'opus' ? OGG_ORDER[fileChannels] : undefined;
  const taken = (piece: Decoded, from: number) => {
    const count = Math.min(piece.samplesDecoded, length - from);
    return picked.map((channel) => piece.channelData[order?.[channel] ?? channel].subarray(0, count));
  };
  return {
    format,
    sampleRate,
    channels: picked.length,
    fileChannels,
    marks: NO_MARKS,
    timeReference: undefined,
    ...(Number.isFinite(told) ? { promised: told } : {}),
    async *pieces() {
      let frames = first.value.samplesDecoded;
      yield taken(first.value, 0);
      for await (const piece of decoding) {
        if (piece.sampleRate !== sampleRate || piece.channelData.length !== channelData.length)
          throw new InputError(`The ${name} file changes its rate or its channels on the way, which is not allowed.`);
        const from = frames;
        frames += piece.samplesDecoded;
        refuseLongSound(frames, sampleRate, picked.length);
        if (from < length) yield taken(piece, from);
      }
    },
  };
}

async function* decodedPieces(
  source: ByteSource,
  format: PackedFormat,
  promised: number | undefined,
): AsyncGenerator<Decoded, void> {
  const name = NAMES[format];
  const decoder = decoderOf(format);
  const step = STEP_BYTES[format];
  let frames = 0;
  let broken = false;
  const decoded = async (work: () => Decoded | Promise<Decoded>): Promise<Decoded> => {
    try {
      return await work();
    } catch {
      broken = true;
      // Whatever a decoder trips over inside itself, it is the file that made it do so.
      throw new InputError(`The ${name} file is damaged: it cannot be decoded beyond frame ${frames}.`);
    }
  };
  try {
    await decoder.ready;
    for (let at = 0; at < source.size; at += READ_BYTES) {
      const bytes = await source.read(at, Math.min(READ_BYTES, source.size - at));
      for (let from = 0; from < bytes.length; from += step) {
        const piece = await decoded(() => decoder.decode(bytes.subarray(from, from + step)));
        frames += piece.samplesDecoded;
        if (piece.samplesDecoded > 0) yield inWholeSteps(piece, format);
      }
    }
    const rest = await decoded(async () => (await decoder.flush?.()) ?? NOTHING);
    frames += rest.samplesDecoded;
    if (rest.samplesDecoded > 0) yield inWholeSteps(rest, format);
  } finally {
    // One that broke may break again, and is left to the collector of garbage.
    if (!broken) decoder.free();
  }
  // What a decoder pads or trims at the ends is far below a tenth of a second.
  if (promised !== undefined && frames < promised - 4800)
    throw new InputError(`The ${name} file is truncated: its header claims ${promised} frames, ${frames} are there.`);
}

const NOTHING: Decoded = { channelData: [], samplesDecoded: 0, sampleRate: 0, errors: [] };

/** The FLAC decoder takes the highest step for 1; here, as in every WAV file, 1 lies one step above it. */
function inWholeSteps(piece: Decoded, format: PackedFormat): Decoded {
  if (format !== 'flac' || piece.bitDepth === undefined) return piece;
  const full = 2 ** (piece.bitDepth - 1);
  for (const side of piece.channelData)
    for (let i = 0; i < side.length; i++) side[i] = Math.round(side[i] * (full - 1)) / full;
  return piece;
}
