/** Renders a sound of any length through live stages while it is read, holding no more than a few seconds of it. */
import type { Catalogue } from '../../catalogue/catalogue.ts';
import type { FrameSource } from '../../model/frameSource.ts';
import type { ChainDocument, RenderSettings } from '../../chain/schema.ts';
import { decibelsToGain } from '../../dsp/portableMath.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import { channelsOfRender, toChannels } from './finish.ts';
import type { GaveUp } from './gaveUp.ts';
import { refusePlayedOnly } from './headSource.ts';
import { leadInFrames, planTail, type TailPlan } from './overhang.ts';
import type { RenderRequest } from './renderer.ts';
import { planStages } from '../plan/plan.ts';
import { RunStream, copyBlock, fillBlock } from './runStream.ts';

/** Frames read, run and given out at once. */
const PIECE_FRAMES = 16384;

/** What else a streamed render goes by. */
export interface StreamedOptions extends Pick<RenderRequest, 'sounds' | 'tempoMap'> {
  /** dB that bring it to its level: see `levelGain`; its measures are those of a first pass without. */
  readonly gain?: number;
}

/** The same bytes as `renderChain` gives, in pieces. For chains of live stages; see `liveSource`. */
export class StreamedRender {
  readonly sampleRate: number;
  readonly channels: number;
  /** Frames from the source's first to the render's first. */
  readonly origin: number;
  /** The most frames that it can have; an automatic tail may leave fewer. */
  readonly longest: number;
  private readonly source: FrameSource;
  private readonly tail: TailPlan;
  private readonly run: RunStream | undefined;
  private readonly settings: RenderSettings;
  /** What every sample is multiplied with, to bring it to its level. */
  private readonly factor: number;

  constructor(
    catalogue: Catalogue,
    chain: ChainDocument,
    source: FrameSource,
    { sounds, tempoMap, gain = 0 }: StreamedOptions = {},
  ) {
    refusePlayedOnly(catalogue, chain);
    const { sampleRate, channels, frames } = source;
    const planned = planStages(catalogue, chain, sampleRate, sounds, tempoMap);
    this.source = source;
    this.sampleRate = sampleRate;
    this.tail = planTail(chain, sampleRate, frames);
    this.run =
      planned.length > 0
        ? new RunStream(
            catalogue,
            planned,
            { sampleRate, channels, origin: 0, frames, span: { start: 0, end: frames } },
            this.tail,
          )
        : undefined;
    this.settings = chain.render;
    this.factor = decibelsToGain(gain);
    this.channels = channelsOfRender(chain.render.channels, this.run ? this.run.last.unit.output.length : channels);
    this.origin = -leadInFrames(chain, sampleRate);
    this.longest = (this.run ? this.run.last.frames : frames) - this.origin;
  }

  /** Reads, runs and gives out; the arrays of a piece are its own. */
  async *pieces(): AsyncGenerator<readonly Float32Array[]> {
    for await (const piece of this.unfinished()) {
      const fitted = toChannels(piece, this.settings.channels);
      yield this.factor === 1 ? fitted : fitted.map((samples) => samples.map((x) => x * this.factor));
    }
  }

  private async *unfinished(): AsyncGenerator<Float32Array[]> {
    if (this.origin < 0) yield this.silence(-this.origin);
    // Silence that may turn out to be the end of an automatic tail is held back until something follows it.
    let held: Float32Array[][] = [];
    let at = 0;
    for await (const piece of this.outputs()) {
      const frames = piece[0].length;
      const sounding = this.soundingFrames(piece, at);
      if (sounding > 0) {
        yield* held;
        held = [];
        yield piece.map((samples) => samples.subarray(0, sounding));
      }
      if (sounding < frames) held.push(piece.map((samples) => samples.subarray(sounding)));
      at += frames;
    }
  }

  /** Stages that have given up so far. */
  get gaveUp(): readonly GaveUp[] {
    return this.run?.gaveUp ?? [];
  }

  private async *outputs(): AsyncGenerator<Float32Array[]> {
    const { source, run } = this;
    const total = run?.total ?? source.frames;
    const block = Array.from({ length: source.channels }, () => new Float32Array(BLOCK_FRAMES));
    const nothing = block.map(() => new Float32Array(0));
    for (let from = 0; from < total; from += PIECE_FRAMES) {
      const read = Math.max(0, Math.min(PIECE_FRAMES, source.frames - from));
      const samples = read > 0 ? await source.read(from, read) : nothing;
      if (!run) {
        yield samples;
        continue;
      }
      const { unit, latency, frames } = run.last;
      const first = Math.max(0, from - latency);
      const behind = Math.max(first, Math.min(frames, from + PIECE_FRAMES - latency));
      const piece = unit.output.map(() => new Float32Array(behind - first));
      for (let at = from; at < Math.min(total, from + PIECE_FRAMES); at += BLOCK_FRAMES) {
        const count = Math.min(BLOCK_FRAMES, total - at);
        fillBlock(block, samples, at - from);
        run.run(block, at, count);
        copyBlock(unit.output, piece, at - latency - first, count);
      }
      if (behind > first) yield piece;
    }
  }

  /** How many frames of a piece that begins at frame `at` are needed for sure. */
  private soundingFrames(piece: readonly Float32Array[], at: number): number {
    const frames = piece[0].length;
    if (this.tail.mode !== 'auto' || this.run === undefined) return frames;
    const needed = Math.max(0, Math.min(frames, this.source.frames - at));
    for (let i = frames - 1; i >= needed; i--) {
      for (const samples of piece) if (Math.abs(samples[i]) > this.tail.cutBelow) return i + 1;
    }
    return needed;
  }

  private silence(frames: number): Float32Array[] {
    const channels = this.run ? this.run.last.unit.output.length : this.source.channels;
    return Array.from({ length: channels }, () => new Float32Array(frames));
  }
}
