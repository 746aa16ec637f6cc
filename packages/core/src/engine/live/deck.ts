import type { Catalogue } from '../../catalogue/catalogue.ts';
import type { RenderChannels } from '../../chain/schema.ts';
import { smoothStep } from '../../dsp/smoothStep.ts';
import { SteppedDelay } from '../../dsp/steppedDelay.ts';
import { decibelsToGain } from '../../dsp/portableMath.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import type { HeadVoice, PlannedHead } from '../../heads/contract.ts';
import { clipEnd, type Span } from '../../model/clip.ts';
import type { Planned } from '../plan/planned.ts';
import { Section } from '../run/section.ts';
import { SmoothedValue } from '../modulation/smoothedValue.ts';
import { UNWATCHED, type Watch } from '../run/watch.ts';

/** Seconds in which one deck takes over from another. */
const SWITCH_SECONDS = 0.03;

/** What a deck plays: a head – such as a clip, rendered as far as the last whole-clip stage – and the live stages behind it. */
export interface DeckContent {
  readonly head: PlannedHead;
  readonly plan: readonly Planned[];
  /** Where the source lies, in frames of the timeline; all that the head has when left out. */
  readonly span?: Span | undefined;
  /** Frames by which the clip was moved from where it falls by itself, to its anchor. */
  readonly shift?: number | undefined;
  /** dB that makes it as loud as what it is compared with. */
  readonly gain: number;
  /** As the render will have them; where it has one, both sides are the mean. */
  readonly channels?: RenderChannels | undefined;
}

/** One thing that can be listened to: a head read along the play head, the live stages behind it, its level. */
export class Deck {
  readonly voice: HeadVoice;
  /** Hz. */
  readonly sampleRate: number;
  readonly section: Section;
  private readonly gain: SmoothedValue;
  private gainNow: number;
  /** 0: both sides as they are, 1: the mean on both. */
  private readonly together: SmoothedValue;
  private readonly switchFrames: number;
  private audible: number;
  private target: number;
  private readonly catalogue: Catalogue;
  private readonly kind: string;
  private readonly shift: number;
  private readonly span: Span;
  /** Makes it as late as the latest deck. */
  private readonly alignment: readonly SteppedDelay[];
  private readonly aligned = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)];

  /** Silent at first; `listen` lets it be heard. */
  constructor(
    catalogue: Catalogue,
    { head, plan, gain, span, shift = 0, channels }: DeckContent,
    watch: Watch = UNWATCHED,
  ) {
    const source = catalogue.headOf(head);
    const { sampleRate } = head;
    this.catalogue = catalogue;
    this.kind = head.kind;
    this.sampleRate = sampleRate;
    this.voice = source.create(head, BLOCK_FRAMES);
    this.span = spanOf(catalogue, head, span);
    this.section = new Section(catalogue, plan, sampleRate, this.voice.output.length, { watch, span: this.span });
    this.shift = shift;
    this.gain = new SmoothedValue(gain, 'linear', BLOCK_FRAMES / sampleRate);
    this.gainNow = decibelsToGain(gain);
    this.together = new SmoothedValue(channels === 'mono' ? 1 : 0, 'linear', BLOCK_FRAMES / sampleRate);
    this.switchFrames = Math.round(SWITCH_SECONDS * sampleRate);
    this.audible = 0;
    this.target = 0;
    const room = LONGEST_ALIGNMENT * sampleRate;
    this.alignment = [0, 1].map(() => new SteppedDelay(room, BLOCK_FRAMES, sampleRate));
  }

  /** Frames until a change of who is heard is over. */
  get silent(): boolean {
    return this.audible === 0 && this.target === 0;
  }

  /** True when it can go on with another content by taking on its clip and its plan. */
  canTake({ head, span, shift = 0 }: DeckContent): boolean {
    const { start, end } = spanOf(this.catalogue, head, span);
    const channels = this.catalogue.headOf(head).channels(head);
    const fits = head.kind === this.kind && this.voice.output.length === channels && shift === this.shift;
    return fits && start === this.span.start && end === this.span.end;
  }

  /** Frames by which it is late by itself. */
  get latency(): number {
    return this.voice.latency + this.section.latency;
  }

  listen(heard: boolean, atOnce = false): void {
    this.target = heard ? 1 : 0;
    if (atOnce) this.audible = this.target;
  }

  setGain(decibels: number): void {
    this.gain.aim(decibels);
  }

  setChannels(channels: RenderChannels | undefined): void {
    this.together.aim(channels === 'mono' ? 1 : 0);
  }

  /** Makes it as when it was loaded, at the place where it is put next. */
  reset(): void {
    this.section.reset();
    this.voice.settle();
    for (let side = 0; side < 2; side++) this.alignment[side].reset();
  }

  /**
   * Runs what the voice has read from `position` on and adds it, `late` frames late in all, to `left` and `right`.
   * Allocates nothing.
   */
  process(left: Float32Array, right: Float32Array, frames: number, position: number, late: number): void {
    this.section.process(this.voice.output, frames, position - this.shift - this.voice.latency);
    this.align(frames, late);
    const gainStart = this.gainNow;
    if (!this.gain.settled) {
      this.gain.advance();
      this.gainNow = decibelsToGain(this.gain.end);
    }
    this.together.advance();
    const step = this.target === this.audible ? 0 : (this.target > this.audible ? 1 : -1) / this.switchFrames;
    if (step === 0 && this.audible === 0) return;
    const a = this.aligned[0];
    const b = this.aligned[1];
    const gainStep = (this.gainNow - gainStart) / frames;
    const otherStart = 0.5 * this.together.start;
    const otherStep = (0.5 * this.together.end - otherStart) / frames;
    for (let i = 0; i < frames; i++) {
      const share = smoothStep(this.audible + i * step) * (gainStart + i * gainStep);
      const other = otherStart + i * otherStep;
      left[i] += share * ((1 - other) * a[i] + other * b[i]);
      right[i] += share * ((1 - other) * b[i] + other * a[i]);
    }
    this.audible = Math.max(0, Math.min(1, this.audible + frames * step));
  }

  /** Puts what the section gives, as late as all decks are, into `aligned`. */
  private align(frames: number, late: number): void {
    const { output } = this.section;
    const behind = Math.max(0, Math.min(LONGEST_ALIGNMENT * this.sampleRate, late - this.latency));
    for (let side = 0; side < 2; side++) {
      const from = output[side < output.length ? side : output.length - 1];
      const to = this.aligned[side];
      for (let i = 0; i < frames; i++) to[i] = from[i];
      this.alignment[side].pass(to, frames, behind);
    }
  }
}

/** Seconds of latency that decks are made up for at the most. */
const LONGEST_ALIGNMENT = 2;

function spanOf(catalogue: Catalogue, head: PlannedHead, given: Span | undefined): Span {
  const { clip } = head;
  if (given) return given;
  if (clip) return clip.span ?? { start: Math.max(0, clip.origin), end: clipEnd(clip) };
  return { start: 0, end: catalogue.headOf(head).frames(head) };
}
