import type { Catalogue } from '../catalogue/catalogue.ts';
import { MeasureStream, type Measures } from '../analysis/measure.ts';
import type { ChainDocument } from '../chain/schema.ts';
import type { Clip } from '../model/clip.ts';
import type { TempoMap } from '../timing/tempoMap.ts';
import type { SoundBank } from '../engine/plan/soundBank.ts';
import { levelGain } from '../engine/offline/finish.ts';
import { liveSource } from '../engine/offline/liveSource.ts';
import { gaveUpText } from '../engine/offline/gaveUp.ts';
import { StreamedRender } from '../engine/offline/streamedRender.ts';
import { renderTimeReference } from './placement.ts';
import { DitherScan } from './common/quantise.ts';
import { renderedMarks } from './renderedMarks.ts';
import type { SoundMarks } from './common/soundMarks.ts';
import type { SoundReader } from './wav/reader.ts';
import { WavEncoder, encodeWav, type WavDepth, type WavOptions } from './wav/writer.ts';

/** What a render's file says of itself. */
export interface RenderLabel {
  readonly depth: WavDepth;
  readonly name: string;
  readonly chain: ChainDocument;
  /** The sounds that its stages name. */
  readonly sounds?: SoundBank;
  /** How the tempo changes from the source’s first frame on. */
  readonly tempoMap?: TempoMap | undefined;
  /** Which version of the chain made it, in words; empty for a chain file. */
  readonly version: string;
  /** Where the source lies, in frames from midnight. */
  readonly sourceTimeReference: number;
  /** Loops, root note and markers of the render; none when left out. */
  readonly marks?: SoundMarks;
}

/** How a render that begins `originFrames` after its source is written: with its place, its name and its chain. */
export function renderedWavOptions(label: RenderLabel, originFrames: number): WavOptions {
  const { depth, name, chain, version, sourceTimeReference, marks } = label;
  const place = renderTimeReference(sourceTimeReference, originFrames);
  return {
    depth,
    marks,
    ...(place === undefined ? {} : { timeReference: place }),
    info: { name, comment: ['Made with the chain', chain.name, version].filter(Boolean).join(' ') },
  };
}

/** A render in memory as a WAV file. */
export function encodeRender({ clip, ...label }: RenderLabel & { readonly clip: Clip }): Generator<Uint8Array> {
  return encodeWav(clip, renderedWavOptions(label, clip.origin));
}

/** A render of any length as a WAV file: read, rendered, measured and written in one pass. For chains that `canStream`. */
export class StreamedWav {
  readonly channels: number;
  readonly originFrames: number;
  /** The most frames that will come. */
  readonly longest: number;
  /** Whether it gets dither, all of it. */
  readonly dithered: boolean;
  /** Written so far. */
  frames = 0;
  private readonly render: StreamedRender;
  private readonly encoder: WavEncoder;
  private readonly meter: MeasureStream;

  /** InputError as the render would be refused. */
  static async open(
    catalogue: Catalogue,
    reader: SoundReader,
    label: RenderLabel,
    withTruePeak = true,
  ): Promise<StreamedWav> {
    // What is brought to a level is heard once before it is written.
    const { level } = label.chain.render;
    let gain = 0;
    if (level.mode !== 'none') {
      const first = await liveSource(catalogue, label.chain, reader);
      const render = new StreamedRender(catalogue, first.chain, first.source, label);
      const meter = new MeasureStream(render.sampleRate, render.channels, false);
      for await (const piece of render.pieces()) meter.process(piece, piece[0].length);
      gain = levelGain(level, meter.finish());
    }
    const again = async () => {
      const { chain, source } = await liveSource(catalogue, label.chain, reader);
      return new StreamedRender(catalogue, chain, source, { ...label, gain });
    };
    const dithered = await needsDither(await again(), label.depth);
    const render = await again();
    const { frames, sampleRate } = reader;
    const place = { frames, sampleRate, originFrames: render.origin, renderFrames: render.longest };
    const marks = renderedMarks(catalogue, reader.marks, label.chain, place);
    return new StreamedWav(render, { ...label, marks }, dithered, withTruePeak);
  }

  private constructor(render: StreamedRender, label: RenderLabel, dithered: boolean, withTruePeak: boolean) {
    this.render = render;
    this.dithered = dithered;
    const { channels, sampleRate, origin, longest } = this.render;
    this.channels = channels;
    this.originFrames = origin;
    this.longest = longest;
    const options = dithered ? {} : { dithered: [] };
    this.encoder = new WavEncoder({ ...renderedWavOptions(label, origin), ...options, channels, sampleRate }, longest);
    this.meter = new MeasureStream(sampleRate, channels, withTruePeak);
  }

  /** The file but for what its header says of the length, which is known at the end. */
  async *bytes(): AsyncGenerator<Uint8Array> {
    yield this.encoder.header();
    for await (const piece of this.render.pieces()) {
      this.meter.process(piece, piece[0].length);
      this.frames += piece[0].length;
      yield this.encoder.encode(piece);
    }
    yield this.encoder.padding();
  }

  /** The true header, to be put over the first one. */
  header(): Uint8Array {
    return this.encoder.header();
  }

  /** Stages that have given up, in words. */
  gaveUp(): readonly string[] {
    return this.render.gaveUp.map(gaveUpText);
  }

  measures(): Measures {
    return this.meter.finish();
  }
}

/** Whether a render has a sample that a file of so many bits cannot hold; that shows early, or not at all. */
async function needsDither(render: StreamedRender, depth: WavDepth): Promise<boolean> {
  if (depth === '32f') return false;
  const scan = new DitherScan(depth);
  for await (const piece of render.pieces()) {
    scan.add(piece);
    if (scan.finish().length > 0) return true;
  }
  return false;
}
