/** A clip streamed through a run of live stages, and what comes out of each of them. */
import type { Catalogue } from '../../catalogue/catalogue.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import { frameCount, type Clip, type Span, type Timeline } from '../../model/clip.ts';
import type { Planned } from '../plan/planned.ts';
import type { GaveUp } from './gaveUp.ts';
import { recordersOf, type Holding, type Output, type StageOutput } from './outputs.ts';
import type { TailPlan } from './overhang.ts';
import { RunStream, copyBlock, fillBlock } from './runStream.ts';

/** What is told of a run while it goes on. */
export type RunStep =
  | { readonly type: 'progress'; /** 0…1 */ readonly done: number }
  /** A stage passes the sound on from somewhere; told once it has run. */
  | { readonly type: 'gave up'; readonly stage: GaveUp };

/** Blocks between two yields: some 85 ms of sound at 48 kHz. */
const BLOCKS_PER_STEP = 32;

/**
 * Streams a clip through live stages in blocks. Returns every stage's output, with those of the stages inside it: the last
 * one's with its clip, the others' as far as they fit, later ones first. A stage's latency is taken off its output, so
 * nothing arrives late.
 */
export function* streamRun(
  catalogue: Catalogue,
  stages: readonly Planned[],
  {
    input,
    heard,
    span,
    timeline,
  }: {
    readonly input: Clip;
    readonly heard: Clip;
    readonly span: Span;
    readonly timeline: Timeline | undefined;
  },
  tail: TailPlan,
  holding: Holding,
  overall: (part: number) => number,
): Generator<RunStep, StageOutput[], void> {
  const { sampleRate, origin } = input;
  const stream = new RunStream(
    catalogue,
    stages,
    {
      sampleRate,
      origin,
      span,
      timeline,
      channels: input.channels.length,
      frames: frameCount(input),
      heard: heard === input ? undefined : heard,
    },
    tail,
  );
  stream.refuseTooLong();
  const recorders = recordersOf(stream.taps, holding, { sampleRate, origin });
  const all = recorders.flat();
  const block = input.channels.map(() => new Float32Array(BLOCK_FRAMES));
  for (let at = 0, blocks = 0; at < stream.total; at += BLOCK_FRAMES) {
    const count = Math.min(BLOCK_FRAMES, stream.total - at);
    fillBlock(block, input.channels, at);
    stream.run(block, at, count);
    for (const { tap, channels, listener } of all) {
      const place = at - tap.latency;
      if (channels) copyBlock(tap.unit.output, channels, place, count);
      if (!listener) continue;
      const first = Math.max(0, -place);
      const last = Math.min(count, tap.frames - place);
      if (last > first) listener(tap.unit.output, first, last, place + first);
    }
    if (++blocks % BLOCKS_PER_STEP === 0) yield { type: 'progress', done: overall(at / stream.total) };
  }
  for (const stage of stream.gaveUp) yield { type: 'gave up', stage };
  return recorders.map((group) => {
    const [own, ...inside] = group.map(({ id, key, channels }): Output => ({
      id,
      key,
      clip: channels && { sampleRate, origin, channels },
      cut: false,
    }));
    return { ...own, inside };
  });
}
