import { createRandom, deriveSeed, type Random } from '../dsp/random.ts';
import { decibelsToGain } from '../dsp/portableMath.ts';
import type { ChainDocument } from '../chain/schema.ts';
import { stageOf } from '../stages/index.ts';
import { resolveSetting } from '../stages/params.ts';
import type { ClipStage, LiveStage, ResolvedValues } from '../stages/contract.ts';
import type { Params } from '../stages/params.ts';

interface PlannedBase {
  readonly index: number;
  readonly id: string;
  readonly mix: number;
  /** Factor after the mix. */
  readonly gain: number;
  readonly values: ResolvedValues<Params>;
  /** Says all that the stage's output depends on besides its input. */
  readonly key: string;
  createRandom(): Random;
}

export type PlannedLive = PlannedBase & { readonly stage: LiveStage };
export type PlannedClip = PlannedBase & { readonly stage: ClipStage };
export type Planned = PlannedLive | PlannedClip;

/** A stretch of the chain that is run at once: one whole-clip stage, or neighbouring live stages streamed in blocks. */
export type Run =
  | { readonly reach: 'clip'; readonly stage: PlannedClip }
  | { readonly reach: 'live'; readonly stages: readonly PlannedLive[] };

/** The chain's stages that are switched on, with every value in its canonical unit at this sample rate. */
export function planStages(chain: ChainDocument, sampleRate: number): Planned[] {
  return chain.stages.flatMap((document, index): Planned[] => {
    if (!document.on) return [];
    const stage = stageOf(document.kind);
    const values = Object.fromEntries(
      Object.entries(stage.params).map(([key, param]) => [
        key,
        resolveSetting(param, document.settings[key], chain.timing, sampleRate),
      ]),
    );
    const seed = deriveSeed(chain.render.seed, document.id);
    const key = JSON.stringify([document.kind, seed, document.mix, document.level, values]);
    const base = {
      index,
      id: document.id,
      mix: document.mix,
      gain: decibelsToGain(document.level),
      values,
      key,
      createRandom: () => createRandom(seed),
    };
    return [stage.reach === 'live' ? { ...base, stage } : { ...base, stage }];
  });
}

/** Cuts the planned stages into runs at the whole-clip stages. */
export function cutIntoRuns(planned: readonly Planned[]): Run[] {
  const runs: Run[] = [];
  let live: PlannedLive[] = [];
  const close = () => {
    if (live.length > 0) runs.push({ reach: 'live', stages: live });
    live = [];
  };
  for (const step of planned) {
    if (isLive(step)) {
      live.push(step);
    } else {
      close();
      runs.push({ reach: 'clip', stage: step });
    }
  }
  close();
  return runs;
}

function isLive(step: Planned): step is PlannedLive {
  return step.stage.reach === 'live';
}
