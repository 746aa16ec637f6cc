import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { basename, extname } from 'node:path';
import { performance } from 'node:perf_hooks';
import { Command, Option } from 'commander';
import {
  InputError,
  StreamedWav,
  WAV_DEPTHS,
  assign,
  bankOf,
  canStream,
  encodeRender,
  fillNameTemplate,
  finishRender,
  frameCount,
  gainToDecibels,
  integratedLoudness,
  parseChain,
  parseNumber,
  parseTime,
  peakOf,
  renderChain,
  showLevel,
  showSeconds,
  soundUses,
  stageTitle,
  timeReferenceOf,
  type ChainDocument,
  type Measures,
  type RenderLabel,
  type SoundBank,
  type WavDepth,
  type WavReader,
} from '@hexenkessel/core';
import { readChainFile, withWavFile, writeWhole } from './files.ts';

interface RenderOptions {
  readonly chain: string;
  readonly in: string;
  readonly out: string;
  readonly tempo?: string;
  readonly set: readonly string[];
  readonly sound: readonly string[];
  readonly tail?: string;
  readonly anchor?: string;
  readonly depth: WavDepth;
  readonly seed?: string;
  readonly json: boolean;
}

export function renderCommand(): Command {
  return new Command('render')
    .description('Renders a sound through a chain into a new WAV file.')
    .requiredOption('--chain <file>', 'chain file (.hxk.json)')
    .requiredOption('--in <file>', 'WAV file to read')
    .requiredOption('--out <file>', 'WAV file to write')
    .option('--tempo <bpm>', 'tempo instead of the chain’s own')
    .option(
      '--set <stage.parameter=value>',
      'changes one setting; may be given again',
      (value, all: string[]) => [...all, value],
      [],
    )
    .option(
      '--sound <name=file>',
      'a sound that the chain names and its WAV file; can be given several times',
      (value: string, before: string[]) => [...before, value],
      [],
    )
    .option('--tail <length>', 'tail instead of the chain’s own: 4beats, 2s, auto or none')
    .addOption(new Option('--anchor <place>', 'where the result is placed').choices(['source', 'start', 'end']))
    .addOption(new Option('--depth <bits>', 'sample format').choices(WAV_DEPTHS).default('24'))
    .option('--seed <number>', 'seed of everything random')
    .option('--json', 'prints one object instead of a sentence', false)
    .action(renderFile);
}

async function renderFile(options: RenderOptions): Promise<void> {
  const chain = withOptions(await readChainFile(options.chain), options);
  await withWavFile(options.in, async (reader) => {
    const name = fillNameTemplate(chain.render.name, {
      sound: basename(options.in, extname(options.in)),
      chain: chain.name,
      version: '',
      tempo: String(chain.timing.tempo),
    });
    const sourceTimeReference = timeReferenceOf(reader.header.timeReference, reader.sampleRate);
    const sounds = await readSounds(options.sound, chain);
    const label = { depth: options.depth, name, chain, sounds, version: '', sourceTimeReference };
    const began = performance.now();
    const made = await (canStream(chain) ? renderPiecewise : renderInMemory)(reader, options.out, label);
    const seconds = (performance.now() - began) / 1000;
    const report = {
      output: options.out,
      name,
      frames: made.frames,
      sampleRate: reader.sampleRate,
      channels: made.channels,
      originFrames: made.originFrames,
      latency: 0,
      tail: Math.max(0, made.originFrames + made.frames - reader.frames),
      peak: finiteOrNull(made.peak),
      lufs: finiteOrNull(made.loudness),
      speed: reader.frames / reader.sampleRate / seconds,
    };
    if (options.json) console.log(JSON.stringify(report));
    else {
      console.log(
        `${options.out}: ${showSeconds(report.frames / report.sampleRate)}, begins ${showSeconds(report.originFrames / report.sampleRate)} ` +
          `from the source, peak ${showLevel(report.peak ?? -Infinity)}, ${report.speed.toFixed(0)}× real time`,
      );
    }
  });
}

/** The sounds given for what the chain names; says on the error output what is missing. */
async function readSounds(given: readonly string[], chain: ChainDocument): Promise<SoundBank> {
  const sounds = await Promise.all(
    given.map(async (text) => {
      const cut = text.indexOf('=');
      if (cut < 1) throw new InputError(`"${text}" names no sound; write name=file.wav, such as "Wind harp=harp.wav".`);
      const path = text.slice(cut + 1);
      const clip = await withWavFile(path, (reader) => reader.readClip());
      return {
        name: text.slice(0, cut),
        sha256: createHash('sha256')
          .update(await readFile(path))
          .digest('hex'),
        clip,
      };
    }),
  );
  // A file given by name stands in for whatever the chain means by that name.
  const bank: SoundBank = (ref) => bankOf(sounds)(ref) ?? bankOf(sounds)({ sound: ref.sound });
  for (const { stage, label, ref } of soundUses(chain)) {
    if (bank(ref)) continue;
    console.error(
      `${stageTitle(stage)}: the ${label} "${ref.sound}" is missing, so it works without. Give it with --sound "${ref.sound}=file.wav".`,
    );
  }
  return bank;
}

interface Made extends Pick<Measures, 'peak' | 'loudness'> {
  readonly frames: number;
  readonly channels: number;
  readonly originFrames: number;
}

async function renderInMemory(reader: WavReader, path: string, label: RenderLabel): Promise<Made> {
  const clip = finishRender(renderChain({ chain: label.chain, source: await reader.readClip(), sounds: label.sounds }));
  await writeWhole(path, encodeRender({ clip, ...label }));
  return {
    frames: frameCount(clip),
    channels: clip.channels.length,
    originFrames: clip.origin,
    peak: gainToDecibels(peakOf(clip)),
    loudness: integratedLoudness(clip),
  };
}

/** Reads, renders, measures and writes a sound of any length in one pass. */
async function renderPiecewise(reader: WavReader, path: string, label: RenderLabel): Promise<Made> {
  const wav = new StreamedWav(reader, label, false);
  await writeWhole(path, wav.bytes(), () => wav.header());
  const { frames, channels, originFrames } = wav;
  return { frames, channels, originFrames, ...wav.measures() };
}

function withOptions(chain: ChainDocument, options: RenderOptions): ChainDocument {
  let changed = chain;
  if (options.tempo !== undefined)
    changed = { ...changed, timing: { ...changed.timing, tempo: parseNumber(options.tempo) } };
  const render = { ...changed.render };
  if (options.tail === 'none' || options.tail === 'auto') {
    render.tail = options.tail === 'auto' ? { mode: 'auto', below: -80 } : { mode: 'none' };
  } else if (options.tail !== undefined) {
    render.tail = { mode: 'fixed', length: parseTime(options.tail) };
  }
  if (options.anchor !== undefined) render.anchor = options.anchor as ChainDocument['render']['anchor'];
  if (options.seed !== undefined) render.seed = parseNumber(options.seed);
  return options.set.reduce(assign, parseChain({ ...changed, render }));
}

function finiteOrNull(value: number): number | null {
  return Number.isFinite(value) ? value : null;
}
