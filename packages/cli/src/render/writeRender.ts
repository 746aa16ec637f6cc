import { extname } from 'node:path';
import { InputError, frameCount, gainToDecibels, parseNumber, type Clip, type Span } from '@hexenkessel/core/model';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { atRate, finishRender, gaveUpText, renderJob, type RegionRender } from '@hexenkessel/core/engine';
import { integratedLoudness, peakOf, type Measures } from '@hexenkessel/core/analysis';
import {
  StreamedWav,
  ditheredSpans,
  encodeRender,
  leftOutMarks,
  leftOutText,
  piecesOf,
  renderedMarks,
  renderedWavOptions,
  scaledMarks,
  type RenderLabel,
  type SoundReader,
  type WavDepth,
  type WavOptions,
} from '@hexenkessel/core/formats';
import { FlacFile } from '@hexenkessel/core/codecs';
import { writeWhole } from '../output.ts';
import type { Tell } from '../progress.ts';

/** What was written. Levels in dBFS and LUFS; frames at `sampleRate`. */
export interface WrittenRender extends Pick<Measures, 'peak' | 'loudness'> {
  readonly frames: number;
  readonly channels: number;
  readonly originFrames: number;
  readonly sampleRate: number;
  /** Frames of the file that were dithered. */
  readonly dithered: readonly Span[];
  /** What of the source's marks is not in the file, in words. */
  readonly leftOut: string | undefined;
  /** Stages that passed the sound on from somewhere, in words. */
  readonly gaveUp: readonly string[];
}

export const isFlac = (path: string) => extname(path).toLowerCase() === '.flac';

/** Renders a sound held in memory and writes it, at another rate too (`rate` in Hz, as it is typed) and as FLAC. InputError. */
export async function renderInMemory(
  reader: SoundReader,
  { out, rate }: { readonly out: string; readonly rate?: string | undefined },
  label: RenderLabel,
  region: RegionRender | undefined,
  tell: Tell,
): Promise<WrittenRender> {
  const { chain, sounds, tempoMap } = label;
  const request = { chain, source: await reader.readClip(), sounds, tempoMap };
  const gaveUp: string[] = [];
  const rendered = finishRender(renderJob(BUILT_INS, { ...request, region }), (step) => {
    if (step.type === 'progress') tell(step.done);
    else if (step.type === 'gave up') gaveUp.push(gaveUpText(step.stage));
  });
  const clip = rate === undefined ? rendered : atRate(rendered, parseNumber(rate));
  const dithered = label.depth === '32f' ? [] : ditheredSpans(clip, label.depth);
  const kept = renderedMarks(BUILT_INS, reader.marks, label.chain, {
    frames: reader.frames,
    sampleRate: reader.sampleRate,
    region,
    originFrames: rendered.origin,
    renderFrames: frameCount(rendered),
  });
  const marks = scaledMarks(kept, clip.sampleRate / rendered.sampleRate, frameCount(clip));
  const placed = { ...label, marks, sourceTimeReference: scaledPlace(label, rendered, clip) };
  if (isFlac(out)) {
    const file = flacOf(clip, label.depth, dithered, renderedWavOptions(placed, clip.origin));
    await writeWhole(out, file.bytes(), () => file.beginning());
  } else {
    await writeWhole(out, encodeRender({ clip, ...placed }));
  }
  return {
    leftOut: leftOutText(leftOutMarks(reader.marks, kept)),
    gaveUp,
    dithered,
    frames: frameCount(clip),
    channels: clip.channels.length,
    originFrames: clip.origin,
    sampleRate: clip.sampleRate,
    peak: gainToDecibels(peakOf(clip)),
    loudness: integratedLoudness(clip),
  };
}

/** Where the source lies, counted at the result's rate. */
function scaledPlace({ sourceTimeReference }: RenderLabel, before: Clip, after: Clip): number {
  return Math.round((sourceTimeReference * after.sampleRate) / before.sampleRate);
}

function flacOf(clip: Clip, depth: WavDepth, dithered: readonly Span[], options: WavOptions): FlacFile {
  if (depth === '32f') throw new InputError('FLAC has no 32-bit floats; write --depth 16 or 24, or a .wav file.');
  const { sampleRate, channels } = clip;
  const { info, timeReference } = options;
  return new FlacFile(piecesOf(clip), {
    tags: {
      TITLE: info?.name ?? '',
      COMMENT: info?.comment ?? '',
      ...(timeReference === undefined ? {} : { TIME_REFERENCE: String(timeReference) }),
    },
    sampleRate,
    channels: channels.length,
    depth,
    dithered,
    frames: frameCount(clip),
  });
}

/** Reads, renders, measures and writes a sound of any length in one pass. */
export async function renderPiecewise(
  reader: SoundReader,
  path: string,
  label: RenderLabel,
  tell: Tell,
): Promise<WrittenRender> {
  const wav = await StreamedWav.open(BUILT_INS, reader, label, false);
  const pieces = async function* () {
    for await (const piece of wav.bytes()) {
      yield piece;
      tell(wav.frames / wav.longest);
    }
  };
  await writeWhole(path, pieces(), () => wav.header());
  const { frames, channels, originFrames } = wav;
  const { sampleRate } = reader;
  const dithered = wav.dithered ? [{ start: 0, end: frames }] : [];
  const place = { frames: reader.frames, sampleRate, originFrames, renderFrames: frames };
  const kept = renderedMarks(BUILT_INS, reader.marks, label.chain, place);
  const leftOut = leftOutText(leftOutMarks(reader.marks, kept));
  return { frames, channels, originFrames, dithered, leftOut, gaveUp: wav.gaveUp(), sampleRate, ...wav.measures() };
}
