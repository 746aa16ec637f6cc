import { showSeconds } from '@hexenkessel/core/model';
import type { RegionRender } from '@hexenkessel/core/engine';

/** What of its source a render covers, in words: `1.25 s to 1.45 s, spliced back`. `sampleRate` is the source's. */
export function coveredText({ region, splice }: RegionRender, sampleRate: number): string {
  const seconds = (frame: number) => showSeconds(frame / sampleRate);
  return `${seconds(region.start)} to ${seconds(region.end)}${splice ? ', spliced back' : ''}`;
}
