import { MOST_REPEATS, beatOf, repeatLevel, repeatsPicture } from '../../drawing/repeats.ts';
import type { Repeat, StagePicture } from '../../../model/picture.ts';
import type { Timing } from '../../../timing/tempo.ts';

interface EchoValues {
  readonly layout: string;
  readonly time: number;
  readonly secondTime: number;
  readonly feedback: number;
  readonly ducking: number;
  readonly recovery: number;
}

/** `step`: semitones that every pass through the loop adds. */
export function echoPicture(values: EchoValues, step: number, timing: Timing): StagePicture {
  const { layout, time: first, feedback } = values;
  const second = layout === 'single' ? first : values.secondTime;
  const repeats: Repeat[] = [];
  const apart = layout === 'single' ? 0 : 1;
  for (let n = 1; n <= MOST_REPEATS; n++) {
    const level = repeatLevel(feedback, n);
    if (level === undefined) break;
    const add = (at: number, pan: number) => repeats.push({ at, level: Math.min(1.5, level), pan, pitch: step * n });
    if (layout === 'single') add(n * first, 0);
    else if (layout === 'crossed') {
      // From side to side: each way round takes one time and then the other.
      const pair = Math.floor(n / 2) * (first + second);
      add(pair + (n % 2) * first, n % 2 === 1 ? -apart : apart);
      add(pair + (n % 2) * second, n % 2 === 1 ? apart : -apart);
    } else {
      add(n * first, -apart);
      add(n * second, apart);
    }
  }
  const picture = repeatsPicture('Repeats over the beat', repeats, beatOf(timing), values.ducking, values.recovery);
  return layout === 'middle/sides' ? { ...picture, sides: ['mid', 'side'] } : picture;
}
