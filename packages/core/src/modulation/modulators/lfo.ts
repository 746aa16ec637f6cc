import { randomAt } from '../../dsp/random.ts';
import { smoothStep } from '../../dsp/smoothStep.ts';
import { TAU, sin } from '../../dsp/portableMath.ts';
import { choice, degrees, rate, time, toggle } from '../../params/params.ts';
import { NO_INPUT, defineModulator } from './contract.ts';
import { PhaseAccumulator, edgeOf } from './phaseAccumulator.ts';
import { words } from '../../model/words.ts';

export const LFO_WAVES = ['sine', 'triangle', 'saw', 'square', 'drift', 'steps'] as const;
export type LfoWave = (typeof LFO_WAVES)[number];

/** A wave of −1…1 at a place in turns. Its jumps take `edge` turns, from where they begin. */
export function waveAt(wave: LfoWave, turns: number, edge: number, seed: number): number {
  const whole = Math.floor(turns);
  const phase = turns - whole;
  switch (wave) {
    case 'sine':
      return sin(TAU * phase);
    case 'triangle':
      return phase < 0.25 ? 4 * phase : phase < 0.75 ? 2 - 4 * phase : 4 * phase - 4;
    case 'saw': {
      const rising = 2 * phase - 1;
      if (phase >= edge) return rising;
      return 1 + (rising - 1) * smoothStep(phase / edge);
    }
    case 'square':
      return phase < 0.5 ? 2 * smoothStep(phase / edge) - 1 : 1 - 2 * smoothStep((phase - 0.5) / edge);
    default: {
      const before = 2 * randomAt(seed, whole) - 1;
      const next = 2 * randomAt(seed, whole + 1) - 1;
      if (wave === 'drift') return before + (next - before) * smoothStep(phase);
      const last = 2 * randomAt(seed, whole - 1) - 1;
      return last + (before - last) * smoothStep(phase / edge);
    }
  }
}

export const lfo = defineModulator({
  kind: 'lfo',
  title: 'LFO',
  summary: 'Oscillates slowly, in one waveform.',
  keywords: words(
    'wobble, vibrato, tremolo, sine, cycle, oscillator, slow, drift, sample and hold, modulate, modulation, oscillate, periodic, waveform, sample & hold',
  ),
  polarity: 'both',
  turnsBy: 'rate',
  params: {
    wave: choice(LFO_WAVES, {
      label: 'waveform',
      shown: { drift: 'smooth random', steps: 'sample and hold' },
      default: 'sine',
      doc: 'The shape of a cycle: smooth random passes gently from one random value to the next, sample and hold jumps to it.',
    }),
    rate: rate({ default: 1, min: 0.01, max: 40, doc: 'Cycles a second; in beats or bars it is tempo-synced.' }),
    phase: degrees({ default: 0, min: 0, max: 360, doc: 'Where in its cycle it starts, at the start of the sound.' }),
    spread: degrees({
      label: 'stereo phase',
      default: 0,
      min: -180,
      max: 180,
      doc: 'How far the right channel leads the left, on stages whose channels do not touch each other.',
    }),
    fadeIn: time({
      label: 'fade-in',
      default: 0,
      min: 0,
      max: 60,
      doc: 'Time from the start of the sound until it has its full depth.',
    }),
    once: toggle({ label: 'one-shot', default: false, doc: 'Runs for one cycle and stays where it ends.' }),
  },
  parts: ({ spread }) => spread !== 0,
  partsMovedBy: 'spread',
  create({ sampleRate, seed, moves }, { wave }) {
    const turns = new PhaseAccumulator(sampleRate, moves('rate'));
    const output = new Float64Array(2);
    const edges = { width: 0 };
    const at = (place: number, once: boolean): number => {
      const bounded = once ? Math.max(0, Math.min(1 - 1e-9, place)) : place;
      return waveAt(wave as LfoWave, bounded, edges.width, seed);
    };
    return {
      output,
      turns,
      start(position, values) {
        turns.start(position, values.rate);
        this.advance(NO_INPUT, 0, 0, position, values);
      },
      advance(_input, _at, frames, position, values) {
        turns.advance(frames, position, values.rate);
        edges.width = edgeOf(values.rate.end);
        const place = turns.turns + values.phase.end / 360;
        const seconds = (position + frames) / sampleRate;
        const fadeIn = values.fadeIn.end;
        const share = fadeIn <= 0 ? 1 : smoothStep(seconds / fadeIn);
        output[0] = share * at(place, values.once);
        output[1] = values.spread.end === 0 ? output[0] : share * at(place + values.spread.end / 360, values.once);
      },
    };
  },
});
