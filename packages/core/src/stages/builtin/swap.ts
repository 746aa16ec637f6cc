import { defineLiveStage } from '../contract.ts';
import { choice, toggle } from '../../params/params.ts';

const SIDES = ['as they are', 'exchanged', 'left on both', 'right on both', 'middle on both'] as const;

export const swap = defineLiveStage({
  kind: 'swap',
  family: 'plumbing',
  title: 'Swap',
  summary: 'Exchanges left and right, puts one of them or their middle on both, turns either upside down.',
  keywords: ['left right', 'mono', 'polarity', 'phase', 'invert', 'exchange', 'upside down'],
  mixLaw: 'linear',
  params: {
    sides: choice(SIDES, {
      default: 'exchanged',
      doc: 'What each side gets: its own sound, the other’s, or the same as the other.',
    }),
    invertLeft: toggle({ default: false, doc: 'Turns the left side upside down, behind the exchange.' }),
    invertRight: toggle({ default: false, doc: 'Turns the right side upside down, behind the exchange.' }),
  },
  tailSeconds: () => 0,
  create: ({ sampleRate }, { sides }) => {
    // Polarity turns over within a moment: a switch must not click.
    const reach = 1 / (0.02 * sampleRate);
    const turned = new Float64Array(2);
    let fresh = true;
    return {
      memoryFrames: 0,
      reset: () => void (fresh = true),
      process(input, output, frames, values) {
        const left = input[0];
        const right = input[input.length - 1];
        for (let c = 0; c < output.length; c++) {
          const goal = (c === 0 ? values.invertLeft : values.invertRight) ? -1 : 1;
          let sign = fresh ? goal : turned[c];
          const out = output[c];
          const other = sides === 'exchanged' ? (c === 0 ? right : left) : c === 0 ? left : right;
          const from = sides === 'left on both' ? left : sides === 'right on both' ? right : other;
          const mixed = sides === 'middle on both';
          for (let i = 0; i < frames; i++) {
            const sample = mixed ? 0.5 * (left[i] + right[i]) : from[i];
            if (sign < goal) sign = Math.min(goal, sign + reach);
            else if (sign > goal) sign = Math.max(goal, sign - reach);
            out[i] = sample * smooth(sign);
          }
          turned[c] = sign;
        }
        fresh = false;
      },
    };
  },
});

/** −1…1 with flat ends. */
function smooth(sign: number): number {
  return 0.5 * sign * (3 - sign * sign);
}
