import { InputError, LIMITS } from '@hexenkessel/core/model';
import { resampled } from '@hexenkessel/core/engine';
import { MeasureStream } from '@hexenkessel/core/analysis';
import { WavEncoder, WavReader, scaledMarks, type ByteSource } from '@hexenkessel/core/formats';
import { decodeSound } from '@hexenkessel/core/codecs';
import { levels, withBytes, writePieces } from './soundFile.ts';
import type { TakeOrder, Taken } from './tasks.ts';

/**
 * Reads a sound from end to end, which finds every fault in it, and measures it. What is not a WAV file of one or two
 * channels, or shall have another rate, is written as one of 32-bit floats, which hold every sample as it is. `onPiece` is
 * called at each step of the work.
 */
export async function takeSound({ path, outputPath, channels, rate }: TakeOrder, onPiece: () => void): Promise<Taken> {
  return withBytes(path, async (source) => {
    const stream = await decodeSound(source, channels);
    const { sampleRate, marks, timeReference, format, warning } = stream;
    // A file that lies of its length is written anew with the true one.
    const keeps =
      format === 'wav' && stream.fileChannels === stream.channels && channels === undefined && warning === undefined;
    if (keeps && (rate === undefined || rate === sampleRate)) return measureAsItIs(source, onPiece);
    const newRate = rate ?? sampleRate;
    const factor = newRate / sampleRate;
    const pieces = newRate === sampleRate ? stream.pieces() : resampled(stream.pieces(), stream.channels, factor);
    const place = timeReference === undefined ? undefined : Math.round(timeReference * factor);
    const meter = new MeasureStream(newRate, stream.channels);
    // Its length shows only at the end, and must then fit the header that was written first.
    const longest = Math.floor((LIMITS.soundBytes - 4096) / (4 * stream.channels));
    let frames = 0;
    const encoder = new WavEncoder(
      {
        depth: '32f',
        sampleRate: newRate,
        channels: stream.channels,
        ...(place === undefined ? {} : { timeReference: place }),
      },
      1,
    );
    const bytes = async function* () {
      yield encoder.header();
      for await (const piece of pieces) {
        frames += piece[0].length;
        if (frames > longest)
          throw new InputError(`The sound has more than ${longest} frames, which take 4 GiB; no more are allowed.`);
        meter.process(piece, piece[0].length);
        yield encoder.encode(piece);
      }
      yield encoder.padding();
    };
    const written = await writePieces(outputPath, bytes(), { beginning: () => encoder.header(), onPiece });
    if (frames === 0) throw new InputError('The file holds no sound.');
    return {
      written,
      frames,
      sampleRate: newRate,
      channels: stream.channels,
      format: 'f32',
      sourceFormat: format,
      warning,
      marks: factor === 1 ? marks : scaledMarks(marks, factor, frames),
      timeReference: place ?? null,
      ...levels(meter.finish()),
    };
  });
}

async function measureAsItIs(source: ByteSource, onPiece: () => void): Promise<Taken> {
  const reader = await WavReader.open(source);
  const { sampleRate, channels, frames, marks, format, timeReference } = reader;
  const meter = new MeasureStream(sampleRate, channels);
  for await (const { samples } of reader.pieces()) {
    meter.process(samples, samples[0].length);
    onPiece();
  }
  const place = timeReference ?? null;
  return {
    sampleRate,
    channels,
    format,
    frames,
    marks,
    sourceFormat: 'wav',
    timeReference: place,
    ...levels(meter.finish()),
  };
}
