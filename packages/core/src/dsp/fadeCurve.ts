import { PI, cos, sin } from './portableMath.ts';

export const FADE_CURVES = ['linear', 'equal-power', 's-shaped'] as const;
export type FadeCurve = (typeof FADE_CURVES)[number];

/** Gain of a rising fade at `x`, 0…1. Two opposite linear or s-shaped fades add up to 1, equal-power ones in power. */
export function fadeGain(curve: FadeCurve, x: number): number {
  if (x <= 0) return 0;
  if (x >= 1) return 1;
  if (curve === 'linear') return x;
  return curve === 'equal-power' ? sin((PI / 2) * x) : 0.5 - 0.5 * cos(PI * x);
}
