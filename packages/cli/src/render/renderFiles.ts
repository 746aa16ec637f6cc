import { stat } from 'node:fs/promises';
import { basename, extname, join } from 'node:path';
import { performance } from 'node:perf_hooks';
import { InputError, showLevel, showSeconds, type TempoMap } from '@hexenkessel/core/model';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { fillNameTemplate, regionInName, type ChainDocument } from '@hexenkessel/core/chain';
import { refuseRegion, wayOf } from '@hexenkessel/core/engine';
import {
  ditherText,
  fileNameFor,
  parseChannels,
  renderTimeReference,
  timeReferenceOf,
  type SoundReader,
} from '@hexenkessel/core/formats';
import { chainOfScriptFile, readChainFile, readTempoFile, withSoundFile } from '../files.ts';
import { OutputError, checkOutput } from '../output.ts';
import { withProgress } from '../progress.ts';
import { isStandard, refuseSharedInput, toStandardOutput } from '../streams.ts';
import { readSounds } from './namedSounds.ts';
import { atOwnTempo, atTempoOf, regionOf, withOptions } from './chainFromOptions.ts';
import type { RenderOptions } from './renderOptions.ts';
import { isFlac, renderInMemory, renderPiecewise, type WrittenRender } from './writeRender.ts';

/** What is the same for all sounds that are rendered at once. */
interface Work {
  readonly options: RenderOptions;
  readonly given: ChainDocument;
  readonly map: TempoMap | undefined;
}

/** Names the file that a render is written to, once the render has its name. */
type PlaceFor = (render: { readonly name: string; readonly sampleRate: number }) => Promise<string>;

/**
 * Renders each sound through the chain: into the file that is named, to standard output, or each into a file of its own
 * in a folder. Of several, one that cannot be rendered does not keep the others from it; InputError names them at the end.
 */
export async function renderFiles(options: RenderOptions): Promise<void> {
  const { chain, script } = options;
  if ((chain === undefined) === (script === undefined))
    throw new InputError('Say either --chain with a chain file, or --script with a script.');
  refuseSharedInput([chain ?? script!, ...options.in]);
  const intoFolder = await isFolder(options);
  if (!intoFolder) await checkSingle(options);
  const map = options.tempoMap === undefined ? undefined : await readTempoFile(options.tempoMap);
  const work = {
    options,
    map,
    given: await givenChain(options, map),
  };
  if (!intoFolder) return renderOne(options.in[0], work, () => Promise.resolve(options.out));
  const taken = new Set<string>();
  const faults: string[] = [];
  const ending = options.format ?? 'wav';
  for (const [index, path] of options.in.entries()) {
    try {
      await renderOne(path, work, async ({ name, sampleRate }) => {
        const place = join(
          options.out,
          fileNameFor('{sound}', { name, sampleRate, lineage: null }, index + 1, ending, taken),
        );
        await checkOutput(place, [`.${ending}`]);
        return place;
      });
    } catch (error) {
      // Where the disk is full for one, it is for the next.
      if (!(error instanceof InputError) || error instanceof OutputError || options.in.length === 1) throw error;
      faults.push(...error.faults);
    }
  }
  if (faults.length > 0) throw new InputError(`${faults.length} could not be rendered`, { faults });
}

/** The chain that is named, or one of the script that is. */
async function givenChain(options: RenderOptions, map: TempoMap | undefined): Promise<ChainDocument> {
  const { chain, script, set = [] } = options;
  if (script === undefined) return withOptions(atTempoOf(map, await readChainFile(chain!), options), options);
  const own = await chainOfScriptFile(script);
  // There is only one stage that a setting may be of.
  const named = set.map((text) => (/^[^=]*\./.test(text) ? text : `${own.stages[0].id}.${text}`));
  return withOptions(atTempoOf(map, own, options), { ...options, set: named });
}

/** Several sounds, a name that ends like a folder's or a folder that is there: files are named by the chain. */
async function isFolder({ in: paths, out, format }: RenderOptions): Promise<boolean> {
  if (/[/\\]$/.test(out)) return true;
  const there =
    !isStandard(out) && !/\.(wav|flac)$/i.test(out) && (await stat(out).catch(() => undefined))?.isDirectory();
  if (there) return true;
  if (paths.length > 1)
    throw new InputError(
      `${paths.length} sounds need a folder to be rendered into, and "${out}" is none that is there; write --out "${out}/" to make it.`,
    );
  if (format !== undefined && !isStandard(out))
    throw new InputError('--format is for folders and standard output; the name of a file says it by its ending.');
  return false;
}

async function checkSingle({ out }: RenderOptions): Promise<void> {
  if (!isStandard(out)) await checkOutput(out, ['.wav', '.flac']);
}

function renderOne(path: string, { options, given, map }: Work, placeFor: PlaceFor): Promise<void> {
  return withSoundFile(
    path,
    async (reader) => {
      const chain = options.tempo === 'sound' ? await atOwnTempo(given, reader) : given;
      const region = regionOf(options, chain, reader, map);
      if (region) refuseRegion(region.region, reader.frames, reader.sampleRate);
      const name = fillNameTemplate(chain.render.name, {
        sound: isStandard(path) ? 'stdin' : basename(path, extname(path)),
        chain: chain.name,
        version: '',
        tempo: String(chain.timing.tempo),
        ...(region ? { region: regionInName(region.region, reader.sampleRate) } : {}),
      });
      const sourceTimeReference = timeReferenceOf(reader.timeReference, reader.sampleRate);
      const sounds = await readSounds(options.sound ?? [], chain);
      // What counts from the region has the map counted from it, too.
      const begins = region && region.time !== 'sound' ? region.region.start / reader.sampleRate : 0;
      const tempoMap = map?.from(begins);
      const label = { depth: options.depth, name, chain, sounds, version: '', sourceTimeReference, tempoMap };
      const out = await placeFor({ name, sampleRate: reader.sampleRate });
      const write = (file: string) =>
        withProgress(name, (tell) => {
          const held = options.rate !== undefined || isFlac(file);
          return wayOf(BUILT_INS, { chain, region, held }) === 'in memory'
            ? renderInMemory(reader, { out: file, rate: options.rate }, label, region, tell)
            : renderPiecewise(reader, file, label, tell);
        });
      const began = performance.now();
      const made = isStandard(out) ? await toStandardOutput(`.${options.format ?? 'wav'}`, write) : await write(out);
      report(made, { out, name, options, reader, sourceTimeReference, seconds: (performance.now() - began) / 1000 });
    },
    options.channels === undefined ? undefined : parseChannels(options.channels),
  );
}

interface Told {
  readonly out: string;
  readonly name: string;
  readonly options: RenderOptions;
  readonly reader: SoundReader;
  /** In frames at the sound's rate. */
  readonly sourceTimeReference: number;
  /** How long it took. */
  readonly seconds: number;
}

/** Says what was written; beside the sound, when that goes to standard output. */
function report(made: WrittenRender, { out, name, options, reader, sourceTimeReference, seconds }: Told): void {
  const say = (text: string) => (isStandard(out) ? console.error(text) : console.log(text));
  const told = {
    output: out,
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
    gaveUp: made.gaveUp,
    speed: reader.frames / reader.sampleRate / seconds,
  };
  if (renderTimeReference(sourceTimeReference, made.originFrames) === undefined)
    console.error(
      `The render begins ${showSeconds(-(sourceTimeReference + made.originFrames) / made.sampleRate)} before midnight, ` +
        'which no file can say: it is written without a place. Put its first frame there by hand.',
    );
  if (told.clipped)
    console.error(
      `The render peaks at ${showLevel(made.peak)}: what is over 0 dBFS is clipped at ${options.depth} bits. ` +
        'Write --depth 32f, or bring it to a level in the chain.',
    );
  if (made.leftOut !== undefined) console.error(made.leftOut);
  for (const text of made.gaveUp) console.error(text);
  if (options.json) return say(JSON.stringify(told));
  say(
    `${isStandard(out) ? name : out}: ${showSeconds(told.frames / told.sampleRate)}, begins ${showSeconds(told.originFrames / told.sampleRate)} ` +
      `from the source, peak ${showLevel(told.peak ?? -Infinity)}${options.depth === '32f' ? '' : `, ${ditherText(made)}`}, ${told.speed.toFixed(0)}× real time`,
  );
}

function finiteOrNull(value: number): number | null {
  return Number.isFinite(value) ? value : null;
}
