/** Runs in a worker thread: everything that reads or writes whole sounds. */
import { open, type FileHandle } from 'node:fs/promises';
import { InputError, frameCount, type Span } from '@hexenkessel/core/model';
import { BUILT_INS } from '@hexenkessel/core/stages';
import {
  Mix,
  atRate,
  bankOf,
  gaveUpText,
  renderJob,
  wayOf,
  type MixPart,
  type SoundBank,
} from '@hexenkessel/core/engine';
import { MeasureStream, measureClip } from '@hexenkessel/core/analysis';
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
  type RenderLabel,
} from '@hexenkessel/core/formats';
import { learnScripts } from '@hexenkessel/core/script';
import type { Dither } from '@hexenkessel/core/protocol';
import { FlacFile } from '@hexenkessel/core/codecs';
import type {
  Answer,
  DitherTask,
  ExportTask,
  MixTask,
  MixedDown,
  Rendered,
  RenderTask,
  Sampling,
  Task,
} from './tasks.ts';
import { answerOf, levels, refuseCancelled, withReader, writePieces } from './soundFile.ts';

learnScripts();

export default async function runTask(task: Task): Promise<Answer<unknown>> {
  return answerOf<unknown>(() => {
    if (task.task === 'render') return render(task);
    if (task.task === 'mix') return mix(task);
    return task.task === 'dither' ? dither(task) : exportSound(task);
  });
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
  const gaveUp: string[] = [];
  let step = process.next();
  while (!step.done) {
    refuseCancelled(cancel);
    if (step.value.type === 'progress') tell(step.value.done);
    else if (step.value.type === 'gave up') gaveUp.push(gaveUpText(step.value.stage));
    step = process.next();
  }
  const clip = step.value;
  return {
    ...(await writePieces(outputPath, encodeRender({ clip, ...label }), { cancel })),
    channels: clip.channels.length,
    frames: frameCount(clip),
    originFrames: clip.origin,
    gaveUp,
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
  return { ...written, channels, frames, originFrames, gaveUp: wav.gaveUp(), touched: null, ...levels(wav.measures()) };
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
