import { randomAt } from '../../dsp/random.ts';
import { smoothStep } from '../../dsp/smoothStep.ts';
import { number, rate, ratio, toggle } from '../../params/params.ts';
import { NO_INPUT, defineModulator } from './contract.ts';
import { PhaseAccumulator, edgeOf } from './phaseAccumulator.ts';
import { words } from '../../model/words.ts';

/** Draws that are looked through at most for the last one that changed something. */
const BACK = 4096;

export const random = defineModulator({
  kind: 'random',
  title: 'Random',
  summary: 'Picks a new random value at a rate; the same ones for the same seed.',
  keywords: words(
    'chance, dice, scatter, uncertain, noise, sample and hold, humanise, sample & hold, jitter, drift, randomise, randomize, wander, probability',
  ),
  polarity: 'both',
  turnsBy: 'rate',
  params: {
    rate: rate({ default: 4, min: 0.02, max: 40, doc: 'How often a value is picked.' }),
    chance: ratio({
      label: 'probability',
      default: 1,
      doc: 'How likely a new value is each time; else the one before stays.',
    }),
    glide: ratio({
      label: 'glide (smoothing)',
      default: 0.2,
      doc: 'How much of the time until the next value is used to get there.',
    }),
    levels: number({
      label: 'quantise to',
      default: 0,
      min: 0,
      max: 24,
      fixed: true,
      doc: 'How many different values there are, evenly spread. 0 or 1: continuous.',
    }),
    apart: toggle({
      label: 'independent L/R',
      default: false,
      fixed: true,
      doc: 'Picks values for the right channel independently, on stages whose channels do not touch each other.',
    }),
  },
  parts: ({ apart }) => apart,
  create({ sampleRate, seed, moves }, values) {
    const turns = new PhaseAccumulator(sampleRate, moves('rate'));
    const output = new Float64Array(2);
    const levels = Math.round(values['levels'] as number);
    const apart = values['apart'] as boolean;
    const changes = (side: number, draw: number, chance: number): boolean =>
      randomAt(seed + 977 * side + 1, draw) < chance;
    const drawn = (side: number, draw: number): number => {
      const share = randomAt(seed + 977 * side, draw);
      return levels < 2 ? 2 * share - 1 : (2 * Math.min(levels - 1, Math.floor(share * levels))) / (levels - 1) - 1;
    };
    /** The last draw before one that changed something: where it begins, what it would be had it run from far before. */
    const lastChange = (side: number, draw: number, chance: number): number => {
      for (let back = 1; back <= BACK; back++) if (changes(side, draw - back, chance)) return draw - back;
      return 0;
    };
    // Of each side: the draw that counts, the value before it, its own.
    const held = [
      { draw: NaN, from: 0, to: 0 },
      { draw: NaN, from: 0, to: 0 },
    ];
    return {
      output,
      turns,
      start(position, now) {
        turns.start(position, now.rate);
        held[0].draw = NaN;
        held[1].draw = NaN;
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
          const of = held[side];
          if (draw !== of.draw) {
            // The chance that counts is the one at the draw: what has been drawn stays when it is moved.
            const chance = now.chance.end;
            of.from = draw === of.draw + 1 ? of.to : drawn(side, lastChange(side, draw, chance));
            of.to = changes(side, draw, chance) ? drawn(side, draw) : of.from;
            of.draw = draw;
          }
          output[side] = of.from + (of.to - of.from) * share;
        }
      },
    };
  },
});
