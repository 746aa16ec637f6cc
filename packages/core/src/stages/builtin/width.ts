import { gainToDecibels } from '../../dsp/portableMath.ts';
import { defineLiveStage } from '../contract.ts';
import { ratio } from '../../params/params.ts';
import { words } from '../../model/words.ts';

export const width = defineLiveStage({
  kind: 'width',
  family: 'plumbing',
  title: 'Stereo width',
  summary: 'Mid/side balance: narrows a stereo sound to mono or widens it.',
  keywords: words(
    'stereo, mono, wider, narrower, mid side, spread, mid/side, ms, narrow, collapse, widener, widen, sides',
  ),
  mixLaw: 'linear',
  params: {
    width: ratio({
      default: 1,
      min: 0,
      max: 2,
      doc: 'Side level against mid: 0 % is mono, 100 % unchanged, 200 % doubles the side level (+6 dB), which can clip the output.',
    }),
  },
  mayRise: {
    by: 'the width, where there is little but sides',
    most: ({ width }) => Math.max(0, gainToDecibels(width)),
  },
  tailSeconds: () => 0,
  create: () => ({
    memoryFrames: 0,
    reset: () => undefined,
    process(input, output, frames, { width: share }) {
      const left = input[0];
      const right = input[input.length - 1];
      const outLeft = output[0];
      const outRight = output[output.length - 1];
      const step = (share.end - share.start) / frames;
      let wide = share.start;
      for (let i = 0; i < frames; i++) {
        const middle = 0.5 * (left[i] + right[i]);
        const side = 0.5 * wide * (left[i] - right[i]);
        outLeft[i] = middle + side;
        outRight[i] = middle - side;
        wide += step;
      }
    },
  }),
});
