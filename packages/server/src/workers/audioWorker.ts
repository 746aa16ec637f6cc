/** Runs in a worker thread: everything that reads or writes whole sounds. */
import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { open, type FileHandle } from 'node:fs/promises';
import { pipeline } from 'node:stream/promises';
import {
  InputError,
  MeasureStream,
  StreamedWav,
  WavEncoder,
  WavReader,
  bankOf,
  bytesOfFile,
  canStream,
  encodeRender,
  frameCount,
  measureClip,
  renderChain,
  timeReferenceOf,
  type Measures,
  type RenderLabel,
  type SoundBank,
} from '@hexenkessel/core';
import type { Answer, ExportTask, InspectTask, Measured, Rendered, RenderTask, Task } from './tasks.ts';

class Cancelled extends Error {}

export default async function runTask(task: Task): Promise<Answer<unknown>> {
  try {
    if (task.task === 'inspect') return { outcome: 'done', result: await inspect(task) };
    if (task.task === 'render') return { outcome: 'done', result: await render(task) };
    return { outcome: 'done', result: await exportWav(task) };
  } catch (error) {
    if (error instanceof Cancelled) return { outcome: 'cancelled' };
    if (error instanceof InputError) return { outcome: 'refused', message: error.message, faults: error.faults };
    throw error;
  }
}

/** Reads the sound from end to end, which finds every fault in it, and measures it. */
async function inspect({ path }: InspectTask): Promise<Measured> {
  return withReader(path, async (reader) => {
    const { sampleRate, channels, format, timeReference, frames } = reader.header;
    const meter = new MeasureStream(sampleRate, channels);
    for await (const { samples } of reader.pieces()) meter.process(samples, samples[0].length);
    return { sampleRate, channels, format, frames, timeReference: timeReference ?? null, ...levels(meter.finish()) };
  });
}

async function render(task: RenderTask): Promise<Rendered> {
  return withReader(task.sourcePath, async (reader) => {
    const { chain, name, version } = task;
    const sounds = await loadBank(task.sounds);
    const sourceTimeReference = timeReferenceOf(reader.header.timeReference, reader.sampleRate);
    const label = { depth: '32f', name, chain, sounds, version, sourceTimeReference } as const;
    const made = await (canStream(chain) ? renderPiecewise : renderInMemory)(reader, label, task);
    return {
      ...made,
      sampleRate: reader.sampleRate,
      format: 'f32',
      timeReference: Math.max(0, sourceTimeReference + made.originFrames),
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
  { outputPath, port, cancel }: RenderTask,
): Promise<Made> {
  const process = renderChain({ chain: label.chain, source: await reader.readClip(), sounds: label.sounds });
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
    ...levels(measureClip(clip)),
  };
}

async function renderPiecewise(
  reader: WavReader,
  label: RenderLabel,
  { outputPath, port, cancel }: RenderTask,
): Promise<Made> {
  const wav = new StreamedWav(reader, label);
  const tell = teller(port);
  const written = await writePieces(outputPath, wav.bytes(), {
    cancel,
    beginning: () => wav.header(),
    onPiece: () => tell(Math.min(1, wav.frames / wav.longest)),
  });
  const { channels, frames, originFrames } = wav;
  return { ...written, channels, frames, originFrames, ...levels(wav.measures()) };
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

async function exportWav({
  sourcePath,
  outputPath,
  depth,
  name,
  comment,
  timeReference,
}: ExportTask): Promise<{ bytes: number }> {
  return withReader(sourcePath, async (reader) => {
    const { channels, sampleRate, frames } = reader;
    const place = timeReference === undefined ? {} : { timeReference };
    const encoder = new WavEncoder({ depth, info: { name, comment }, channels, sampleRate, ...place }, frames);
    const bytes = async function* () {
      yield encoder.header(frames);
      for await (const { samples } of reader.pieces()) yield encoder.encode(samples);
      yield encoder.padding();
    };
    return writePieces(outputPath, bytes());
  });
}

function levels({ peak, truePeak, loudness }: Measures): Pick<Measured, 'peak' | 'truePeak' | 'loudness'> {
  const finite = (value: number) => (Number.isFinite(value) ? value : null);
  return { peak: finite(peak), truePeak: finite(truePeak), loudness: finite(loudness) };
}

async function withReader<T>(path: string, work: (reader: WavReader) => Promise<T>): Promise<T> {
  const file: FileHandle = await open(path, 'r');
  try {
    return await work(await WavReader.open(bytesOfFile(file, (await file.stat()).size)));
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
