/**
 * A live stage with whole-clip stages in its branches, such as a reversed hall beside the dry voice. What stands in a branch
 * up to its last whole-clip stage is rendered first, from what the stage gives that branch; then the stage is streamed, and
 * in each branch a reader gives out what was rendered, at its place on the timeline.
 */
import type { Catalogue } from '../../catalogue/catalogue.ts';
import { clipEnd, cropClip, frameCount, type Clip, type Span, type Timeline } from '../../model/clip.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import { defineLiveStage, type Stage } from '../../stages/contract.ts';
import type { Planned } from '../plan/planned.ts';
import { RunStream, copyBlock, fillBlock } from './runStream.ts';

/** What of a branch is rendered before, and what runs in it live. */
export interface CutBranch {
  readonly before: readonly Planned[];
  readonly after: readonly Planned[];
}

/** The branches of a stage, each cut behind its last whole-clip stage. */
export function cutBranches({ branches }: Planned): CutBranch[] {
  return branches.map(({ stages }) => {
    const last = stages.findLastIndex(({ runs }) => runs === 'offline') + 1;
    return { before: stages.slice(0, last), after: stages.slice(last) };
  });
}

/** What of a stage is left to run live. */
export function liveRest(step: Planned): Planned {
  const cut = cutBranches(step);
  return { ...step, branches: step.branches.map((branch, b) => ({ ...branch, stages: cut[b].after })) };
}

const probeId = (branch: number) => `~in ${branch}`;
const readerId = (branch: number) => `~${branch}`;
/** True for what is put into a branch here, and stands in no document. */
export const isReader = (id: string): boolean => id.startsWith('~');

/** What a stage gives each of its branches: as long as its input, and at the same place. */
export function branchInputs(
  catalogue: Catalogue,
  step: Planned,
  input: Clip,
  { span, timeline }: { readonly span: Span; readonly timeline: Timeline | undefined },
): Clip[] {
  const { sampleRate, origin } = input;
  const probing = {
    ...step,
    branches: step.branches.map((branch, b) => ({ ...branch, stages: [ownStage(step, probeId(b), PROBE.kind)] })),
  };
  const frames = frameCount(input);
  const channels = input.channels.length;
  const stream = new RunStream(
    catalogue.with([PROBE]),
    [probing],
    { sampleRate, origin, span, timeline, channels, frames },
    { mode: 'none' },
  );
  const taps = step.branches.map((_, b) => stream.taps[0].find(({ id }) => id === probeId(b))!);
  const heard = taps.map(({ unit }) => unit.output.map(() => new Float32Array(frames)));
  const block = input.channels.map(() => new Float32Array(BLOCK_FRAMES));
  for (let at = 0; at < stream.total; at += BLOCK_FRAMES) {
    const count = Math.min(BLOCK_FRAMES, stream.total - at);
    fillBlock(block, input.channels, at);
    stream.run(block, at, count);
    taps.forEach(({ unit, latency }, b) => copyBlock(unit.output, heard[b], at - latency, count));
  }
  return heard.map((samples) => ({ sampleRate, origin, channels: samples }));
}

/** The stage with readers in its branches, the catalogue that knows them, and its input as long as all that they give. */
export function withReaders(
  catalogue: Catalogue,
  step: Planned,
  input: Clip,
  { rendered, timeline }: { readonly rendered: readonly (Clip | undefined)[]; readonly timeline: Timeline | undefined },
): { readonly catalogue: Catalogue; readonly step: Planned; readonly input: Clip } {
  const cut = cutBranches(step);
  const there = rendered.filter((clip) => clip !== undefined);
  const start = Math.min(input.origin, ...there.map(({ origin }) => origin));
  const end = Math.max(clipEnd(input), ...there.map(clipEnd));
  const readers = rendered.map((clip, b) => clip && readerOf(clip, b, timeline?.place ?? 0));
  return {
    catalogue: catalogue.with(readers.filter((reader) => reader !== undefined)),
    step: {
      ...step,
      branches: step.branches.map((branch, b) => {
        const reader = readers[b];
        return reader ? { ...branch, stages: [ownStage(step, reader.kind, reader.kind), ...cut[b].after] } : branch;
      }),
    },
    input: cropClip(input, start, end),
  };
}

/** A stage of a plan that stands in no document. */
function ownStage({ seed }: Planned, id: string, kind: string): Planned {
  const nothing = { values: {}, sounds: {}, branches: [], moves: [], modulators: [] };
  return { index: 0, id, kind, runs: 'live', mix: 1, level: 0, seed, apart: false, ...nothing };
}

const TEXT = { family: 'plumbing', summary: '', keywords: [], mixLaw: 'linear', params: {} } as const;

/** Lets everything through, so that it can be heard what comes in. */
const PROBE: Stage = defineLiveStage({
  ...TEXT,
  kind: '~in',
  title: 'Input',
  tailSeconds: () => 0,
  create: () => ({
    memoryFrames: 0,
    reset: () => undefined,
    process: (input, output, frames) => {
      for (let c = 0; c < output.length; c++) {
        const [from, to] = [input[c], output[c]];
        for (let i = 0; i < frames; i++) to[i] = from[i];
      }
    },
  }),
});

/** Gives out a clip at its place, whatever comes in. `place`: where the clip's frame 0 lies on the timeline. */
function readerOf({ channels, origin }: Clip, branch: number, place: number): Stage {
  const first = origin + place;
  return defineLiveStage({
    ...TEXT,
    kind: readerId(branch),
    title: 'Rendered before',
    widens: channels.length === 2,
    tailSeconds: () => 0,
    create: () => ({
      // It has something to say however long nothing comes in.
      memoryFrames: Infinity,
      reset: () => undefined,
      process: (_input, output, frames, _values, position) => {
        for (let c = 0; c < output.length; c++) {
          const from = channels[Math.min(c, channels.length - 1)];
          const to = output[c];
          for (let i = 0; i < frames; i++) {
            const at = position - first + i;
            to[i] = at >= 0 && at < from.length ? from[at] : 0;
          }
        }
      },
    }),
  });
}
