import { PI, exp } from '../../dsp/portableMath.ts';
import { defineLiveStage } from '../contract.ts';
import { frequency } from '../../params/params.ts';
import { words } from '../../model/words.ts';

export const dcBlock = defineLiveStage({
  kind: 'dcBlock',
  family: 'plumbing',
  title: 'DC blocker',
  summary: 'Removes DC offset, which nobody hears but which eats headroom and clicks at cuts.',
  keywords: words(
    'offset, dc, rumble, subsonic, headroom, clean up, dc block, dc offset, remove dc, high-pass, hpf, bias',
  ),
  sidesApart: true,
  mixLaw: 'linear',
  params: {
    cutoff: frequency({
      default: 8,
      min: 1,
      max: 40,
      doc: 'What lies below is removed. Higher settles faster and begins to thin the deepest notes.',
    }),
  },
  tailSeconds: ({ cutoff }) => 1.1 / cutoff,
  create: ({ sampleRate, outputChannels }) => {
    const lastIn = new Float64Array(outputChannels);
    const lastOut = new Float64Array(outputChannels);
    let tuned = NaN;
    let keep = 0;
    return {
      memoryFrames: 1.5 * sampleRate,
      reset() {
        lastIn.fill(0);
        lastOut.fill(0);
      },
      process(input, output, frames, values) {
        if (values.cutoff.end !== tuned) {
          tuned = values.cutoff.end;
          keep = exp((-2 * PI * tuned) / sampleRate);
        }
        // The step response falls as the pole does; half the gap keeps the pass band at unit gain.
        const gain = 0.5 * (1 + keep);
        for (let c = 0; c < output.length; c++) {
          const from = input[c];
          const out = output[c];
          let before = lastIn[c];
          let y = lastOut[c];
          for (let i = 0; i < frames; i++) {
            y = gain * (from[i] - before) + keep * y;
            before = from[i];
            out[i] = y;
          }
          lastIn[c] = before;
          lastOut[c] = y;
        }
      },
    };
  },
});
