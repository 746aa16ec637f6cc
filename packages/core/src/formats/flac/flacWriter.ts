import type loadFlac from 'libflacjs';
import type { Span } from '../../engine/clip.ts';
import { Quantiser, type IntegerDepth } from '../quantise.ts';

export interface FlacFormat {
  readonly sampleRate: number;
  readonly channels: number;
  readonly depth: IntegerDepth;
  /** Frames that get dither; all when left out. */
  readonly dithered?: readonly Span[];
  /** All that will come. */
  readonly frames: number;
}

type Flac = ReturnType<typeof loadFlac>;

/** 0 quickest … 8 smallest. */
const COMPRESSION = 5;

let library: Promise<Flac> | undefined;

/** The reference encoder (RFC 9639), compiled to JavaScript; loaded when it is first needed. */
function flacLibrary(): Promise<Flac> {
  return (library ??= import('libflacjs').then(
    ({ default: load }) =>
      new Promise((resolve) => {
        const flac = load('release');
        if (flac.isReady()) resolve(flac);
        else flac.on('ready', () => resolve(flac));
      }),
  ));
}

/** A FLAC file as pieces of bytes. Rounded as WAV files are, so the same samples give the same sound. */
export async function* encodeFlac(
  pieces: Iterable<readonly Float32Array[]> | AsyncIterable<readonly Float32Array[]>,
  { sampleRate, channels, depth, dithered, frames }: FlacFormat,
): AsyncGenerator<Uint8Array> {
  const flac = await flacLibrary();
  const encoder = flac.create_libflac_encoder(sampleRate, channels, Number(depth), COMPRESSION, frames, false, 0);
  if (encoder === 0) throw new Error('The FLAC encoder could not be made.');
  const ready: Uint8Array[] = [];
  try {
    const status = flac.init_encoder_stream(encoder, (bytes) => void ready.push(bytes.slice()));
    if (status !== 0)
      throw new Error(`The FLAC encoder does not take ${sampleRate} Hz, ${channels} channels, ${depth} bits.`);
    const quantiser = new Quantiser(depth, dithered);
    for await (const piece of pieces) {
      const steps = quantiser.steps(piece);
      if (!flac.FLAC__stream_encoder_process_interleaved(encoder, steps, piece[0].length))
        throw new Error('The FLAC encoder failed.');
      yield* ready.splice(0);
    }
    flac.FLAC__stream_encoder_finish(encoder);
    yield* ready.splice(0);
  } finally {
    flac.FLAC__stream_encoder_delete(encoder);
  }
}
