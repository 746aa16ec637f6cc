import type loadFlac from 'libflacjs';
import type { Span } from '../../model/clip.ts';
import { Quantiser, type IntegerDepth } from '../common/quantise.ts';
import { join, words } from '../wav/chunks.ts';

/** What a file says of itself. */
export interface FlacTags {
  readonly TITLE?: string;
  readonly COMMENT?: string;
  /** Frames from midnight to the first sample, as `bext` of a WAV file says. */
  readonly TIME_REFERENCE?: string;
}

export interface FlacFormat {
  readonly sampleRate: number;
  readonly channels: number;
  readonly depth: IntegerDepth;
  /** Frames that get dither; all when left out. */
  readonly dithered?: readonly Span[];
  /** All that will come. */
  readonly frames: number;
  readonly tags?: FlacTags;
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

const STREAM_INFO = 34;
const LAST_BLOCK = 0x80;
const COMMENT_BLOCK = 4;

/**
 * A FLAC file. Rounded as WAV files are, so the same samples give the same sound. Its beginning says the MD5 of the samples
 * (RFC 9639, 8.2), which is known at the end: then it is written again, as long as it was.
 */
export class FlacFile {
  private readonly pieces: Iterable<readonly Float32Array[]> | AsyncIterable<readonly Float32Array[]>;
  private readonly format: FlacFormat;
  private info = new Uint8Array(STREAM_INFO);

  constructor(pieces: Iterable<readonly Float32Array[]> | AsyncIterable<readonly Float32Array[]>, format: FlacFormat) {
    this.pieces = pieces;
    this.format = format;
  }

  /** Everything before the samples. */
  beginning(): Uint8Array {
    const comments = commentBlock(this.format.tags ?? {});
    const block = (type: number, body: Uint8Array) => [
      Uint8Array.of(type, body.length >> 16, body.length >> 8, body.length),
      body,
    ];
    return join([
      new TextEncoder().encode('fLaC'),
      ...block(0, this.info),
      ...block(LAST_BLOCK | COMMENT_BLOCK, comments),
    ]);
  }

  /** The file, with a beginning that has to be written again. */
  async *bytes(): AsyncGenerator<Uint8Array> {
    const { sampleRate, channels, depth, dithered, frames } = this.format;
    const flac = await flacLibrary();
    const encoder = flac.create_libflac_encoder(sampleRate, channels, Number(depth), COMPRESSION, frames, false, 0);
    if (encoder === 0) throw new Error('The FLAC encoder could not be made.');
    const ready: Uint8Array[] = [];
    const before: Uint8Array[] = [];
    try {
      const status = flac.init_encoder_stream(
        encoder,
        // Without samples come the encoder's own blocks, in whose place stand ours.
        (bytes, _count, samples) => void (samples > 0 ? ready : before).push(bytes.slice()),
        (metadata) => metadata && this.finish(metadata),
      );
      if (status !== 0)
        throw new Error(`The FLAC encoder does not take ${sampleRate} Hz, ${channels} channels, ${depth} bits.`);
      this.info = join(before).slice(8, 8 + STREAM_INFO);
      yield this.beginning();
      const quantiser = new Quantiser(depth, dithered);
      for await (const piece of this.pieces) {
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

  private finish({ min_framesize: least, max_framesize: most, md5sum }: Finished): void {
    const { info } = this;
    [least, most].forEach((size, n) => info.set([size >> 16, size >> 8, size], 4 + 3 * n));
    for (let i = 0; i < 16; i++) info[18 + i] = parseInt(md5sum.slice(2 * i, 2 * i + 2), 16);
  }
}

interface Finished {
  readonly min_framesize: number;
  readonly max_framesize: number;
  /** In hexadecimal digits. */
  readonly md5sum: string;
}

/** A whole file in memory. */
export async function flacBytes(pieces: Iterable<readonly Float32Array[]>, format: FlacFormat): Promise<Uint8Array> {
  const file = new FlacFile(pieces, format);
  const parts: Uint8Array[] = [];
  for await (const part of file.bytes()) parts.push(part);
  return join([file.beginning(), ...parts.slice(1)]);
}

/** Tags as Vorbis comments, their lengths in the other order of bytes than all else. */
function commentBlock(tags: FlacTags): Uint8Array {
  const text = (line: string) => {
    const bytes = new TextEncoder().encode(line);
    return join([words([[4, bytes.length]]), bytes]);
  };
  const lines = Object.entries(tags).flatMap(([name, value]) =>
    value === undefined || value === '' ? [] : [text(`${name}=${value}`)],
  );
  return join([text('Hexenkessel'), words([[4, lines.length]]), ...lines]);
}
