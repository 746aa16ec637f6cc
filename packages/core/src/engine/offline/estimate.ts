/** How long a render gets and takes, told before it is begun. */
import type { Catalogue } from '../../catalogue/catalogue.ts';
import type { ChainDocument } from '../../chain/schema.ts';
import { channelsOfRender } from './finish.ts';
import { leadInFrames, planTail, refuseTooLong, stageEnd, type TailPlan } from './overhang.ts';
import { cutBranches, liveRest } from './parallel.ts';
import { channelsAfter, planStages } from '../plan/plan.ts';
import type { Planned } from '../plan/planned.ts';

export interface RenderEstimate {
  /** Frames that come out; where a tail is cut when it is quiet, as many as it may be. */
  readonly frames: number;
  /** Of a file of 32-bit floats. */
  readonly bytes: number;
  /** Of work on a common machine. */
  readonly seconds: number;
}

/** Nanoseconds of work a frame of a live stage takes, on both channels. */
const LIVE_COST = 700;
/** The same for reading, measuring and writing. */
const WRITING_COST = 500;
/** A whole-clip stage that does not say. */
const PLAIN_COST = 20;

/** InputError when it is known beforehand that the render would be refused, in the words it would be refused with. */
export function estimateRender(
  catalogue: Catalogue,
  chain: ChainDocument,
  source: { readonly frames: number; readonly sampleRate: number; readonly channels: number },
): RenderEstimate {
  const { sampleRate } = source;
  const run = estimateStages(catalogue, planStages(catalogue, chain, sampleRate), source, (end) =>
    planTail(chain, sampleRate, end),
  );
  const channels = channelsOfRender(chain.render.channels, run.channels);
  // What is brought to a level is run twice.
  const passes = chain.render.level.mode === 'none' ? 1 : 2;
  const frames = run.frames + leadInFrames(chain, sampleRate);
  const nanoseconds = passes * run.nanoseconds + frames * WRITING_COST;
  return { frames, bytes: frames * channels * 4, seconds: nanoseconds / 1e9 };
}

interface Through {
  readonly frames: number;
  readonly channels: number;
  readonly nanoseconds: number;
}

/** What stages in a row make of so many frames, and what that costs. */
function estimateStages(
  catalogue: Catalogue,
  stages: readonly Planned[],
  source: { readonly frames: number; readonly sampleRate: number; readonly channels: number },
  tailFor: (spanEnd: number) => TailPlan,
): Through {
  const { sampleRate } = source;
  let { frames, channels } = source;
  let nanoseconds = 0;
  for (const step of stages) {
    const stage = catalogue.of(step);
    if (stage.runs === 'live') {
      // Whole-clip stages in its branches are run before it, each branch by itself.
      for (const { before } of step.runs === 'offline' ? cutBranches(step) : []) {
        const inside = estimateStages(catalogue, before, { frames, channels, sampleRate }, tailFor);
        frames = Math.max(frames, inside.frames);
        nanoseconds += inside.nanoseconds;
      }
      frames = stageEnd(catalogue, tailFor(frames), liveRest(step), frames, sampleRate);
      channels = channelsAfter(catalogue, [step], channels);
      nanoseconds += frames * LIVE_COST;
    } else {
      const told = stage.estimate?.(frames, step.values, sampleRate);
      refuseTooLong(Math.max(frames, told?.frames ?? frames), channels, stage.title);
      frames = told?.frames ?? frames;
      nanoseconds += frames * channels * (told?.cost ?? PLAIN_COST) + insideCost(step, frames);
    }
  }
  return { frames, channels, nanoseconds };
}

/** Stages that a whole-clip stage runs on parts of the clip. */
function insideCost({ branches }: Planned, frames: number): number {
  return branches.reduce((sum, { stages }) => sum + (stages.length * frames * LIVE_COST) / branches.length, 0);
}
