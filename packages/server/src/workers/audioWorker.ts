/** Runs in a worker thread: everything that reads or writes whole sounds. */
import { createHash } from 'node:crypto';
import { open, type FileHandle } from 'node:fs/promises';
import {
  InputError,
  WavReader,
  bytesOfFile,
  encodeRender,
  encodeWav,
  frameCount,
  measureClip,
  renderChain,
  timeReferenceOf,
  type Clip,
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
    return {
      sampleRate,
      channels,
      format,
      frames,
      timeReference: timeReference ?? null,
      ...levels(await reader.readClip()),
    };
  });
}

async function render({ sourcePath, outputPath, chain, name, version, port, cancel }: RenderTask): Promise<Rendered> {
  const flag = new Int32Array(cancel);
  return withReader(sourcePath, async (reader) => {
    const source = await reader.readClip();
    const process = renderChain({ chain, source });
    let reported = 0;
    let step = process.next();
    while (!step.done) {
      if (Atomics.load(flag, 0) !== 0) throw new Cancelled();
      if (step.value.type === 'progress' && step.value.done - reported >= 0.01) {
        reported = step.value.done;
        port.postMessage(reported);
      }
      step = process.next();
    }
    const clip = step.value;
    const sourceTimeReference = timeReferenceOf(reader.header.timeReference, source.sampleRate);
    const written = await writePieces(
      outputPath,
      encodeRender({ clip, depth: '32f', name, chain, version, sourceTimeReference }),
      flag,
    );
    return {
      ...written,
      sampleRate: clip.sampleRate,
      channels: clip.channels.length,
      frames: frameCount(clip),
      format: 'f32',
      originFrames: clip.origin,
      timeReference: Math.max(0, sourceTimeReference + clip.origin),
      ...levels(clip),
    };
  });
}

async function exportWav({
  sourcePath,
  outputPath,
  depth,
  name,
  comment,
  timeReference,
}: ExportTask): Promise<{ bytes: number }> {
  return withReader(sourcePath, async (reader) =>
    writePieces(
      outputPath,
      encodeWav(await reader.readClip(), {
        depth,
        info: { name, comment },
        ...(timeReference === undefined ? {} : { timeReference }),
      }),
    ),
  );
}

function levels(clip: Clip): Pick<Measured, 'peak' | 'truePeak' | 'loudness'> {
  const { peak, truePeak, loudness } = measureClip(clip);
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

async function writePieces(
  path: string,
  pieces: Iterable<Uint8Array>,
  cancel?: Int32Array,
): Promise<{ sha256: string; bytes: number }> {
  const hash = createHash('sha256');
  let bytes = 0;
  const file = await open(path, 'wx');
  try {
    for (const piece of pieces) {
      if (cancel && Atomics.load(cancel, 0) !== 0) throw new Cancelled();
      await file.writeFile(piece);
      hash.update(piece);
      bytes += piece.length;
    }
    await file.sync();
  } finally {
    await file.close();
  }
  return { sha256: hash.digest('hex'), bytes };
}
