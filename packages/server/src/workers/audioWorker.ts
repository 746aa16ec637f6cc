/** Runs in a worker thread: everything that reads or writes whole sounds. */
import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { open, type FileHandle } from 'node:fs/promises';
import { pipeline } from 'node:stream/promises';
import { InputError, LIMITS, frameCount, type Span } from '@hexenkessel/core/model';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { Mix, atRate, bankOf, renderJob, wayOf, type MixPart, type SoundBank } from '@hexenkessel/core/engine';
import { MeasureStream, measureClip, type Measures } from '@hexenkessel/core/analysis';
import {
  ClipReader,
  DitherScan,
  StreamedWav,
  WavEncoder,
  WavReader,
  bytesOfFile,
  encodeRender,
  piecesOf,
  renderTimeReference,
  scaledMarks,
  timeReferenceOf,
  type ByteSource,
  type RenderLabel,
} from '@hexenkessel/core/formats';
import type { Dither } from '@hexenkessel/core/protocol';
import { FlacFile, decodeClip, decodeSound } from '@hexenkessel/core/codecs';
import type {
  Answer,
  DitherTask,
  ExportTask,
  Measured,
  MixTask,
  MixedDown,
  Rendered,
  RenderTask,
  Sampling,
  TakeTask,
  Taken,
  Task,
} from './tasks.ts';

class Cancelled extends Error {}

/** Errors lose their code between threads, so it is answered. */
const DISK_FULL = 'The disk is full; free some space and try again. Nothing was saved.';

export default async function runTask(task: Task): Promise<Answer<unknown>> {
  try {
    if (task.task === 'take') return { outcome: 'done', result: await take(task) };
    if (task.task === 'render') return { outcome: 'done', result: await render(task) };
    if (task.task === 'mix') return { outcome: 'done', result: await mix(task) };
    if (task.task === 'dither') return { outcome: 'done', result: await dither(task) };
    return { outcome: 'done', result: await exportSound(task) };
  } catch (error) {
    if (error instanceof Cancelled) return { outcome: 'cancelled' };
    if (error instanceof InputError) return { outcome: 'refused', message: error.message, faults: error.faults };
    if ((error as NodeJS.ErrnoException).code === 'ENOSPC')
      return { outcome: 'refused', message: DISK_FULL, faults: [] };
    throw error;
  }
}

/**
 * Reads a sound from end to end, which finds every fault in it, and measures it. What is not a WAV file of one or two
 * channels, or shall have another rate, is written as one of 32-bit floats, which hold every sample as it is.
 */
async function take({ path, outputPath, channels, rate }: TakeTask): Promise<Taken> {
  return withBytes(path, async (source) => {
    const stream = await decodeSound(source, channels);
    const { sampleRate, marks, timeReference, format, warning } = stream;
    // A file that lies of its length is written anew with the true one.
    const keeps =
      format === 'wav' && stream.fileChannels === stream.channels && channels === undefined && warning === undefined;
    if (keeps && (rate === undefined || rate === sampleRate)) return measureAsItIs(source);
    const newRate = rate ?? sampleRate;
    const factor = newRate / sampleRate;
    const pieces = newRate === sampleRate ? stream.pieces() : piecesOf(atRate(await decodeClip(stream), newRate));
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
    const written = await writePieces(outputPath, bytes(), { beginning: () => encoder.header() });
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

async function measureAsItIs(source: ByteSource): Promise<Taken> {
  const reader = await WavReader.open(source);
  const { sampleRate, channels, frames, marks, format, timeReference } = reader;
  const meter = new MeasureStream(sampleRate, channels);
  for await (const { samples } of reader.pieces()) meter.process(samples, samples[0].length);
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

async function render(task: RenderTask): Promise<Rendered> {
  return withReader(task.sourcePath, async (reader) => {
    const { chain, name, version } = task;
    const sounds = await loadBank(task.sounds);
    const sourceTimeReference = timeReferenceOf(reader.header.timeReference, reader.sampleRate);
    const label = { depth: '32f', name, chain, sounds, version, sourceTimeReference } as const;
    const way = wayOf(BUILT_INS, { chain, region: task.region });
    const made = await (way === 'in memory' ? renderInMemory : renderPiecewise)(reader, label, task);
    return {
      ...made,
      sampleRate: reader.sampleRate,
      format: 'f32',
      timeReference: renderTimeReference(sourceTimeReference, made.originFrames) ?? null,
    };
  });
}

async function loadBank(sounds: RenderTask['sounds']): Promise<SoundBank> {
  return bankOf(
    await Promise.all(
      sounds.map(async ({ name, sha256, path }) => ({
        name,
        sha256,
        clip: await withReader(path, (reader) => reader.readClip()),
      })),
    ),
  );
}

type Made = Omit<Rendered, 'sampleRate' | 'format' | 'timeReference'>;

async function renderInMemory(
  reader: WavReader,
  label: RenderLabel,
  { outputPath, port, cancel, region }: RenderTask,
): Promise<Made> {
  const request = { chain: label.chain, source: await reader.readClip(), sounds: label.sounds };
  const process = renderJob(BUILT_INS, { ...request, region });
  const tell = teller(port);
  let step = process.next();
  while (!step.done) {
    refuseCancelled(cancel);
    if (step.value.type === 'progress') tell(step.value.done);
    step = process.next();
  }
  const clip = step.value;
  return {
    ...(await writePieces(outputPath, encodeRender({ clip, ...label }), { cancel })),
    channels: clip.channels.length,
    frames: frameCount(clip),
    originFrames: clip.origin,
    touched: clip.touched ? { start: clip.touched.start - clip.origin, end: clip.touched.end - clip.origin } : null,
    ...levels(measureClip(clip)),
  };
}

async function renderPiecewise(
  reader: WavReader,
  label: RenderLabel,
  { outputPath, port, cancel }: RenderTask,
): Promise<Made> {
  const wav = await StreamedWav.open(BUILT_INS, reader, label);
  const tell = teller(port);
  const written = await writePieces(outputPath, wav.bytes(), {
    cancel,
    beginning: () => wav.header(),
    onPiece: () => tell(Math.min(1, wav.frames / wav.longest)),
  });
  const { channels, frames, originFrames } = wav;
  return { ...written, channels, frames, originFrames, touched: null, ...levels(wav.measures()) };
}

async function mix({ outputPath, sampleRate, timeReference, parts }: MixTask): Promise<MixedDown> {
  const files: FileHandle[] = [];
  try {
    const laid: MixPart[] = [];
    for (const { path, at, gain } of parts) {
      const file = await open(path, 'r');
      files.push(file);
      const reader = await WavReader.open(bytesOfFile(file, (await file.stat()).size));
      const asItIs = reader.sampleRate === sampleRate;
      const source = asItIs ? reader : new ClipReader(atRate(await reader.readClip(), sampleRate), 'f32');
      laid.push({ source, at, gain });
    }
    const mixed = new Mix(laid);
    const { frames, channels } = mixed;
    const meter = new MeasureStream(sampleRate, channels);
    const place = timeReference === null ? {} : { timeReference };
    const encoder = new WavEncoder({ depth: '32f', sampleRate, channels, ...place }, frames);
    const bytes = async function* () {
      yield encoder.header(frames);
      for await (const piece of mixed.pieces()) {
        meter.process(piece, piece[0].length);
        yield encoder.encode(piece);
      }
      yield encoder.padding();
    };
    const written = await writePieces(outputPath, bytes());
    return { ...written, frames, channels, sampleRate, timeReference, format: 'f32', ...levels(meter.finish()) };
  } finally {
    await Promise.all(files.map((file) => file.close()));
  }
}

/** Tells how much is done, a hundred times at the most. */
function teller(port: RenderTask['port']): (done: number) => void {
  let told = 0;
  return (done) => {
    if (done - told < 0.01) return;
    told = done;
    port.postMessage(done);
  };
}

function refuseCancelled(cancel: SharedArrayBuffer): void {
  if (Atomics.load(new Int32Array(cancel), 0) !== 0) throw new Cancelled();
}

/** A sound as it goes into a file: its samples at the file's rate, and where they need dither. */
async function sampled(reader: WavReader, { depth, rate, touched }: Sampling) {
  const converted =
    rate === undefined || rate === reader.sampleRate ? undefined : atRate(await reader.readClip(), rate);
  const pieces = () => (converted ? piecesOf(converted) : samplesOf(reader));
  const dithered: Span[] = [];
  if (depth !== '32f') {
    const scan = new DitherScan(depth, converted ? null : touched);
    for await (const piece of pieces()) scan.add(piece);
    dithered.push(...scan.finish());
  }
  return {
    pieces,
    dithered,
    frames: converted ? frameCount(converted) : reader.frames,
    sampleRate: converted?.sampleRate ?? reader.sampleRate,
  };
}

async function dither(task: DitherTask): Promise<Dither> {
  return withReader(task.sourcePath, async (reader) => {
    const { dithered, frames, sampleRate } = await sampled(reader, task);
    return { dithered, frames, sampleRate };
  });
}

async function exportSound(task: ExportTask): Promise<{ bytes: number }> {
  const { sourcePath, outputPath, depth, kind, name, comment, timeReference, marks } = task;
  return withReader(sourcePath, async (reader) => {
    const { pieces, dithered, frames, sampleRate } = await sampled(reader, task);
    const { channels } = reader;
    const factor = sampleRate / reader.sampleRate;
    if (kind === 'flac') {
      if (depth === '32f') throw new InputError('FLAC has no 32-bit floats; write 16 or 24 bits, or a WAV file.');
      const at = timeReference === undefined ? undefined : String(Math.round(timeReference * factor));
      const tags = { TITLE: name, COMMENT: comment, ...(at === undefined ? {} : { TIME_REFERENCE: at }) };
      const file = new FlacFile(pieces(), { sampleRate, channels, depth, dithered, frames, tags });
      return writePieces(outputPath, file.bytes(), { beginning: () => file.beginning() });
    }
    const place = timeReference === undefined ? {} : { timeReference: Math.round(timeReference * factor) };
    const written = factor === 1 ? marks : scaledMarks(marks, factor, frames);
    const encoder = new WavEncoder(
      { depth, dithered, info: { name, comment }, marks: written, channels, sampleRate, ...place },
      frames,
    );
    const bytes = async function* () {
      yield encoder.header(frames);
      for await (const piece of pieces()) yield encoder.encode(piece);
      yield encoder.padding();
    };
    return writePieces(outputPath, bytes());
  });
}

async function* samplesOf(reader: WavReader): AsyncGenerator<readonly Float32Array[]> {
  for await (const { samples } of reader.pieces()) yield samples;
}

function levels({ peak, truePeak, loudness }: Measures): Pick<Measured, 'peak' | 'truePeak' | 'loudness'> {
  const finite = (value: number) => (Number.isFinite(value) ? value : null);
  return { peak: finite(peak), truePeak: finite(truePeak), loudness: finite(loudness) };
}

function withReader<T>(path: string, work: (reader: WavReader) => Promise<T>): Promise<T> {
  return withBytes(path, async (source) => work(await WavReader.open(source)));
}

async function withBytes<T>(path: string, work: (source: ByteSource) => Promise<T>): Promise<T> {
  const file: FileHandle = await open(path, 'r');
  try {
    return await work(bytesOfFile(file, (await file.stat()).size));
  } finally {
    await file.close();
  }
}

interface Writing {
  readonly cancel?: SharedArrayBuffer;
  /** Asked once all is written; replaces the first bytes. */
  readonly beginning?: () => Uint8Array;
  readonly onPiece?: () => void;
}

async function writePieces(
  path: string,
  pieces: Iterable<Uint8Array> | AsyncIterable<Uint8Array>,
  { cancel, beginning, onPiece }: Writing = {},
): Promise<{ sha256: string; bytes: number }> {
  let bytes = 0;
  const file = await open(path, 'wx');
  try {
    for await (const piece of pieces) {
      if (cancel) refuseCancelled(cancel);
      await file.writeFile(piece);
      bytes += piece.length;
      onPiece?.();
    }
    if (beginning) {
      const first = beginning();
      await file.write(first, 0, first.length, 0);
    }
    await file.sync();
  } finally {
    await file.close();
  }
  const hash = createHash('sha256');
  await pipeline(createReadStream(path), hash);
  return { sha256: hash.digest('hex'), bytes };
}
