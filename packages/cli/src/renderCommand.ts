import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { basename, extname } from 'node:path';
import { performance } from 'node:perf_hooks';
import { Command, Option } from 'commander';
import {
  InputError,
  noteInWholes,
  parseNumber,
  parseTime,
  printTime,
  resolveTime,
  showLevel,
  showSeconds,
  type TempoMap,
  type TimeValue,
  type Timing,
} from '@hexenkessel/core/model';
import { BUILT_INS } from '@hexenkessel/core/stages';
import {
  BEYONDS,
  REGION_TIMES,
  SPLICE_TAILS,
  assign,
  fillNameTemplate,
  parseChain,
  regionInName,
  type Beyond,
  type ChainDocument,
  type RegionTime,
} from '@hexenkessel/core/chain';
import {
  RESAMPLER,
  bankOf,
  wayOf,
  refuseRegion,
  soundUses,
  type RegionRender,
  type SoundBank,
  type Splice,
} from '@hexenkessel/core/engine';
import { estimateTempo } from '@hexenkessel/core/analysis';
import {
  WAV_DEPTHS,
  ditherText,
  parseChannels,
  renderTimeReference,
  timeReferenceOf,
  type SoundReader,
  type WavDepth,
} from '@hexenkessel/core/formats';
import { readChainFile, readTempoFile, withSoundFile } from './files.ts';
import { checkOutput } from './output.ts';
import { isFlac, renderInMemory, renderPiecewise } from './writeRender.ts';

interface RenderOptions {
  readonly chain: string;
  readonly in: string;
  readonly out: string;
  readonly tempo?: string;
  readonly tempoMap?: string;
  readonly set: readonly string[];
  readonly sound: readonly string[];
  readonly tail?: string;
  readonly anchor?: string;
  readonly depth: WavDepth;
  readonly seed?: string;
  readonly rate?: string;
  readonly channels?: string;
  readonly from?: string;
  readonly to?: string;
  readonly beyond?: Beyond;
  readonly regionTime?: RegionTime;
  readonly splice: boolean;
  readonly fade?: string;
  readonly spliceTail?: Splice['tail'];
  readonly json: boolean;
}

export function renderCommand(): Command {
  return new Command('render')
    .description('Renders a sound, or a region of it, through a chain into a new WAV or FLAC file.')
    .requiredOption('--chain <file>', 'chain file (.hxk.json)')
    .requiredOption('--in <file>', 'sound file to read: WAV, AIFF, FLAC, Ogg Vorbis, Opus or MP3')
    .requiredOption('--out <file>', 'file to write: .wav, or .flac with 16 or 24 bits')
    .option('--tempo <bpm>', 'tempo instead of the chain’s own; “sound” finds it in the sound')
    .option('--tempo-map <file>', 'MIDI file whose tempo and meter count; what is tempo-synced follows its changes')
    .option(
      '--set <stage.parameter=value>',
      'changes one setting; may be given again',
      (value, all: string[]) => [...all, value],
      [],
    )
    .option(
      '--sound <name=file>',
      'a sound that the chain names and its file; can be given several times',
      (value: string, before: string[]) => [...before, value],
      [],
    )
    .option('--tail <length>', 'tail instead of the chain’s own: 4beats, 2s, auto or none')
    .addOption(new Option('--anchor <place>', 'where the result is placed').choices(['source', 'start', 'end']))
    .addOption(new Option('--depth <bits>', 'sample format').choices(WAV_DEPTHS).default('24'))
    .option('--seed <number>', 'random seed')
    .option('--rate <hertz>', `sample rate of the result (${RESAMPLER})`)
    .option('--channels <numbers>', 'which channels of the file are taken: 3, or 1,2')
    .option('--from <time>', 'renders a region of the sound only, from here: 2bars, 4beats, 1.5s')
    .option('--to <time>', 'end of the region')
    .addOption(new Option('--beyond <what>', 'what follows the region; else as the chain says').choices(BEYONDS))
    .addOption(
      new Option(
        '--region-time <whose>',
        'what lanes and modulators count from: region start or sound start; else as the chain says',
      ).choices(REGION_TIMES),
    )
    .option('--splice', 'puts the rendered region back into a copy of the whole sound', false)
    .option('--fade <time>', 'crossfade at both ends of the region; else as the chain says')
    .addOption(
      new Option('--splice-tail <what>', 'splice tails: overlap or cut; else as the chain says').choices(SPLICE_TAILS),
    )
    .option('--json', 'prints JSON', false)
    .action(renderFile);
}

async function renderFile(options: RenderOptions): Promise<void> {
  await checkOutput(options.out, ['.wav', '.flac']);
  const map = options.tempoMap === undefined ? undefined : await readTempoFile(options.tempoMap);
  const given = withOptions(atTempoOf(map, await readChainFile(options.chain), options), options);
  await withSoundFile(
    options.in,
    async (reader) => {
      const chain = options.tempo === 'sound' ? await atOwnTempo(given, reader) : given;
      const region = regionOf(options, chain, reader, map);
      if (region) refuseRegion(region.region, reader.frames, reader.sampleRate);
      const name = fillNameTemplate(chain.render.name, {
        sound: basename(options.in, extname(options.in)),
        chain: chain.name,
        version: '',
        tempo: String(chain.timing.tempo),
        ...(region ? { region: regionInName(region.region, reader.sampleRate) } : {}),
      });
      const sourceTimeReference = timeReferenceOf(reader.timeReference, reader.sampleRate);
      const sounds = await readSounds(options.sound, chain);
      // What counts from the region has the map counted from it, too.
      const begins = region && region.time !== 'sound' ? region.region.start / reader.sampleRate : 0;
      const tempoMap = map?.from(begins);
      const label = { depth: options.depth, name, chain, sounds, version: '', sourceTimeReference, tempoMap };
      const began = performance.now();
      const held = options.rate !== undefined || isFlac(options.out);
      const made =
        wayOf(BUILT_INS, { chain, region, held }) === 'in memory'
          ? await renderInMemory(reader, options, label, region)
          : await renderPiecewise(reader, options.out, label);
      const seconds = (performance.now() - began) / 1000;
      const report = {
        output: options.out,
        name,
        frames: made.frames,
        sampleRate: made.sampleRate,
        channels: made.channels,
        originFrames: made.originFrames,
        latency: 0,
        tail: Math.max(
          0,
          made.originFrames + made.frames - Math.round((reader.frames * made.sampleRate) / reader.sampleRate),
        ),
        dithered: made.dithered.map(({ start, end }) => [start, end]),
        peak: finiteOrNull(made.peak),
        clipped: options.depth !== '32f' && made.peak > 0,
        lufs: finiteOrNull(made.loudness),
        leftOut: made.leftOut ?? null,
        speed: reader.frames / reader.sampleRate / seconds,
      };
      if (renderTimeReference(sourceTimeReference, made.originFrames) === undefined)
        console.error(
          `The render begins ${showSeconds(-(sourceTimeReference + made.originFrames) / made.sampleRate)} before midnight, ` +
            'which no file can say: it is written without a place. Put its first frame there by hand.',
        );
      if (report.clipped)
        console.error(
          `The render peaks at ${showLevel(made.peak)}: what is over 0 dBFS is clipped at ${options.depth} bits. ` +
            'Write --depth 32f, or bring it to a level in the chain.',
        );
      if (made.leftOut !== undefined) console.error(made.leftOut);
      if (options.json) console.log(JSON.stringify(report));
      else {
        console.log(
          `${options.out}: ${showSeconds(report.frames / report.sampleRate)}, begins ${showSeconds(report.originFrames / report.sampleRate)} ` +
            `from the source, peak ${showLevel(report.peak ?? -Infinity)}${options.depth === '32f' ? '' : `, ${ditherText(made)}`}, ${report.speed.toFixed(0)}× real time`,
        );
      }
    },
    options.channels === undefined ? undefined : parseChannels(options.channels),
  );
}

/** The sounds given for what the chain names; says on the error output what is missing. */
async function readSounds(given: readonly string[], chain: ChainDocument): Promise<SoundBank> {
  const sounds = await Promise.all(
    given.map(async (text) => {
      const cut = text.indexOf('=');
      if (cut < 1) throw new InputError(`"${text}" names no sound; write name=file.wav, such as "Wind harp=harp.wav".`);
      const path = text.slice(cut + 1);
      const clip = await withSoundFile(path, (reader) => reader.readClip());
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
  for (const { owner, label, ref } of soundUses(BUILT_INS, chain)) {
    if (bank(ref)) continue;
    console.error(
      `${owner}: the ${label} "${ref.sound}" is missing, so it works without. Give it with --sound "${ref.sound}=file.wav".`,
    );
  }
  return bank;
}

/** Seconds of a place in the sound: bars and beats are counted along the map, where there is one. */
function placeOf(value: TimeValue, timing: Timing, sampleRate: number, map: TempoMap | undefined): number {
  if (!map || typeof value === 'number' || 'samples' in value) return resolveTime(value, timing, sampleRate);
  if ('bars' in value) return map.secondsAtBar(value.bars);
  return map.secondsAt('note' in value ? 4 * noteInWholes(value.note) : value.beats);
}

/** The chain at the tempo and meter that the map has where the render begins. */
function atTempoOf(map: TempoMap | undefined, chain: ChainDocument, { from }: RenderOptions): ChainDocument {
  if (!map) return chain;
  const seconds = from === undefined ? 0 : placeOf(parseTime(from, chain.timing.meter), chain.timing, 48_000, map);
  const { tempo, meter } = map.at(seconds);
  return { ...chain, timing: { ...chain.timing, tempo: Number(tempo.toFixed(6)), meter } };
}

/** The chain at the tempo that is found in the sound. InputError when it keeps no time. */
async function atOwnTempo(chain: ChainDocument, reader: SoundReader): Promise<ChainDocument> {
  const [best] = estimateTempo(await reader.readClip()).candidates;
  if (!best) throw new InputError('No tempo can be found in the sound; say it with --tempo 93.');
  return { ...chain, timing: { ...chain.timing, tempo: best.tempo } };
}

/** The region asked for, in frames; undefined for all of the sound. */
function regionOf(
  options: RenderOptions,
  { timing, render: { region: settings } }: ChainDocument,
  reader: SoundReader,
  map: TempoMap | undefined,
): RegionRender | undefined {
  const { from, to, splice, spliceTail, beyond, regionTime } = options;
  if (from === undefined && to === undefined) {
    if (splice) throw new InputError('--splice needs a region; say it with --from and --to.');
    return undefined;
  }
  const placeAt = (text: string) =>
    Math.round(placeOf(parseTime(text, timing.meter), timing, reader.sampleRate, map) * reader.sampleRate);
  const frameAt = (text: string) =>
    Math.round(resolveTime(parseTime(text, timing.meter), timing, reader.sampleRate) * reader.sampleRate);
  const region = { start: from === undefined ? 0 : placeAt(from), end: to === undefined ? reader.frames : placeAt(to) };
  const fade = options.fade ?? printTime(settings.fade);
  return {
    region,
    beyond: beyond ?? settings.beyond,
    time: regionTime ?? settings.time,
    splice: splice ? { fade: frameAt(fade), tail: spliceTail ?? settings.tail } : undefined,
  };
}

function withOptions(chain: ChainDocument, options: RenderOptions): ChainDocument {
  let changed = chain;
  if (options.tempo !== undefined && options.tempo !== 'sound')
    changed = { ...changed, timing: { ...changed.timing, tempo: parseNumber(options.tempo) } };
  const render = { ...changed.render };
  if (options.tail === 'none' || options.tail === 'auto') {
    render.tail = options.tail === 'auto' ? { mode: 'auto', below: -80 } : { mode: 'none' };
  } else if (options.tail !== undefined) {
    render.tail = { mode: 'fixed', length: parseTime(options.tail, changed.timing.meter) };
  }
  if (options.anchor !== undefined) render.anchor = options.anchor as ChainDocument['render']['anchor'];
  if (options.seed !== undefined) render.seed = parseNumber(options.seed);
  return options.set.reduce(
    (before, assignment) => assign(BUILT_INS, before, assignment),
    parseChain(BUILT_INS, { ...changed, render }),
  );
}

function finiteOrNull(value: number): number | null {
  return Number.isFinite(value) ? value : null;
}
