/** Runs live stages block by block, as the page does. */
import { BUILT_INS } from '../catalogue/builtIns.ts';
import { planStages } from '../engine/plan/plan.ts';
import { Section } from '../engine/run/section.ts';
import type { ChainDocument } from '../chain/schema.ts';
import { BLOCK_FRAMES } from '../model/block.ts';
import type { Clip } from '../model/clip.ts';
import { TRIAL_BANK } from './trialSounds.ts';

/** A section that runs a chain of live stages and notes down what comes out. */
export class LiveRun {
  readonly section: Section;
  readonly heard: number[][] = [[], []];
  private readonly source: Clip;
  private at = 0;
  /** Frames over which the sound comes in, so that its beginning is none of the clicks looked for. */
  private readonly fadeIn: number;
  private readonly once: boolean;

  /** The source is played round and round, or once. */
  constructor(chain: ChainDocument, source: Clip, { fadeIn = 4800, once = false } = {}) {
    this.source = source;
    this.fadeIn = fadeIn;
    this.once = once;
    this.section = new Section(
      BUILT_INS,
      planStages(BUILT_INS, chain, source.sampleRate, TRIAL_BANK),
      source.sampleRate,
      source.channels.length,
      {
        span: { start: 0, end: source.channels[0].length },
      },
    );
  }

  change(chain: ChainDocument): void {
    this.section.update(planStages(BUILT_INS, chain, this.source.sampleRate, TRIAL_BANK));
  }

  run(frames: number): void {
    const { channels } = this.source;
    for (let done = 0; done < frames; done += BLOCK_FRAMES) {
      const block = channels.map((samples) =>
        Float32Array.from({ length: BLOCK_FRAMES }, (_, i) =>
          this.once && this.at + i >= samples.length
            ? 0
            : samples[(this.at + i) % samples.length] * this.comingIn(this.at + i),
        ),
      );
      this.section.process(block, BLOCK_FRAMES, this.at);
      this.at += BLOCK_FRAMES;
      this.heard.forEach((side, c) => side.push(...this.section.output[Math.min(c, this.section.output.length - 1)]));
    }
  }

  private comingIn(frame: number): number {
    return frame >= this.fadeIn ? 1 : 0.5 - 0.5 * Math.cos((Math.PI * frame) / this.fadeIn);
  }
}
