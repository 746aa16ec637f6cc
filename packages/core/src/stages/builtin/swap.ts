import { defineLiveStage } from '../contract.ts';
import { choice, toggle } from '../../params/params.ts';
import { words } from '../../model/words.ts';

const SIDES = ['as they are', 'exchanged', 'left on both', 'right on both', 'middle on both'] as const;

export const swap = defineLiveStage({
  kind: 'swap',
  family: 'plumbing',
  title: 'Channels & polarity',
  summary: 'Swaps left and right, copies one to both, sums to mono, inverts polarity.',
  keywords: words(
    'left right, mono, polarity, phase, invert, exchange, swap, flip, invert polarity, polarity invert, phase invert, mono sum, sum to mono, downmix, channels, routing',
  ),
  mixLaw: 'linear',
  params: {
    sides: choice(SIDES, {
      label: 'routing',
      shown: {
        'as they are': 'unchanged',
        exchanged: 'swapped',
        'left on both': 'left to both',
        'right on both': 'right to both',
        'middle on both': 'mono sum',
      },
      default: 'exchanged',
      doc: 'What each channel gets: its own sound, the other’s, or the same as the other.',
    }),
    invertLeft: toggle({
      label: 'invert left',
      default: false,
      doc: 'Inverts the polarity of the left channel, after the routing.',
    }),
    invertRight: toggle({
      label: 'invert right',
      default: false,
      doc: 'Inverts the polarity of the right channel, after the routing.',
    }),
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
