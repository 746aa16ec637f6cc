import { PI, cos, sin } from '../../dsp/portableMath.ts';
import type { Stage } from '../../stages/contract.ts';

export interface MixGains {
  dry: number;
  wet: number;
}

/** Gains of dry and wet at a mix of 0…1. Exactly 0 and 1 at the ends, so that a fully wet stage is untouched. */
export function mixGains(law: Stage['mixLaw'], mix: number, into: MixGains = { dry: 0, wet: 1 }): MixGains {
  if (mix <= 0 || mix >= 1) {
    into.dry = mix <= 0 ? 1 : 0;
    into.wet = mix <= 0 ? 0 : 1;
  } else if (law === 'linear') {
    into.dry = 1 - mix;
    into.wet = mix;
  } else {
    into.dry = cos((PI / 2) * mix);
    into.wet = sin((PI / 2) * mix);
  }
  return into;
}
