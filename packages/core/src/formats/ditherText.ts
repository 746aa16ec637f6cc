import type { Span } from '../model/clip.ts';
import { showSeconds } from '../timing/display.ts';

/** Where a file of `frames` frames is dithered, in words that can stand in a sentence. */
export function ditherText({
  dithered,
  frames,
  sampleRate,
}: {
  readonly dithered: readonly Span[];
  readonly frames: number;
  readonly sampleRate: number;
}): string {
  if (dithered.length === 0) return 'not dithered: every sample fits as it is';
  if (dithered[0].start === 0 && dithered[0].end === frames) return 'dithered throughout';
  const seconds = (frame: number) => showSeconds(frame / sampleRate);
  const spans = dithered.map(({ start, end }) => `${seconds(start)} to ${seconds(end)}`);
  return `dithered from ${spans.join(' and ')}, copied elsewhere`;
}
