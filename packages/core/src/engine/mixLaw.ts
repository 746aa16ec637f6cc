import { PI, cos, sin } from '../dsp/portableMath.ts';
import type { Stage } from '../stages/contract.ts';

/** Gains of dry and wet at a mix of 0…1. Exactly 0 and 1 at the ends, so that a fully wet stage is untouched. */
export function mixGains(law: Stage['mixLaw'], mix: number): { dry: number; wet: number } {
  if (mix <= 0) return { dry: 1, wet: 0 };
  if (mix >= 1) return { dry: 0, wet: 1 };
  if (law === 'linear') return { dry: 1 - mix, wet: mix };
  return { dry: cos((PI / 2) * mix), wet: sin((PI / 2) * mix) };
}
