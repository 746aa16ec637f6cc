import { smoothStep } from '../../dsp/smoothStep.ts';
import { list, rate, ratio } from '../../params/params.ts';
import { NO_INPUT, defineModulator } from './contract.ts';
import { PhaseAccumulator, edgeOf } from './phaseAccumulator.ts';
import { words } from '../../model/words.ts';

export const sequence = defineModulator({
  kind: 'sequence',
  title: 'Step sequencer',
  summary: 'Steps through a list of values and loops.',
  keywords: words('sequencer, pattern, rhythm, arpeggio, row, steps, step sequencer, stepped, step modulation'),
  polarity: 'both',
  turnsBy: 'rate',
  params: {
    steps: list({
      label: 'step values',
      unit: 'plain',
      min: -1,
      max: 1,
      most: 64,
      default: [1, -1, 0.5, -0.5],
      doc: 'The values, from −1 to 1: as many as there are steps.',
    }),
    rate: rate({ default: { note: '1/16' }, min: 0.02, max: 40, doc: 'Steps a second, or how long a step is.' }),
    glide: ratio({
      label: 'glide (smoothing)',
      default: 0,
      doc: 'How much of a step is used to get there; at 100 % it never stands.',
    }),
    swing: ratio({
      default: 0,
      max: 0.75,
      doc: 'How late every second step comes, in % of a step. 0 % is straight, 33 % a triplet.',
    }),
  },
  create({ sampleRate, moves }, { steps }) {
    const turns = new PhaseAccumulator(sampleRate, moves('rate'));
    const output = new Float64Array(2);
    const row = Float64Array.from(steps as readonly number[]);
    const valueOf = (step: number): number =>
      row.length === 0 ? 0 : row[((step % row.length) + row.length) % row.length];
    return {
      output,
      turns,
      start(position, values) {
        turns.start(position, values.rate);
        this.advance(NO_INPUT, 0, 0, position, values);
      },
      advance(_input, _at, frames, position, values) {
        turns.advance(frames, position, values.rate);
        // A rounding error must not hold back a step that begins right here.
        const place = turns.turns + 1e-9;
        let step = Math.floor(place);
        let since = place - step;
        const late = values.swing.end;
        const odd = (step & 1) !== 0;
        // Before an odd step has come its even one still sounds.
        if (odd && since < late) {
          step -= 1;
          since += 1;
        } else if (odd) since -= late;
        const way = Math.max(edgeOf(values.rate.end), values.glide.end);
        const before = valueOf(step - 1);
        output[0] = before + (valueOf(step) - before) * smoothStep(since / way);
        output[1] = output[0];
      },
    };
  },
});
