import { BLOCK_FRAMES } from '../model/block.ts';
import { createRandom } from '../dsp/random.ts';
import { TYPESCRIPT_KERNELS } from '../dsp/kernels/typescript.ts';
import type { Clip } from '../model/clip.ts';
import { constant } from '../model/ramp.ts';
import type { Params } from '../params/params.ts';
import type { ResolvedValues } from '../stages/contract.ts';
import { compileScript } from './compileScript.ts';

import { ScriptProcessor, type ScriptFailure } from './scriptProcessor.ts';

/** Seconds of a sound that are run for it. */
const LONGEST = 60;

/** A watched value over a sound: its lowest and highest in each column. */
export interface WatchedValue {
  readonly name: string;
  readonly low: Float32Array;
  readonly high: Float32Array;
}

/** What a script watches while a sound runs through it, and how it went. */
export interface Watched {
  readonly values: readonly WatchedValue[];
  /** Seconds of the sound that are covered. */
  readonly seconds: number;
  readonly failure: ScriptFailure;
  /** The line at which it had worked too long. */
  readonly lateLine: number;
  /** The highest sample that came out. */
  readonly loudest: number;
  /** True where it came out above what is allowed, and was held. */
  readonly held: boolean;
}

/**
 * Runs a sound through a script with settings that stand still, and gives what it watches in so many columns. Of a channel
 * the left side is run. ScriptError as for compiling.
 */
export function watchedOver(
  text: string,
  values: ResolvedValues<Params>,
  clip: Clip,
  columns: number,
  tempo: number,
): Watched {
  const { header, form } = compileScript(text, clip.sampleRate);
  const { bytes, ...facts } = form;
  // It has no moment at which something could be watched.
  if (facts.form === 'clip') return { values: [], seconds: 0, failure: 'none', lateLine: 0, loudest: 0, held: false };
  const sides = facts.form === 'pair' ? 2 : 1;
  const processor = new ScriptProcessor({ bytes, facts }, header.params, {
    sampleRate: clip.sampleRate,
    inputChannels: sides,
    outputChannels: sides,
    random: createRandom(1),
    sounds: {},
    prepared: undefined,
    beats: [{ frame: 0, quarter: 0, tempo }],
    kernels: TYPESCRIPT_KERNELS,
    side: () => undefined,
    branches: [],
  });
  const ramps = Object.fromEntries(
    Object.entries(values).map(([key, value]) => [key, typeof value === 'number' ? constant(value) : value]),
  ) as never;
  const frames = Math.min(clip.channels[0].length, Math.round(LONGEST * clip.sampleRate));
  const traces = facts.watched.map(([name]) => ({
    name,
    low: new Float32Array(columns).fill(Infinity),
    high: new Float32Array(columns).fill(-Infinity),
  }));
  const input = Array.from({ length: sides }, () => new Float32Array(BLOCK_FRAMES));
  const output = Array.from({ length: sides }, () => new Float32Array(BLOCK_FRAMES));
  let loudest = 0;
  for (let at = 0; at < frames; at += BLOCK_FRAMES) {
    const count = Math.min(BLOCK_FRAMES, frames - at);
    input.forEach((block, side) => {
      const channel = clip.channels[Math.min(side, clip.channels.length - 1)];
      block.set(channel.subarray(at, at + count));
    });
    processor.process(input, output, count, ramps, at);
    for (const side of output)
      for (let i = 0; i < count; i++) if (!(Math.abs(side[i]) <= loudest)) loudest = Math.abs(side[i]);
    traces.forEach((trace, n) => {
      const seen = processor.watched(n);
      for (let i = 0; i < count; i++) {
        const column = Math.floor(((at + i) * columns) / frames);
        if (seen[i] < trace.low[column]) trace.low[column] = seen[i];
        if (seen[i] > trace.high[column]) trace.high[column] = seen[i];
      }
    });
  }
  return {
    values: traces,
    seconds: frames / clip.sampleRate,
    failure: processor.failure,
    lateLine: processor.lateLine,
    loudest,
    held: processor.held,
  };
}
