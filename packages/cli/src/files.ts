import { open } from 'node:fs/promises';
import { stdin } from 'node:process';
import type { Readable } from 'node:stream';
import { InputError, LIMITS, type TempoMap } from '@hexenkessel/core/model';
import { BUILT_INS, SCRIPT_LANGUAGE } from '@hexenkessel/core/stages';
import { emptyChain, parseChain, parseChainText, withScriptStage, type ChainDocument } from '@hexenkessel/core/chain';
import { bytesOfFile, readTempoMap, type SoundReader } from '@hexenkessel/core/formats';
import { openSound } from '@hexenkessel/core/codecs';
import type { CompiledScript } from '@hexenkessel/core/script';
import { OutputError } from './output.ts';
import { isStandard, named, refuseSilentInput, withStandardInput } from './streams.ts';

/** Of the text of a script; each of its characters may take four. */
const SCRIPT_BYTES = 1024 ** 2;

/** Adds the file's name to what is said about its contents. */
async function about<T>(path: string, work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof OutputError) throw error;
    if (error instanceof InputError)
      throw new InputError(error.message, { faults: error.faults.map((fault) => `${named(path, 'in')}: ${fault}`) });
    const code = (error as NodeJS.ErrnoException).code;
    if (code === 'ENOENT') throw new InputError(`${path}: there is no such file.`);
    if (code === 'EISDIR') throw new InputError(`${path}: this is a folder; name a file.`);
    if (code === 'EACCES') throw new InputError(`${path}: this file may not be read.`);
    throw error;
  }
}

/** All of a file, a pipe and standard input included; InputError for one that goes on past a limit. */
async function readBounded(path: string, limit: number, kind: string): Promise<Buffer> {
  if (isStandard(path)) {
    refuseSilentInput();
    return readAll(stdin, limit, kind);
  }
  const file = await open(path, 'r');
  try {
    return await readAll(file.createReadStream({ autoClose: false }), limit, kind);
  } finally {
    await file.close();
  }
}

async function readAll(stream: Readable, limit: number, kind: string): Promise<Buffer> {
  const pieces: Buffer[] = [];
  let size = 0;
  for await (const piece of stream) {
    pieces.push(piece as Buffer);
    size += (piece as Buffer).length;
    if (size > limit)
      throw new InputError(
        `The ${kind} file is too large; at most ${limit} (${limit / 1024 ** 2} MiB) bytes are allowed.`,
      );
  }
  return Buffer.concat(pieces);
}

/** A stage that is written as text, compiled for a sample rate. */
export function readScriptFile(path: string, sampleRate: number): Promise<CompiledScript> {
  return about(path, async () => {
    // Its parser is loaded only for who has scripts.
    const { compileScript } = await import('@hexenkessel/core/script');
    return compileScript((await readBounded(path, SCRIPT_BYTES, 'script')).toString('utf8'), sampleRate);
  });
}

export function readChainFile(path: string): Promise<ChainDocument> {
  return about(path, async () => {
    const text = (await readBounded(path, LIMITS.chainBytes, 'chain')).toString('utf8');
    if (text.includes('script')) (await import('@hexenkessel/core/script')).learnScripts();
    return parseChainText(BUILT_INS, text);
  });
}

/** A chain of one stage, which is written as text in a file. */
export function chainOfScriptFile(path: string): Promise<ChainDocument> {
  return about(path, async () => {
    const { learnScripts } = await import('@hexenkessel/core/script');
    learnScripts();
    const text = (await readBounded(path, SCRIPT_BYTES, 'script')).toString('utf8');
    const { chain, stage } = withScriptStage(BUILT_INS, emptyChain(BUILT_INS, 'Script'), {
      language: SCRIPT_LANGUAGE,
      text,
    });
    const { title } = BUILT_INS.for(chain).of(stage);
    return parseChain(BUILT_INS, { ...chain, name: title, stages: [stage] });
  });
}

/** Reads the tempo map of a MIDI file. */
export function readTempoFile(path: string): Promise<TempoMap> {
  return about(path, async () => readTempoMap(await readBounded(path, LIMITS.midiBytes, 'MIDI')));
}

/** Opens a sound file, or what comes on standard input, for as long as `work` takes; `picked`: one or two of its channels, from 0. */
export function withSoundFile<T>(
  path: string,
  work: (reader: SoundReader) => Promise<T>,
  picked?: readonly number[],
): Promise<T> {
  const read = async (place: string) => {
    const file = await open(place, 'r');
    try {
      const { size } = await file.stat();
      const reader = await openSound(bytesOfFile(file, size), picked);
      if (reader.warning !== undefined) console.error(`${named(path, 'in')}: ${reader.warning}`);
      return await work(reader);
    } finally {
      await file.close();
    }
  };
  return about(path, () => (isStandard(path) ? withStandardInput(read) : read(path)));
}
