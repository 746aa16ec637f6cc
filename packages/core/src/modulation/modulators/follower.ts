import { LevelFollower } from '../../dsp/levelFollower.ts';
import { gainToDecibels } from '../../dsp/portableMath.ts';
import { StateVariableFilter } from '../../dsp/stateVariableFilter.ts';
import { frequency, level, sound, time, toggle } from '../../params/params.ts';
import { CONTROL_FRAMES, defineModulator } from './contract.ts';
import { words } from '../../model/words.ts';

const LOWEST = 20;
const HIGHEST = 20000;

export const follower = defineModulator({
  kind: 'follower',
  title: 'Envelope follower',
  summary: 'Rises and falls with the loudness of a sound, or of one band of it.',
  keywords: words(
    'envelope follower, loudness, level, duck, sensitive, touch, side chain, dynamic, follower, envelope detector, level detector, sidechain, react, track',
  ),
  polarity: 'up',
  params: {
    other: sound({
      label: 'sidechain',
      needed: () => false,
      doc: 'Another sound to follow. None: the sound that comes into the live stages.',
    }),
    attack: time({ default: 0.01, min: 0.0005, max: 2, doc: 'How long it takes to rise; short ones follow each hit.' }),
    release: time({ default: 0.2, min: 0.005, max: 10, doc: 'How long it takes to fall; long ones bridge the gaps.' }),
    lowCut: frequency({ default: LOWEST, min: LOWEST, max: 5000, doc: 'What lies below is not followed.' }),
    highCut: frequency({ default: HIGHEST, min: 100, max: HIGHEST, doc: 'What lies above is not followed.' }),
    floor: level({
      label: 'range minimum',
      unit: 'dBFS',
      default: -50,
      min: -96,
      max: -6,
      doc: 'The level at which it is at rest.',
    }),
    ceiling: level({
      label: 'range maximum',
      unit: 'dBFS',
      default: -6,
      min: -60,
      max: 12,
      doc: 'The level at which it is fully up.',
    }),
    apart: toggle({
      label: 'independent L/R',
      default: false,
      fixed: true,
      doc: 'Follows left and right independently, on stages whose channels do not touch each other.',
    }),
  },
  parts: ({ apart }) => apart,
  hears: ({ other }) => other === '',
  create({ sampleRate, sounds }, settings) {
    const output = new Float64Array(2);
    const apart = settings.apart;
    const named = settings.other !== '';
    const clip = sounds['other'];
    const heard = [new Float32Array(CONTROL_FRAMES), new Float32Array(CONTROL_FRAMES)];
    const sides = [[heard[0]], [heard[1]]];
    const levels = new Float64Array(CONTROL_FRAMES);
    const followers = [new LevelFollower(sampleRate), new LevelFollower(sampleRate)];
    const lows = [new StateVariableFilter(sampleRate), new StateVariableFilter(sampleRate)];
    const highs = [new StateVariableFilter(sampleRate), new StateVariableFilter(sampleRate)];
    const take = (input: readonly Float32Array[], at: number, frames: number, position: number) => {
      const from = named ? clip?.channels : input;
      const first = named ? position - (clip?.origin ?? 0) : at;
      for (let side = 0; side < 2; side++) {
        const into = heard[side];
        const channel = from && from.length > 0 ? from[side < from.length ? side : from.length - 1] : undefined;
        for (let i = 0; i < frames; i++) {
          const place = first + i;
          into[i] = channel && place >= 0 && place < channel.length ? channel[place] : 0;
        }
      }
    };
    return {
      output,
      start() {
        output.fill(0);
        for (let side = 0; side < 2; side++) {
          followers[side].reset();
          lows[side].reset();
          highs[side].reset();
        }
      },
      advance(input, at, frames, position, values) {
        take(input, at, frames, position);
        for (let side = 0; side < 2; side++) {
          if (values.lowCut.end > LOWEST) lows[side].process(heard[side], frames, 'high', values.lowCut);
          if (values.highCut.end < HIGHEST) highs[side].process(heard[side], frames, 'low', values.highCut);
        }
        const { attack, release, floor, ceiling } = values;
        for (let side = 0; side < (apart ? 2 : 1); side++) {
          followers[side].process(apart ? sides[side] : heard, levels, frames, attack.end, release.end);
          const place = (gainToDecibels(levels[frames - 1]) - floor.end) / Math.max(1, ceiling.end - floor.end);
          output[side] = place > 0 ? Math.min(1, place) : 0;
        }
        if (!apart) output[1] = output[0];
      },
    };
  },
});
