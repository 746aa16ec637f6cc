import type { Axis } from '../../model/picture.ts';

/** The rate that pictures are measured at. */
export const PICTURE_RATE = 48000;

/** An axis with even steps. */
export const axis = (label: string, unit: string, min: number, max: number, ticks: readonly number[]): Axis => ({
  label,
  unit,
  min,
  max,
  ticks,
  scale: 'linear',
});
