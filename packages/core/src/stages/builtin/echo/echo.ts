import { echoPicture } from './echoPicture.ts';
import { DIFFUSER_TAIL } from '../../../dsp/diffuser.ts';
import { LFO_SHAPES } from '../../../dsp/lfo.ts';
import { log10 } from '../../../dsp/portableMath.ts';
import { defineLiveStage } from '../../contract.ts';
import { choice, degrees, frequency, level, number, rate, ratio, time } from '../../../params/params.ts';
import { loopInStep } from '../../rise.ts';
import { EchoProcessor, HIGHEST_CUT, LAYOUTS, LONGEST, LOWEST_CUT, SHORTEST } from './echoProcessor.ts';
import { CHANGES } from './echoTime.ts';
import { words } from '../../../model/words.ts';

/** Passes until a repeat has fallen by 60 dB; none ends when nothing is lost. */
const passes = (feedback: number) => (feedback >= 1 ? Infinity : feedback <= 0.001 ? 1 : 1 + 3 / -log10(feedback));

export const echo = defineLiveStage({
  kind: 'echo',
  family: 'time',
  title: 'Delay',
  summary: 'Repeats the sound, each repeat passing through the stages in its feedback loop.',
  keywords: words(
    'delay, repeat, dub, tape, slapback, ping pong, bounce, cave, space, feedback, echo, delay line, tape delay, tape echo, analogue, ping-pong, repeats, cross-feedback, mid/side, tempo sync, dotted, triplet, wow, flutter, ducking, saturation',
  ),
  mixLaw: 'equal-power',
  widens: true,
  takesUpLatency: true,
  firstMix: 0.4,
  params: {
    layout: choice(LAYOUTS, {
      shown: { single: 'one line', 'left/right': 'dual (L/R)', crossed: 'cross-feedback', 'middle/sides': 'mid/side' },
      default: 'crossed',
      doc: 'One delay line for both channels; one for each channel; two that feed each other; or one for mid and one for side.',
    }),
    time: time({
      label: 'delay time',
      default: { note: '1/8d' },
      min: SHORTEST,
      max: LONGEST,
      doc: 'Time until the first repeat, of the left channel or the mid where there are two lines. Longer spreads the repeats out.',
    }),
    secondTime: time({
      label: 'delay time 2',
      default: { note: '1/4' },
      min: SHORTEST,
      max: LONGEST,
      doc: 'Delay time of the right channel or the side; not with one line.',
    }),
    feedback: ratio({
      default: 0.5,
      min: 0,
      max: 1.1,
      doc: 'How much of each repeat is fed back. At 100 % the repeats go on for ever; above, they grow up to a soft ceiling.',
    }),
    lowCut: frequency({
      off: 'min',
      default: 150,
      min: LOWEST_CUT,
      max: 2000,
      doc: 'High-pass in the feedback loop: each repeat loses more of its lows. Higher thins the repeats out as they go.',
    }),
    highCut: frequency({
      off: 'max',
      default: 4500,
      min: 400,
      max: HIGHEST_CUT,
      doc: 'Low-pass in the feedback loop: each repeat loses more of its highs. Lower makes them sink into the distance.',
    }),
    drive: level({
      default: 0,
      min: 0,
      max: 36,
      doc: 'Saturation in the feedback loop: each repeat gets warmer, then rough. Soft sounds stay as they are, and no repeat loses its level by it.',
    }),
    diffusion: ratio({ default: 0, doc: 'Blurs the repeats, from single echoes to a cloud.' }),
    diffusionPlace: choice(['before', 'inside', 'after'], {
      shown: { before: 'input', inside: 'in the loop', after: 'output' },
      label: 'diffusion position',
      default: 'inside',
      doc: 'Whether the sound is diffused once at the input, again with every repeat in the loop, or once at the output.',
    }),
    movement: time({
      label: 'modulation depth',
      default: 0,
      min: 0,
      max: 0.02,
      curve: 'linear',
      doc: 'How far the delay time is modulated, which bends the pitch of the repeats. A little is a chorus, a lot is seasick.',
    }),
    filterMovement: number({
      label: 'filter modulation',
      unit: 'oct',
      default: 0,
      min: 0,
      max: 3,
      doc: 'How far both cuts are modulated, to either side.',
    }),
    filterRate: rate({
      label: 'filter rate',
      default: 0.4,
      min: 0.02,
      max: 12,
      doc: 'How fast the cuts are modulated.',
    }),
    filterShape: choice(LFO_SHAPES, {
      label: 'filter LFO shape',
      shown: { random: 'smooth random' },
      default: 'sine',
      doc: 'Waveform that modulates the cuts: sine is round, triangle straight, square jumps, smooth random wanders.',
    }),
    movementRate: rate({
      label: 'modulation rate',
      default: 0.4,
      min: 0.02,
      max: 12,
      doc: 'How fast the delay time is modulated.',
    }),
    movementShape: choice(LFO_SHAPES, {
      label: 'LFO shape',
      shown: { random: 'smooth random' },
      default: 'sine',
      doc: 'Waveform that modulates the delay time: sine is round, triangle straight, square jumps, smooth random wanders.',
    }),
    movementPhase: degrees({
      label: 'stereo phase',
      default: 90,
      min: 0,
      max: 180,
      doc: 'How far the modulation of the second delay line lags that of the first. More is wider.',
    }),
    drift: number({
      label: 'wow',
      unit: 'ct',
      default: 0,
      min: 0,
      max: 50,
      doc: 'Slow random unsteadiness of the pitch, as of a worn tape machine.',
    }),
    driftRate: rate({
      label: 'wow rate',
      default: 0.6,
      min: 0.1,
      max: 3,
      doc: 'How fast the slow unsteadiness wanders.',
    }),
    flutter: number({ unit: 'ct', default: 0, min: 0, max: 30, doc: 'Fast random unsteadiness of the pitch.' }),
    flutterRate: rate({
      label: 'flutter rate',
      default: 8,
      min: 3,
      max: 15,
      doc: 'How fast the fast unsteadiness shivers.',
    }),
    noise: level({
      label: 'noise level',
      off: 'min',
      default: -96,
      min: -96,
      max: -20,
      doc: 'A bed of noise under the repeats that comes and goes with them.',
    }),
    noiseColour: frequency({
      label: 'noise high cut',
      default: 3000,
      min: 200,
      max: 16000,
      doc: 'Where the noise ends. Lower is a rumble, higher is a hiss.',
    }),
    ducking: level({
      label: 'ducking depth',
      default: 0,
      min: 0,
      max: 40,
      doc: 'How far the repeats are ducked while the input is there: they fill its gaps.',
    }),
    duckingThreshold: level({
      label: 'ducking threshold',
      default: -30,
      min: -60,
      max: 0,
      doc: 'How loud the input has to be for the repeats to be ducked. Lower ducks more often.',
    }),
    recovery: time({
      label: 'ducking release',
      default: 0.25,
      min: 0.02,
      max: 3,
      doc: 'How slowly the repeats come back when the input has gone.',
    }),
    change: choice(CHANGES, {
      label: 'time change',
      default: 'glide',
      doc: 'What is heard when the delay time is changed: the pitch glides as on a tape, the old time crossfades into the new, or it cuts.',
    }),
    glide: time({
      label: 'glide time',
      default: 0.3,
      min: 0.02,
      max: 4,
      doc: 'How long a glide takes. Shorter bends the pitch further.',
    }),
  },
  groups: {
    delay: ['layout', 'time', 'secondTime', 'feedback', 'change', 'glide'],
    'tone in the loop': ['lowCut', 'highCut', 'drive', 'diffusion', 'diffusionPlace'],
    modulation: ['movement', 'movementRate', 'movementShape', 'movementPhase'],
    'modulated cuts': ['filterMovement', 'filterRate', 'filterShape'],
    'wow and flutter': ['drift', 'driftRate', 'flutter', 'flutterRate'],
    noise: ['noise', 'noiseColour'],
    ducking: ['ducking', 'duckingThreshold', 'recovery'],
  },
  picture: ({ values, shiftInside, timing }) => echoPicture(values, shiftInside, timing),
  holds: {
    count: () => ({ min: 1, max: 1 }),
    title: () => 'Loop',
    inputChannels: () => 2,
    placement: () => 'both',
  },
  exempt: [
    {
      trial: 'jump',
      param: 'noise',
      because: 'on the way it passes settings at which it makes highs itself, more than at either end',
    },
    {
      trial: 'jump',
      param: 'drive',
      because: 'on the way it passes settings at which it makes highs itself, more than at either end',
    },
    { trial: 'block length', within: 0.001, because: 'some of its values move in straight lines from block to block' },
  ],
  heldTo: [
    { what: 'The first repeat lies at the set time', limit: ['within', 1, 'sample'], how: 'on an impulse' },
    { what: 'Each further repeat is smaller by the feedback', limit: ['within', 0.1, 'dB'], how: 'on an impulse' },
    {
      what: 'The cuts act once a pass: the n-th repeat shows n times their decibels; without them, at 15 kHz, a pass loses, while nothing moves,',
      limit: ['at most', 0.1, 'dB'],
      how: 'in the spectra of the repeats',
    },
    {
      what: 'Drive leaves soft repeats at the set feedback, and loud ones near it',
      limit: ['within', 1, 'dB'],
      how: 'by the levels of repeats',
    },
    {
      what: 'At 110 % for a minute, without DC offset, it stays',
      limit: ['below', 6, 'dBFS'],
      how: 'by its highest sample',
    },
    { what: 'Mid and side are independent: a mono sound gives nothing at the time of the side', how: 'on an impulse' },
    {
      what: 'A new time makes no discontinuity by crossfade or cut, and bends the pitch by glide',
      how: 'by steps and pitch while the time is changed',
    },
  ],
  mayRise: {
    by: 'its feedback, and 24 LU where repeats grow',
    most: ({ feedback }) => (feedback < 1 ? Math.min(24, loopInStep(feedback)) : 24),
  },
  tailSeconds: ({ layout, time: first, secondTime, feedback, diffusion, diffusionPlace, noise }, branchTails) => {
    const longest = layout === 'single' ? first : Math.max(first, secondTime);
    const each = longest + Math.max(0, ...branchTails) + (diffusionPlace === 'inside' ? diffusion : 0) * DIFFUSER_TAIL;
    return (
      passes(feedback) * each +
      (diffusionPlace === 'inside' ? 0 : diffusion) * DIFFUSER_TAIL +
      (noise > -96 ? 0.8 : 0.1)
    );
  },
  create: (context, values) => new EchoProcessor(context, values),
});
