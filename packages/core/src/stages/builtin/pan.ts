import { PI, cos, sin } from '../../dsp/portableMath.ts';
import { defineLiveStage } from '../contract.ts';
import { ratio } from '../../params/params.ts';
import { words } from '../../model/words.ts';

const ROOT_TWO = 1.4142135623730951;

export const pan = defineLiveStage({
  kind: 'pan',
  family: 'plumbing',
  title: 'Pan',
  summary: 'Pans the sound between left and right by an equal-power law: 0 dB in the centre, +3 dB at the ends.',
  keywords: words('left, right, balance, place, position, side, panning, panorama, stereo position, equal power'),
  mixLaw: 'linear',
  widens: true,
  params: {
    pan: ratio({
      default: 0,
      min: -1,
      max: 1,
      doc: 'Moves a mono sound to the right; below zero, to the left. On a stereo sound it is a balance control: at either end the other channel is lost, not folded in.',
    }),
  },
  tailSeconds: () => 0,
  create: () => {
    // Gains of left and right at the end of the last block, for the place they were worked out for.
    let place = NaN;
    let left = 1;
    let right = 1;
    return {
      memoryFrames: 0,
      reset: () => void (place = NaN),
      process(input, output, frames, values) {
        const fresh = Number.isNaN(place);
        const leftBefore = left;
        const rightBefore = right;
        if (values.pan.end !== place) {
          place = values.pan.end;
          const angle = ((place + 1) * PI) / 4;
          // In the middle both sides pass unchanged.
          left = place === 0 ? 1 : ROOT_TWO * cos(angle);
          right = place === 0 ? 1 : ROOT_TWO * sin(angle);
          if (place === -1) right = 0;
          if (place === 1) left = 0;
        }
        spread(input[0], output[0], frames, fresh ? left : leftBefore, left);
        spread(input[input.length - 1], output[1], frames, fresh ? right : rightBefore, right);
      },
    };
  },
});

function spread(from: Float32Array, out: Float32Array, frames: number, start: number, end: number): void {
  const step = (end - start) / frames;
  let gain = start;
  for (let i = 0; i < frames; i++) {
    out[i] = from[i] * gain;
    gain += step;
  }
}
