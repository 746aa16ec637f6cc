/** Where a value stands on the scale of its parameter, 0…1, and the value of a place on it. */
import { exp, log, pow } from '../../dsp/portableMath.ts';

/** The range of a parameter, and how its values spread over the scale. */
export interface Scale {
  readonly min: number;
  readonly max: number;
  readonly curve: 'linear' | 'log';
}

/** Bends a scale that begins at zero, where a logarithm cannot. */
const ROOT = 3;

export function toPlace({ min, max, curve }: Scale, value: number): number {
  const bounded = Math.max(min, Math.min(max, value));
  if (curve === 'linear') return (bounded - min) / (max - min);
  if (min > 0) return log(bounded / min) / log(max / min);
  return pow((bounded - min) / (max - min), 1 / ROOT);
}

export function toCanonical({ min, max, curve }: Scale, place: number): number {
  const bounded = Math.max(0, Math.min(1, place));
  if (bounded === 0) return min;
  if (bounded === 1) return max;
  if (curve === 'linear') return min + bounded * (max - min);
  if (min > 0) return min * exp(bounded * log(max / min));
  return min + pow(bounded, ROOT) * (max - min);
}
