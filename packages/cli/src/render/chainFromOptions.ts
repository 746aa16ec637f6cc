/** What the options of `render` make of a chain and of a sound. */
import {
  InputError,
  noteInWholes,
  parseNumber,
  parseTime,
  printTime,
  resolveTime,
  type TempoMap,
  type TimeValue,
  type Timing,
} from '@hexenkessel/core/model';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { assign, parseChain, type ChainDocument } from '@hexenkessel/core/chain';
import type { RegionRender } from '@hexenkessel/core/engine';
import { estimateTempo } from '@hexenkessel/core/analysis';
import type { SoundReader } from '@hexenkessel/core/formats';
import type { RenderOptions } from './renderOptions.ts';

/** Seconds of a place in the sound: bars and beats are counted along the map, where there is one. */
function placeOf(value: TimeValue, timing: Timing, sampleRate: number, map: TempoMap | undefined): number {
  if (!map || typeof value === 'number' || 'samples' in value) return resolveTime(value, timing, sampleRate);
  if ('bars' in value) return map.secondsAtBar(value.bars);
  return map.secondsAt('note' in value ? 4 * noteInWholes(value.note) : value.beats);
}

/** The chain at the tempo and meter that the map has where the render begins. */
export function atTempoOf(map: TempoMap | undefined, chain: ChainDocument, { from }: RenderOptions): ChainDocument {
  if (!map) return chain;
  const seconds = from === undefined ? 0 : placeOf(parseTime(from, chain.timing.meter), chain.timing, 48_000, map);
  const { tempo, meter } = map.at(seconds);
  return { ...chain, timing: { ...chain.timing, tempo: Number(tempo.toFixed(6)), meter } };
}

/** The chain at the tempo that is found in the sound. InputError when it keeps no time. */
export async function atOwnTempo(chain: ChainDocument, reader: SoundReader): Promise<ChainDocument> {
  const [best] = estimateTempo(await reader.readClip()).candidates;
  if (!best) throw new InputError('No tempo can be found in the sound; say it with --tempo 93.');
  return { ...chain, timing: { ...chain.timing, tempo: best.tempo } };
}

/** The region asked for, in frames; undefined for all of the sound. */
export function regionOf(
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

export function withOptions(chain: ChainDocument, options: RenderOptions): ChainDocument {
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
  return (options.set ?? []).reduce(
    (before, assignment) => assign(BUILT_INS, before, assignment),
    parseChain(BUILT_INS, { ...changed, render }),
  );
}
