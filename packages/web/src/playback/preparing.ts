import type { Remote } from 'comlink';
import { BUILT_INS, type Prepared } from '@hexenkessel/core/stages';
import { plannedStages, preparedKey, withPrepared, type Planned, type Preparable } from '@hexenkessel/core/engine';
import { openThread } from '../thread/openThread.ts';
import type { Work as ThreadWork } from '../thread/threadScript.ts';

type Work = (stage: Preparable, sampleRate: number) => Promise<Prepared | undefined>;

/** Things kept for when they are asked for again, beside those of the plan at hand: some seconds of an impulse are some megabytes. */
const MOST_KEPT = 6;

let remote: Remote<ThreadWork> | undefined;

/** The thread that prepares; it is started when it is first asked for. */
export function preparer(): Remote<ThreadWork> {
  remote ??= openThread().work;
  return remote;
}

const byThread: Work = (stage, sampleRate) => preparer().prepareStage(stage, sampleRate);

/** Has what stages need worked out, one after another, and keeps it. */
export class Preparing {
  private readonly kept = new Map<string, Prepared | undefined>();
  private readonly work: Work;
  private last: Promise<void> = Promise.resolve();

  constructor(work: Work = byThread) {
    this.work = work;
  }

  /** The plan with all that its stages need; what is not `wanted` any more when its turn comes is left out. */
  async prepare(plan: readonly Planned[], sampleRate: number, wanted: () => boolean): Promise<readonly Planned[]> {
    const own = new Map<string, Prepared | undefined>();
    for (const { kind, definition, sounds, values } of plannedStages(plan)) {
      const stage = { kind, definition, sounds, values };
      const key = preparedKey(BUILT_INS, stage, sampleRate);
      if (key === undefined) continue;
      if (!this.kept.has(key)) await (this.last = this.last.then(() => this.fetch(key, stage, sampleRate, wanted)));
      own.set(key, this.touched(key));
    }
    for (const old of this.kept.keys()) if (this.kept.size > MOST_KEPT && !own.has(old)) this.kept.delete(old);
    return withPrepared(plan, (stage) => own.get(preparedKey(BUILT_INS, stage, sampleRate) ?? ''));
  }

  private async fetch(key: string, stage: Preparable, sampleRate: number, wanted: () => boolean): Promise<void> {
    if (this.kept.has(key) || !wanted()) return;
    // Without it the stage works it out itself when it is made.
    this.kept.set(key, await this.work(stage, sampleRate).catch(() => undefined));
  }

  /** What is kept under a key; the longest unused goes first. */
  private touched(key: string): Prepared | undefined {
    if (!this.kept.has(key)) return undefined;
    const prepared = this.kept.get(key);
    this.kept.delete(key);
    this.kept.set(key, prepared);
    return prepared;
  }
}
