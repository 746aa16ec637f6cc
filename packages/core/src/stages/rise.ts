/** How much louder loops, resonances and filters make what goes through them, at the most. In dB. */
import { gainToDecibels } from '../dsp/portableMath.ts';

/** A loop whose rounds add up in step, as on a tone that it is tuned to: 1 + g + g² + … */
export function loopInStep(feedback: number): number {
  return -gainToDecibels(Math.max(1e-3, 1 - Math.abs(feedback)));
}

/** A loop whose rounds have nothing to do with each other: √(1 + g² + g⁴ + …). */
export function loopOutOfStep(feedback: number): number {
  return -0.5 * gainToDecibels(Math.max(1e-3, 1 - feedback * feedback));
}

/** Where a filter of quality Q rings. */
export function resonance(q: number): number {
  return Math.max(0, gainToDecibels(q));
}

/** What is moved upwards in pitch counts for more in loudness: so much more at the most (the shelf of ITU-R BS.1770). */
export const HIGHER_COUNTS = 4;

/** Several parts together, each at its level in dB, should they be in step. */
export function together(...levels: readonly number[]): number {
  return gainToDecibels(levels.reduce((sum, level) => sum + 10 ** (level / 20), 0));
}
