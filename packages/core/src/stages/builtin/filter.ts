import { responsePicture } from '../drawing/responsePictures.ts';
import { StateVariableFilter } from '../../dsp/stateVariableFilter.ts';
import { decibelsToGain } from '../../dsp/portableMath.ts';
import { defineLiveStage } from '../contract.ts';
import { choice, frequency, level, number } from '../../params/params.ts';
import { resonance } from '../rise.ts';
import { words } from '../../model/words.ts';

const FLAT_Q = 0.7071067811865476;
// The two sections of a fourth-order Butterworth response; only the sharper one takes the resonance on.
const STEEP_Q = [0.541196100146197, 1.3065629648763766];

export const filter = defineLiveStage({
  kind: 'filter',
  family: 'tone',
  title: 'Filter',
  summary: 'Lets one part of the spectrum through: below, around or above a frequency, or all but a notch.',
  keywords: words(
    'low pass, high pass, band pass, notch, cutoff, muffled, underwater, telephone, radio, thin, darker, brighter, lowpass, low-pass, highpass, high-pass, bandpass, band-pass, lpf, hpf, bpf, band reject, resonance, resonant, q, sweep, open, close, muffle, dull, rumble, hiss, wah, through a wall',
  ),
  sidesApart: true,
  mixLaw: 'linear',
  params: {
    type: choice(['low', 'band', 'high', 'notch'], {
      shown: { low: 'low-pass', band: 'band-pass', high: 'high-pass' },
      default: 'low',
      doc: 'What passes: what lies below the cutoff, around it, above it, or everything but it.',
    }),
    slope: choice(['12 dB/oct', '24 dB/oct'], {
      default: '12 dB/oct',
      doc: 'How fast it falls away beyond the cutoff. The steeper slope sounds more closed.',
    }),
    cutoff: frequency({
      default: 1000,
      min: 20,
      max: 20000,
      doc: 'Cutoff frequency. Higher opens a low-pass and thins out a high-pass.',
    }),
    resonance: number({
      label: 'resonance (Q)',
      default: 0.707,
      min: 0.5,
      max: 40,
      curve: 'log',
      doc: 'Above 0.7 the cutoff begins to ring and whistle; below, the knee is softer.',
    }),
    drive: level({
      default: 0,
      min: 0,
      max: 36,
      doc: 'Pushes the input into soft saturation: first warmer, then rough.',
    }),
  },
  picture: ({ stage, values }) =>
    responsePicture(stage, 'Response', [['response', values, 0]], [{ label: 'cutoff', xParam: 'cutoff' }], values),
  heldTo: [
    {
      what: 'Follows its prototype up to 0.4 of the sample rate',
      limit: ['within', 0.2, 'dB'],
      how: 'by the response to an impulse',
    },
  ],
  mayRise: {
    by: 'its resonance',
    most: ({ resonance: q }) => resonance(q),
  },
  // The ringing of the resonance: amplitude falls as exp(−π f t / Q).
  tailSeconds: (values) =>
    0.005 + 0.005 * values.resonance + (2.2 * Math.max(1, values.resonance * 1.85)) / values.cutoff,
  create({ sampleRate, outputChannels }) {
    const sections = Array.from({ length: outputChannels }, () => [
      new StateVariableFilter(sampleRate),
      new StateVariableFilter(sampleRate),
    ]);
    let driven = 0;
    let drive = 1;
    return {
      memoryFrames: 0.05 * sampleRate,
      reset: () => {
        for (const pair of sections) {
          pair[0].reset();
          pair[1].reset();
        }
      },
      process(input, output, frames, values) {
        if (values.drive.end !== driven) {
          driven = values.drive.end;
          drive = decibelsToGain(driven);
        }
        const q = values.resonance.end;
        const steep = values.slope === '24 dB/oct';
        for (let c = 0; c < output.length; c++) {
          const samples = output[c];
          const from = input[c];
          for (let i = 0; i < frames; i++) samples[i] = from[i];
          const first = sections[c][0];
          const second = sections[c][1];
          first.drive = drive;
          first.q = steep ? STEEP_Q[0] : q;
          first.process(samples, frames, values.type, values.cutoff);
          if (!steep) continue;
          second.q = (STEEP_Q[1] * q) / FLAT_Q;
          second.process(samples, frames, values.type, values.cutoff);
        }
      },
    };
  },
});
