import type { VoicesPicture } from '../../../model/picture.ts';
import { voicePhase, voicePlace, voiceRest } from './voices.ts';

export function voicesPicture(
  values: Readonly<Record<'voices' | 'distribution' | 'spread' | 'rate' | 'depth' | 'drift', number>> & {
    readonly wave: string;
  },
): VoicesPicture {
  const count = Math.round(values.voices);
  return {
    type: 'voices',
    title: 'Delay of every voice',
    voices: Array.from({ length: count }, (_, voice) => ({
      phase: voicePhase(voice, count, values.distribution),
      rest: voiceRest(voice),
      pan: voicePlace(voice, count) * values.spread,
    })),
    wave: values.wave,
    rate: values.rate,
    depth: values.depth,
    drift: values.drift,
  };
}
