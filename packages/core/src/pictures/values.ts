import type { Axis } from './model.ts';

/** The rate that pictures are measured at. */
export const RATE = 48000;

export type Numbers = Readonly<Record<string, number>>;
export type Words = Readonly<Record<string, string>>;

/** An axis with even steps. */
export const axis = (label: string, unit: string, min: number, max: number, ticks: readonly number[]): Axis => ({
  label,
  unit,
  min,
  max,
  ticks,
  scale: 'linear',
});
