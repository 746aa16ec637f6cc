import { randomAt } from '../../dsp/random.ts';
import { smoothStep } from '../../dsp/smoothStep.ts';
import { number, rate, ratio, toggle } from '../../stages/params.ts';
import { NO_INPUT, defineModulator } from './contract.ts';
import { Turns, edgeOf } from './turns.ts';

export const random = defineModulator({
  kind: 'random',
  title: 'Random',
  summary: 'Draws a new value again and again; the same ones for the same seed.',
  keywords: ['chance', 'dice', 'scatter', 'uncertain', 'noise', 'sample and hold', 'humanise'],
  polarity: 'both',
  params: {
    rate: rate({ default: 4, min: 0.02, max: 40, doc: 'How often a value is drawn.' }),
    chance: ratio({ default: 1, doc: 'How often a draw changes anything; else the value before it stays.' }),
    glide: ratio({ default: 0.2, doc: 'How much of the time until the next draw is used to get to a new value.' }),
    levels: number({
      default: 0,
      min: 0,
      max: 24,
      fixed: true,
      doc: 'How many different values there are, evenly spread; below 2 any.',
    }),
    apart: toggle({
      default: false,
      fixed: true,
      doc: 'Draws for the right side by itself, on stages whose sides do not touch each other.',
    }),
  },
  parts: ({ apart }) => apart === true,
  create({ sampleRate, seed, moves }, values) {
    const turns = new Turns(sampleRate, moves('rate'));
    const output = new Float64Array(2);
    const levels = Math.round(values['levels'] as number);
    const apart = values['apart'] as boolean;
    /** How far back a value that was not changed is looked for. */
    const BACK = 64;
    const drawn = (side: number, draw: number, chance: number): number => {
      let at = draw;
      for (let back = 0; back < BACK && randomAt(seed + 977 * side + 1, at) >= chance; back++) at--;
      const share = randomAt(seed + 977 * side, at);
      return levels < 2 ? 2 * share - 1 : (2 * Math.min(levels - 1, Math.floor(share * levels))) / (levels - 1) - 1;
    };
    return {
      output,
      start(position, now) {
        turns.start(position, now.rate);
        this.advance(NO_INPUT, 0, 0, position, now);
      },
      advance(_input, _at, frames, position, now) {
        turns.advance(frames, position, now.rate);
        const place = turns.turns + 1e-9;
        const draw = Math.floor(place);
        const share = smoothStep((place - draw) / Math.max(edgeOf(now.rate.end), now.glide.end));
        for (let side = 0; side < 2; side++) {
          if (side === 1 && !apart) {
            output[1] = output[0];
            continue;
          }
          const from = drawn(side, draw - 1, now.chance.end);
          output[side] = from + (drawn(side, draw, now.chance.end) - from) * share;
        }
      },
    };
  },
});
