import { showFrequency, showSeconds, written } from '@hexenkessel/core/model';
import type { Axis } from '@hexenkessel/core/stages';

/** Where a value stands on an axis, 0…1. */
export function placeOn({ min, max, scale }: Axis, value: number): number {
  const bounded = Math.max(min, Math.min(max, value));
  return scale === 'log' ? Math.log(bounded / min) / Math.log(max / min) : (bounded - min) / (max - min);
}

/** The value at a place of an axis. */
export function valueAt({ min, max, scale }: Axis, place: number): number {
  const bounded = Math.max(0, Math.min(1, place));
  return scale === 'log' ? min * Math.exp(bounded * Math.log(max / min)) : min + bounded * (max - min);
}

/** A figure beside an axis: short. */
export function figure(value: number, unit: string): string {
  if (unit === 'Hz' && value >= 1000) return `${value / 1000}k`;
  if (unit === 's')
    return Math.abs(value) < 1 && value !== 0 ? `${Math.round(value * 1000)} ms` : `${Number(value.toFixed(2))} s`;
  return written(Number(value.toFixed(2)));
}

/** The same with its unit, to be read out. */
export function spoken(value: number, unit: string): string {
  if (unit === 'Hz') return showFrequency(value);
  return unit === 's' ? showSeconds(value) : `${figure(value, unit)} ${unit}`.trim();
}
